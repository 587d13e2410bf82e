import type { Fault } from "../../passage/parse.ts";
import { all, child, type Node } from "./tree.ts";

const MOST_TIMES = 16;

/** Measures in the order in which they are played: repeats and their endings written out. Jumps are reported and not followed. */
export function unfolded(measures: readonly Node[], remarks: Fault[]): Node[] {
  const played: Node[] = [];
  let start = 0;
  let written = false;
  for (let i = 0; i < measures.length; i++) {
    const marks = marksOf(measures[i]!);
    if (marks.forward) start = i;
    played.push(measures[i]!);
    if (marks.jump) remarks.push({ place: `bar ${i + 1}`, says: `"${marks.jump}" is not followed` });
    if (marks.backward === 0) continue;
    written = true;
    const block = measures.slice(start, i + 1);
    const endings = block.map((measure) => marksOf(measure).ending);
    const times = Math.max(2, Math.min(MOST_TIMES, marks.backward), ...endings.flatMap((e) => e ?? []));
    // The first time is played already; its ending falls away the other times.
    const firstEnding = endings.findIndex((e) => e !== null);
    const body = firstEnding < 0 ? block : block.slice(0, firstEnding);
    const isLastEnded = (time: number) => {
      const after = measures.slice(i + 1);
      return firstEnding >= 0 && time === times && after.length > 0 && (marksOf(after[0]!).ending?.includes(time) ?? false);
    };
    for (let time = 2; time <= times; time++) {
      played.push(...body);
      if (firstEnding < 0 || isLastEnded(time)) continue;
      played.push(...block.slice(firstEnding).filter((_, k) => endings[firstEnding + k]?.includes(time) ?? false));
      if (played.length > 100_000) return played;
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
          .map(Number)
          .filter((n) => n > 0)
      : null,
    jump: jump ?? null,
  };
}

const JUMPS: readonly string[] = ["dacapo", "dalsegno", "tocoda", "fine"];
