import { LIMITS } from "../../passage/limits.ts";
import type { RemarkTaker } from "../remarks.ts";
import { all, child, type Node } from "./tree.ts";

const MOST_TIMES = 16;

/**
 * Measures in the order in which they are played: repeats and their endings written out, as far as a passage can be long. Jumps
 * are reported and not followed.
 */
export function unfolded(measures: readonly Node[], remarks: RemarkTaker): Node[] {
  const played: Node[] = [];
  const marksAt = measures.map(marksOf);
  let start = 0;
  let written = false;
  for (let i = 0; i < measures.length; i++) {
    const marks = marksAt[i]!;
    if (marks.forward) start = i;
    played.push(measures[i]!);
    if (marks.jump) remarks.push({ place: `bar ${i + 1}`, says: `"${marks.jump}" is not followed` });
    if (marks.backward === 0) continue;
    written = true;
    const block = measures.slice(start, i + 1);
    const endings = marksAt.slice(start, i + 1).map(({ ending }) => ending);
    const times = Math.min(MOST_TIMES, Math.max(2, marks.backward, ...endings.flatMap((e) => e ?? [])));
    // The first time is played already; its ending falls away the other times.
    const firstEnding = endings.findIndex((e) => e !== null);
    const body = firstEnding < 0 ? block : block.slice(0, firstEnding);
    const isLastEnded = (time: number) => {
      return firstEnding >= 0 && time === times && (marksAt[i + 1]?.ending?.includes(time) ?? false);
    };
    for (let time = 2; time <= times; time++) {
      for (const measure of body) played.push(measure);
      if (played.length > LIMITS.bars.most) return played;
      if (firstEnding < 0 || isLastEnded(time)) continue;
      for (const [k, measure] of block.slice(firstEnding).entries()) if (endings[firstEnding + k]?.includes(time)) played.push(measure);
    }
    start = i + 1;
  }
  if (written) remarks.push({ place: "score", says: `repeats are written out: ${measures.length} bars became ${played.length}` });
  return played;
}

function marksOf(measure: Node): { forward: boolean; backward: number; ending: number[] | null; jump: string | null } {
  const lines = all(measure, "barline");
  const repeat = (direction: string) => lines.map((line) => child(line, "repeat")).find((r) => r?.attributes.direction === direction);
  const back = repeat("backward");
  const ending = lines.map((line) => child(line, "ending")).find((e) => e?.attributes.number);
  const sounds = [...all(measure, "sound"), ...all(measure, "direction").flatMap((d) => all(d, "sound"))];
  const jump = sounds.flatMap((sound) => Object.keys(sound.attributes)).find((key) => JUMPS.includes(key));
  return {
    forward: repeat("forward") !== undefined,
    backward: back ? Number(back.attributes.times ?? 2) || 2 : 0,
    ending: ending
      ? ending.attributes
          .number!.split(/[,\s]+/)
          .slice(0, MOST_TIMES)
          .map(Number)
          .filter((n) => n > 0)
      : null,
    jump: jump ?? null,
  };
}

const JUMPS: readonly string[] = ["dacapo", "dalsegno", "tocoda", "fine"];
