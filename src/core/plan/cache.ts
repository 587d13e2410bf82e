import { commonEnds } from "../caching/common-ends.ts";
import { sameItems } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import { textOf } from "../caching/text.ts";
import type { HandShape } from "../shapes/types.ts";
import { BEFORE, FRETTING, MEMORY, PICKING, ROW } from "./partial-plans.ts";
import { advance, bestOf, type ChosenShapes, chosenAt, costOf, type Frontier, NOTHING_TO_PLAY, type Packed, type PlanPath, packedAt } from "./planner.ts";
import type { Problem, ProblemStep } from "./problem.ts";

/**
 * Remembers the frontiers of the last plan, so that after an edit only the steps around it are
 * planned again: from the first step that changed until the frontiers coincide with the old ones.
 * The result is the one `planOf` gives, to the byte; a differential test holds it to that.
 */
export class PlanCache {
  private steps: readonly ProblemStep[] = [];
  private kept: Kept[] = [];
  /** Steps worked out for the last plan; the rest was remembered. */
  plannedSteps = 0;

  plan(problem: Problem): PlanPath | null {
    const { steps } = problem;
    const count = steps.length;
    if (count === 0) return NOTHING_TO_PLAY;
    const { prefix, suffix } = commonEnds(this.steps, steps, (a, b) => a === b || keyOf(a) === keyOf(b));
    const shift = this.steps.length - count;
    // What is worth keeping after a step depends on the next one too.
    const isSame = prefix === count && shift === 0;
    const kept = isSame ? this.kept : this.kept.slice(0, Math.max(0, prefix - 1));
    this.plannedSteps = 0;
    for (let at = kept.length; at < count; at++) {
      const before = kept[at - 1];
      const frontier = advance(problem, at, before?.frontier ?? null);
      kept.push({ frontier, from: before?.frontier ?? null, raise: null });
      this.plannedSteps++;
      const old = this.kept[at + shift];
      // What follows is the same as before: once the frontiers coincide it comes out the same too.
      const apart = at >= count - suffix - 1 && old ? apartBy(frontier, old.frontier) : null;
      if (!old || !apart) continue;
      const later = this.kept.slice(at + shift + 1);
      if (later[0]) later[0] = { ...later[0], raise: plus(later[0].raise ?? ZERO, apart) };
      for (const same of later) kept.push(same);
      break;
    }
    this.steps = steps;
    this.kept = kept;
    return pathThrough(kept);
  }
}

/** A remembered frontier and the one it was worked out from. */
interface Kept {
  frontier: Frontier;
  from: Frontier | null;
  /** What has to be added to the costs from here on, because those of `from` are not the ones of today's frontier before this. */
  raise: Packed | null;
}

const ZERO: Packed = { first: 0, stray: 0, effort: 0, changes: 0 };

function plus(a: Packed, b: Packed, times = 1): Packed {
  return {
    first: a.first + times * b.first,
    stray: a.stray + times * b.stray,
    effort: a.effort + times * b.effort,
    changes: a.changes + times * b.changes,
  };
}

/** By how much the costs of two frontiers differ, the same throughout; null when their partial plans are not equal in equal order, or do not go on alike. */
function apartBy(a: Frontier, b: Frontier): Packed | null {
  // The same moves lead on from the same postures: shapes by their numbers alone may be others in a step that was edited.
  if (a.onward?.fretting !== b.onward?.fretting || a.onward?.picking !== b.onward?.picking) return null;
  if (!sameItems(a.fretting, b.fretting) || !sameItems(a.picking, b.picking) || !sameItems(a.ends, b.ends)) return null;
  if (a.rows.length === 0) return null;
  const apart = plus(packedAt(a.rows, 0), packedAt(b.rows, 0), -1);
  for (let row = 0; row < a.rows.length; row += ROW) {
    for (let k = MEMORY; k < BEFORE; k++) if (a.rows[row + k] !== b.rows[row + k]) return null;
    const { first, stray, effort, changes } = plus(packedAt(a.rows, row), packedAt(b.rows, row), -1);
    if (first !== apart.first || stray !== apart.stray || effort !== apart.effort || changes !== apart.changes) return null;
  }
  return apart;
}

/**
 * Walks back from the best partial plan. A remembered one may go on from one of an earlier version of the passage; its twin in
 * today's frontier has the same shapes and memory.
 */
function pathThrough(kept: readonly Kept[]): PlanPath | null {
  const last = kept.at(-1)!.frontier;
  let row = bestOf(last);
  if (row === null) return null;
  let cost = packedAt(last.rows, row);
  for (const { raise } of kept) if (raise) cost = plus(cost, raise);
  const chosen: ChosenShapes[] = new Array(kept.length);
  for (let k = kept.length - 1; k >= 0; k--) {
    const { frontier, from } = kept[k]!;
    chosen[k] = chosenAt(frontier.rows, row);
    row = frontier.rows[row + BEFORE]!;
    if (k > 0 && from !== kept[k - 1]!.frontier) row = twinOf(kept[k - 1]!.frontier, from!.rows, row);
  }
  return { chosen, cost: costOf(cost) };
}

function twinOf({ rows }: Frontier, there: readonly number[], row: number): number {
  for (let twin = 0; twin < rows.length; twin += ROW)
    if (rows[twin + FRETTING] === there[row + FRETTING] && rows[twin + PICKING] === there[row + PICKING] && rows[twin + MEMORY] === there[row + MEMORY])
      return twin;
  throw new Error("a remembered plan has lost its way");
}

const listIds = new WeakMap<readonly HandShape[], number>();
let lists = 0;

function idOf(shapes: readonly HandShape[]): number {
  return knownIn(listIds, shapes, () => ++lists);
}

const knownKeys = new WeakMap<ProblemStep, string>();

/** Everything of a step, so that all that its frontier depends on is in it besides the one before. Equal shapes have equal lists; settings are the same for all, and no plan depends on the clock. */
function keyOf(step: ProblemStep): string {
  return knownIn(knownKeys, step, makeKey);
}

function makeKey({ settings: _, clock: __, fretting, picking, ...step }: ProblemStep): string {
  return textOf({ ...step, fretting: idOf(fretting), picking: idOf(picking) });
}
