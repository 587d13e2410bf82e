import { trimmed } from "../caching/trimmed.ts";
import { type MoveTable, moveTable } from "./move-tables.ts";
import { BEFORE, CHANGES, EFFORT, FIRST, FRETTING, MEMORY, memoryWithin, PartialPlans, PICKING, ROW, STRAY } from "./partial-plans.ts";
import { groupsOf, type PostureGroups } from "./posture-groups.ts";
import type { Problem, ProblemStep } from "./problem.ts";
import { Pairs, Stakes } from "./stakes.ts";

/** Integer costs, compared level by level in this order. */
export interface Cost {
  harm: number;
  rushed: number;
  stray: number;
  /** Thousandths of a tenth. */
  effort: number;
  changes: number;
}

export interface ChosenShapes {
  fretting: number;
  picking: number;
}

export interface PlanPath {
  chosen: readonly ChosenShapes[];
  cost: Cost;
}

const RUSHED_ROOM = 2 ** 26;

interface Postures {
  fretting: PostureGroups;
  picking: PostureGroups;
}

/** The moves of both hands from one step to the next. */
interface Moves {
  then: Postures;
  fretting: MoveTable;
  picking: MoveTable;
}

/** The partial plans that are worth going on from after a step. */
export interface Frontier {
  /** Into the step after it; null after the last. */
  onward: Moves | null;
  /** The postures they are in, of either hand, by their places in the lists of the step. */
  fretting: readonly number[];
  picking: readonly number[];
  /** See `PartialPlans`: a set for each pair of these postures, those of one fretting posture one after the other. */
  rows: readonly number[];
  ends: readonly number[];
}

/**
 * The cheapest plan for both hands together: dynamic programming over the postures of both hands,
 * the two hands' moves being separate, with a set of undominated partial plans per pair of postures.
 * Exact for the problem as given. Ties go to the earlier shape. Null when no plan exists at all.
 */
export function planOf(problem: Problem): PlanPath | null {
  if (problem.steps.length === 0) return NOTHING_TO_PLAY;
  const frontiers: Frontier[] = [];
  for (let at = 0; at < problem.steps.length; at++) frontiers.push(advance(problem, at, frontiers[at - 1] ?? null));
  const last = frontiers.at(-1)!;
  const best = bestOf(last);
  if (best === null) return null;
  const chosen: ChosenShapes[] = new Array(frontiers.length);
  for (let at = frontiers.length - 1, row = best; at >= 0; at--) {
    const { rows } = frontiers[at]!;
    chosen[at] = chosenAt(rows, row);
    row = rows[row + BEFORE]!;
  }
  return { chosen, cost: costOf(packedAt(last.rows, best)) };
}

export const NOTHING_TO_PLAY: PlanPath = { chosen: [], cost: { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 } };

/** The frontier after a step from the one before it (null before the first). It depends on the step itself and the next one besides. */
export function advance(problem: Problem, at: number, before: Frontier | null): Frontier {
  const step = problem.steps[at]!;
  const now = before?.onward?.then ?? posturesOf(step);
  if (before === null) setOut(now);
  else arrive(before);
  stay(now, step, problem.strings);
  const next = problem.steps[at + 1];
  return next ? leave(STAYED, movesInto(next, now)) : allOf(STAYED, now);
}

function movesInto(next: ProblemStep, now: Postures): Moves {
  const then = posturesOf(next);
  return {
    then,
    fretting: moveTable(now.fretting, then.fretting, "fretting", next),
    picking: moveTable(now.picking, then.picking, "picking", next),
  };
}

function posturesOf({ fretting, picking }: ProblemStep): Postures {
  return { fretting: groupsOf(fretting), picking: groupsOf(picking) };
}

/** The row of a frontier's cheapest plan, the first of equals; null where there is none. */
export function bestOf({ rows }: Frontier): number | null {
  return rows.length === 0 ? null : cheapest(rows, rows.length);
}

function cheapest(rows: readonly number[], end: number): number {
  let best = 0;
  for (let row = ROW; row < end; row += ROW) if (comparePlans(rows, row, best) < 0) best = row;
  return best;
}

function comparePlans(rows: readonly number[], a: number, b: number): number {
  for (let k = FIRST; k <= CHANGES; k++) if (rows[a + k] !== rows[b + k]) return rows[a + k]! - rows[b + k]!;
  return 0;
}

export interface Packed {
  /** harm · 2^26 + rushed ms. */
  first: number;
  stray: number;
  effort: number;
  changes: number;
}

export function packedAt(rows: readonly number[], row: number): Packed {
  return { first: rows[row + FIRST]!, stray: rows[row + STRAY]!, effort: rows[row + EFFORT]!, changes: rows[row + CHANGES]! };
}

export function chosenAt(rows: readonly number[], row: number): ChosenShapes {
  return { fretting: rows[row + FRETTING]!, picking: rows[row + PICKING]! };
}

/** A partial plan's cost, level by level. */
export function costOf({ first, stray, effort, changes }: Packed): Cost {
  return {
    harm: Math.floor(first / RUSHED_ROOM),
    rushed: first % RUSHED_ROOM,
    stray,
    effort,
    changes,
  };
}

/** Plans on their way into a step, with the moves of the fretting hand paid for, then with those of both; and once in it. */
const HALFWAY = new PartialPlans();
const ARRIVED = new PartialPlans();
const STAYED = new PartialPlans();

/** Before the first step the hands are wherever they like. */
function setOut(now: Postures): void {
  ARRIVED.clear();
  for (let k = now.fretting.postures.length * now.picking.postures.length; k > 0; k--) {
    ARRIVED.put(0, 0, 0, 0, 0, 0, 0, -1);
    ARRIVED.endSet();
  }
}

/** First the fretting hand moves, then the picking hand: F·P·(F+P) instead of (F·P)². */
function arrive(from: Frontier): void {
  const { fretting, picking } = from.onward!;
  const columns = from.picking.length;
  HALFWAY.clear();
  for (let f = 0; f < fretting.to; f++) for (let k = 0; k < columns; k++) moveInto(HALFWAY, from, true, fretting, from.fretting, f, k, columns);
  ARRIVED.clear();
  for (let f = 0; f < fretting.to; f++) for (let p = 0; p < picking.to; p++) moveInto(ARRIVED, HALFWAY, false, picking, from.picking, p, f * columns, 1);
}

/**
 * One hand's moves into one posture while the other stays, as a set of its own: from each of the postures that it may leave,
 * whose plans are the sets at an offset and every so many after it.
 */
function moveInto(
  into: PartialPlans,
  { rows, ends }: Pick<Frontier, "rows" | "ends">,
  isFromStep: boolean,
  { to, costs }: MoveTable,
  leaving: readonly number[],
  posture: number,
  offset: number,
  stride: number,
): void {
  for (let k = 0, set = offset; k < leaving.length; k++, set += stride) {
    const end = ends[set]!;
    const move = 3 * (leaving[k]! * to + posture);
    const rushedMs = costs[move]!;
    if (rushedMs < 0) continue;
    const moreEffort = costs[move + 1]!;
    const moreChanges = costs[move + 2]!;
    for (let row = set === 0 ? 0 : ends[set - 1]!; row < end; row += ROW) {
      const first = rows[row]! + rushedMs;
      const stray = rows[row + STRAY]!;
      const effort = rows[row + EFFORT]! + moreEffort;
      const changes = rows[row + CHANGES]! + moreChanges;
      const memory = rows[row + MEMORY]!;
      if (into.betters(first, stray, effort, changes, memory)) continue;
      into.put(first, stray, effort, changes, memory, 0, 0, isFromStep ? row : rows[row + BEFORE]!);
    }
  }
  into.endSet();
}

/** Every arrival in every pair of shapes of its postures, without what another betters. */
function stay({ fretting, picking }: Postures, step: ProblemStep, strings: number): void {
  const stakes = new Stakes(step, strings);
  const { rows, ends } = ARRIVED;
  STAYED.clear();
  for (let f = 0, set = 0, row = 0; f < fretting.shapes.length; f++)
    for (let p = 0; p < picking.shapes.length; p++, set++) {
      const end = ends[set]!;
      if (row < end) PAIRS.take(step, fretting.shapes[f]!, picking.shapes[p]!);
      for (; row < end; row += ROW)
        for (let k = 0; k < PAIRS.count; k++) {
          const pair = PAIRS.at(k);
          stakes.leave(rows[row + MEMORY]!, pair.silenced);
          const first = rows[row]! + pair.harm * RUSHED_ROOM;
          const stray = rows[row + STRAY]! + stakes.stray;
          const effort = rows[row + EFFORT]! + pair.effort + stakes.faint;
          const changes = rows[row + CHANGES]!;
          if (STAYED.betters(first, stray, effort, changes, stakes.memory)) continue;
          STAYED.put(first, stray, effort, changes, stakes.memory, pair.fretting, pair.picking, rows[row + BEFORE]!);
        }
      STAYED.endSet();
    }
}

const PAIRS = new Pairs();

function allOf({ rows, ends }: PartialPlans, { fretting, picking }: Postures): Frontier {
  const all = (list: readonly unknown[]) => [...list.keys()];
  return { onward: null, fretting: all(fretting.postures), picking: all(picking.postures), rows: rows.slice(0, ends.at(-1)), ends: [...ends] };
}

/** A partial plan in a step, and its postures. */
interface Placed {
  row: number;
  fretting: number;
  picking: number;
}

/**
 * Leaves behind every plan that another can catch up with: wherever it may go, the other costs less there, by the dearest way
 * it can have from its postures. So no more than two or three are left of thirty.
 */
function leave({ rows, ends }: PartialPlans, onward: Moves): Frontier {
  const left = notCaughtUpWith(rows, ends, onward);
  const fretting: number[] = [];
  const picking: number[] = [];
  for (const plan of left) {
    if (!fretting.includes(plan.fretting)) fretting.push(plan.fretting);
    if (!picking.includes(plan.picking)) picking.push(plan.picking);
  }
  if (picking.length > 1) picking.sort((a, b) => a - b);
  const kept: number[] = new Array(ROW * left.length);
  const keptEnds: number[] = new Array(fretting.length * picking.length);
  let k = 0;
  let set = 0;
  for (const f of fretting)
    for (const p of picking) {
      for (; k < left.length && left[k]!.fretting === f && left[k]!.picking === p; k++)
        for (let n = FIRST; n < ROW; n++) kept[k * ROW + n] = rows[left[k]!.row + n]!;
      keptEnds[set++] = k * ROW;
    }
  return { onward, fretting: trimmed(fretting), picking: trimmed(picking), rows: kept, ends: keptEnds };
}

/** First those are left that the cheapest does not catch up with, which are few; then those that none of these does. In their order. */
function notCaughtUpWith(rows: readonly number[], ends: readonly number[], onward: Moves): readonly Placed[] {
  const end = ends.at(-1)!;
  if (end === 0) return NONE;
  const best = leaderOf(rows, placedAt(cheapest(rows, end), ends, onward.picking.from), onward);
  const left: Placed[] = [];
  for (let f = 0, set = 0, row = 0; f < onward.fretting.from; f++)
    for (let p = 0; p < onward.picking.from; p++, set++)
      for (; row < ends[set]!; row += ROW) if (row === best.row || !catchesUp(best, rows, row, f, p)) left.push({ row, fretting: f, picking: p });
  if (left.length < 2) return left;
  const leaders = left.map((plan) => leaderOf(rows, plan, onward));
  return left.filter(({ row, fretting, picking }) => !leaders.some((other) => other.row !== row && catchesUp(other, rows, row, fretting, picking)));
}

const NONE: readonly Placed[] = [];

/** A row with the postures of the set that it is in. */
function placedAt(row: number, ends: readonly number[], columns: number): Placed {
  const set = ends.findIndex((end) => row < end);
  return { row, fretting: Math.floor(set / columns), picking: set % columns };
}

/** A plan that may catch up with others: what it costs, and how much more any move can cost it than one from another posture of either hand. */
interface Leader {
  row: number;
  first: number;
  stray: number;
  effort: number;
  changes: number;
  memory: number;
  fretting: readonly number[];
  picking: readonly number[];
}

function leaderOf(rows: readonly number[], { row, fretting, picking }: Placed, onward: Moves): Leader {
  return {
    row,
    first: rows[row]!,
    stray: rows[row + STRAY]!,
    effort: rows[row + EFFORT]!,
    changes: rows[row + CHANGES]!,
    memory: rows[row + MEMORY]!,
    fretting: onward.fretting.behindFrom(fretting),
    picking: onward.picking.behindFrom(picking),
  };
}

/** Whether a plan costs less than the one in a row, and whose postures are given, wherever that may go from there; whichever it says of one that leads nowhere. */
function catchesUp(plan: Leader, rows: readonly number[], row: number, frettingPosture: number, pickingPosture: number): boolean {
  if (!memoryWithin(plan.memory, rows[row + MEMORY]!)) return false;
  const { fretting, picking } = plan;
  const f = 3 * frettingPosture;
  const p = 3 * pickingPosture;
  const order =
    rows[row]! - plan.first - fretting[f]! - picking[p]! ||
    rows[row + STRAY]! - plan.stray ||
    rows[row + EFFORT]! - plan.effort - fretting[f + 1]! - picking[p + 1]! ||
    rows[row + CHANGES]! - plan.changes - fretting[f + 2]! - picking[p + 2]!;
  return order > 0;
}
