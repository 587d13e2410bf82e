import { LEAST_ANSWER_DB, LEAST_STRAY_DB } from "../acoustics/constants.ts";
import type { InstrumentKind } from "../music/instruments.ts";
import type { Cause, Excitation } from "./types.ts";

/* What has set a string going: how loud it still is, what is heard of it, and which of several goes on to matter. */

/** Most excitations kept alive per string: three bits of memory in the planner. */
const MOST_ALIVE = 7;

/** Level of an excitation in model dB at a moment. */
export function levelAt(excitation: Excitation, ms: number): number {
  return excitation.db - (excitation.slope * (ms - excitation.ms)) / 1000;
}

export function sameExcitation(a: Excitation, b: Excitation): boolean {
  return a === b || (a.ms === b.ms && a.db === b.db && a.slope === b.slope && a.cause === b.cause && a.lively === b.lively);
}

export const SHAKES: ReadonlySet<Cause> = new Set(["jolt", "sympathy", "bend"]);

/** Causes that need the strings' neighbours: what they set going fuses with what is meant to sound. */
const ANSWERS: ReadonlySet<Cause> = new Set(["jolt", "sympathy"]);

/** How far over the threshold an excitation must be, in dB, to be heard as a stray at a moment. */
export function leastHeardDb({ cause }: Excitation, isMeant: boolean, kind: InstrumentKind): number {
  return ANSWERS.has(cause) && isMeant ? LEAST_ANSWER_DB[kind] : LEAST_STRAY_DB;
}

/** Never added to. */
export const NO_EXCITATIONS: Excitation[] = [];
/** A list with one more: most have none, one or two, and those are kept as small as they are. */
export function withOne<T>(list: T[], item: T): T[] {
  if (list.length === 0) return [item];
  if (list.length === 1) return [list[0]!, item];
  list.push(item);
  return list;
}

/** Shoves, jolts and answers of one moment move the untouched string together: their powers add. They go by the name of the loudest. */
export function together(fresh: readonly Excitation[]): readonly Excitation[] {
  if (fresh.length < 2) return fresh;
  let loudest: Excitation | null = null;
  let shakes = 0;
  for (const e of fresh) {
    if (!SHAKES.has(e.cause)) continue;
    shakes++;
    if (loudest === null || e.db > loudest.db) loudest = e;
  }
  if (loudest === null || shakes < 2) return fresh;
  let power = 0;
  for (const e of fresh) if (SHAKES.has(e.cause)) power += 10 ** (e.db / 10);
  const { string, ms, slope, cause, lively } = loudest;
  const all = { string, ms, db: 10 * Math.log10(power), slope, cause, lively };
  if (shakes === fresh.length) return [all];
  return [...fresh.filter((e) => !SHAKES.has(e.cause)), all];
}

/** Newest first; an excitation that a newer one drowns, now and later, can never be the loudest again. An answer, which is heard less easily, drowns answers alone. */
export function stillAlive(fresh: readonly Excitation[], before: readonly Excitation[], ms: number, threshold: number): Excitation[] {
  let sorted: Excitation[] = NO_EXCITATIONS;
  for (const e of fresh) if (levelAt(e, ms) > threshold) sorted = withOne(sorted, e);
  for (const e of before) if (levelAt(e, ms) > threshold) sorted = withOne(sorted, e);
  if (sorted.length < 2) return sorted;
  putNewestFirst(sorted, ms);
  let kept = NO_EXCITATIONS;
  for (const e of sorted) {
    const drowned = kept.some(
      (newer) => levelAt(newer, ms) >= levelAt(e, ms) && newer.slope <= e.slope + 1e-9 && (ANSWERS.has(e.cause) || !ANSWERS.has(newer.cause)),
    );
    if (!drowned && kept.length < MOST_ALIVE) kept = withOne(kept, e);
  }
  return kept;
}

/** The louder first of those begun together. By hand: these lists are short, and there is one for every string of every step. */
function putNewestFirst(list: Excitation[], ms: number): void {
  for (let k = 1; k < list.length; k++) {
    const e = list[k]!;
    let at = k;
    for (; at > 0; at--) {
      const other = list[at - 1]!;
      if ((e.ms - other.ms || levelAt(e, ms) - levelAt(other, ms)) <= 0) break;
      list[at] = other;
    }
    list[at] = e;
  }
}
