import { TICKS_PER_WHOLE, type Ticks } from "../../music/ticks.ts";
import type { Sign } from "./align.ts";

/** A duration written over or under a stave, at a column of its bodies. */
export interface Duration {
  column: number;
  ticks: Ticks;
}

const LETTERS: Readonly<Record<string, number>> = { w: 1, h: 2, q: 4, e: 8, s: 16, t: 32 };

/** Durations by letters; what is none is left out. */
export function lettersOf(signs: readonly Sign[]): Duration[] {
  return signs.flatMap(({ column, text }) => {
    const match = /^([whqest])(\.?)(3?)$/i.exec(text);
    if (!match) return [];
    const [, letter, dot, triplet] = match;
    const plain = TICKS_PER_WHOLE / LETTERS[letter!.toLowerCase()]!;
    return [{ column, ticks: plain * (dot ? 1.5 : 1) * (triplet ? 2 / 3 : 1) }];
  });
}

/** Durations by stems in one or more lines, each stem as short as the shortest line that joins it. */
export function stemsOf(lines: readonly string[], startColumn: number): Duration[] {
  const found = new Map<number, Ticks>();
  for (const line of lines)
    for (const { index, 0: group } of line.matchAll(/\S+/g)) {
      const between = group.split("|");
      const isTriplet = group.includes("3");
      let column = index - startColumn;
      for (const [i, right] of between.slice(1).entries()) {
        const left = between[i]!;
        column += left.length + (i > 0 ? 1 : 0);
        const beam = Math.max(beamIn(left, left.length - 1, -1), beamIn(right, right.startsWith(".") ? 1 : 0, 1));
        const ticks = (TICKS_PER_WHOLE / beam) * (right.startsWith(".") ? 1.5 : 1) * (isTriplet ? 2 / 3 : 1);
        found.set(column, Math.min(ticks, found.get(column) ?? ticks));
      }
    }
  return [...found].map(([column, ticks]) => ({ column, ticks })).sort((a, b) => a.column - b.column);
}

/** What a join next to a stem makes of it: 4, 8 or 16 of a whole. */
function beamIn(between: string, from: number, way: 1 | -1): number {
  let at = from;
  while (between[at] === "3") at += way;
  const sign = between[at];
  return sign === "=" ? 16 : sign === "_" || sign === "-" ? 8 : 4;
}

/**
 * Moments of a bar's notes out of the durations over them: each duration begins where the one before ends, one that stands over no
 * note is a rest. Null when a note has none, or when they do not fit the bar.
 */
export function placesFromDurations(durations: readonly Duration[], columns: readonly number[], length: Ticks): { ticks: Ticks[]; lengths: Ticks[] } | null {
  const ticks: Ticks[] = [];
  const lengths: Ticks[] = [];
  let now = 0;
  let next = 0;
  for (const { column, ticks: lasts } of durations) {
    const wanted = columns[next];
    if (wanted !== undefined && Math.abs(wanted - column) <= 1) {
      ticks.push(now);
      lengths.push(lasts);
      next++;
    } else if (wanted !== undefined && wanted < column) return null;
    now += lasts;
  }
  const fits = next === columns.length && now <= length && ticks.every(Number.isInteger) && lengths.every(Number.isInteger);
  return fits ? { ticks, lengths } : null;
}
