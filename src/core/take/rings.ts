import type { LoudnessModel } from "../acoustics/loudness-model.ts";
import { levelAt } from "../hazards/excitations.ts";
import type { PlannedStages } from "../verdict/verdict.ts";
import type { Levels } from "./levels.ts";
import type { Rest } from "./voices.ts";

/** A rest of a string in the take: its times are of the take, in ms. */
export type HeardRest = Rest & { from: number; to: number };

/** Two strokes that follow each other, as they were meant and as they were heard; the last one is followed by the end. */
export interface Between {
  ms: number;
  begins: number;
  ends: number;
}

/** How a string that is to be still is between two strokes. Levels are in dB against a full pluck. */
export interface Gap {
  begins: number;
  ends: number;
  /** Null where it cannot be told. */
  db: number | null;
  /** How loud it would be if nothing touched it. */
  expected: number;
  /** It sounded until then, and was just stilled. */
  isStilled: boolean;
}

/** After a string was stilled it is looked at so much later. */
const SETTLE_MS = 60;
const LOOK_MS = 30;
const MOST_LOOKS = 8;
/** A ring is followed piece by piece. */
const PIECE_MS = 250;
/** A string rings as loud as it is in most looks at it. */
const LASTING = 0.25;
/** A string may ring louder than the model says, by so much. */
const MORE_DB = 4;
/** What would be fainter than that, if nothing touched it, is not asked about. */
export const ASKED_DB = -15;

/** How loud strings were that were to be still: by rest, stretch by stretch. Only what could ring is asked about. */
export function ringsOf(levels: Levels, planned: PlannedStages, model: LoudnessModel, rests: readonly HeardRest[], between: readonly Between[]): Gap[][] {
  const found = rests.map((): Gap[] => []);
  for (const { ms, begins, ends } of between) {
    if (ends - begins < 60) continue;
    const window = levels.fit(ends - begins);
    // Where nothing begins inside the window, nor is what was just stilled still dying.
    const first = begins + 0.45 * window + 15;
    const last = Math.max(first, ends - 0.35 * window);
    if (first > ends - 10) continue;
    const pieces = Math.max(1, Math.round((last - first) / PIECE_MS));
    for (let k = 0; k < pieces; k++) {
      const at = (share: number) => first + ((k + share) / pieces) * (last - first);
      const [fromMs, toMs] = [k === 0 ? begins : at(0), k === pieces - 1 ? ends : at(1)];
      lookAt(levels, planned, model, rests, { ms: ms + fromMs - begins, fromMs, toMs, firstLook: at(0), lastLook: at(1) }, found);
    }
  }
  return found;
}

/** A piece of the take in which nothing begins: from its moment in the plan; where it is looked at. */
interface Piece {
  ms: number;
  fromMs: number;
  toMs: number;
  firstLook: number;
  lastLook: number;
}

function lookAt(
  levels: Levels,
  planned: PlannedStages,
  model: LoudnessModel,
  rests: readonly HeardRest[],
  { ms, fromMs, toMs, firstLook, lastLook }: Piece,
  found: Gap[][],
): void {
  const inPlan = (at: number) => ms + at - fromMs;
  const could = rests.flatMap((rest, i) => {
    const isFirst = rest.from > fromMs - 20;
    const [from, to] = [Math.max(fromMs, rest.from) + (isFirst ? SETTLE_MS : 0), Math.min(toMs, rest.to)];
    if (from >= to) return [];
    const middle = (Math.max(from, firstLook) + Math.min(to, lastLook)) / 2;
    const expected = expectedDb(planned, model, rest.string, inPlan(middle));
    return expected > ASKED_DB ? [{ rest, i, isFirst, from, to, middle, expected }] : [];
  });
  if (could.length === 0) return;
  const asked = could.flatMap(({ rest: { string, frets } }) => frets.map((fret) => ({ string, fret, partial: 1 })));
  const looks = Math.min(MOST_LOOKS, 1 + Math.floor((lastLook - firstLook) / LOOK_MS));
  const moments = Array.from({ length: looks }, (_, k) =>
    levels.at(looks === 1 ? (firstLook + lastLook) / 2 : firstLook + (k / (looks - 1)) * (lastLook - firstLook), asked),
  );
  for (const { rest, i, isFirst, from, to, middle, expected } of could) {
    const own = moments.filter(({ ms: at }) => at >= from && at <= to);
    if (own.length === 0) continue;
    const told = own.flatMap(({ db }) => db[rest.string - 1] ?? []);
    const before = isFirst ? null : (found[i]!.at(-1)?.db ?? null);
    const most = expectedDb(planned, model, rest.string, inPlan(middle), before === null ? undefined : { fromMs: ms, db: before }) + MORE_DB;
    // What rings goes on; what was stilled is soon gone, in a room as well.
    const db = told.length > own.length / 2 ? Math.min(most, share(told, LASTING)) : null;
    found[i]!.push({ begins: Math.max(fromMs, rest.from), ends: to, db, expected, isStilled: isFirst && rest.isStilled });
  }
}

/**
 * How loud a string is at a moment of the plan if nothing touches it, in dB against a full pluck; below what anybody hears if nothing
 * set it going. What was there before a stretch is no louder in it than it was found to be until then.
 */
function expectedDb(
  { timeline: { steps }, hazards }: PlannedStages,
  model: LoudnessModel,
  string: number,
  ms: number,
  before?: { fromMs: number; db: number },
): number {
  const at = steps.findLastIndex((step) => step.ms <= ms);
  const full = model.struck(string, 0);
  return Math.max(
    -99,
    ...hazards[Math.max(0, at)]!.strings[string - 1]!.alive.map((excitation) => {
      const level = levelAt(excitation, ms) - full;
      return before && excitation.ms < before.fromMs - 1 ? Math.min(level, before.db) : level;
    }),
  );
}

/** What such a share of some levels is under. */
function share(levels: readonly number[], of: number): number {
  return [...levels].sort((a, b) => a - b)[Math.floor(of * (levels.length - 1) + 0.5)] ?? -60;
}
