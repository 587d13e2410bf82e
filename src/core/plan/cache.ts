import { commonEnds } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import { textOf } from "../caching/text.ts";
import type { HandShape } from "../shapes/types.ts";
import { advance, bestOf, type ChosenShapes, costOf, type Frontier, type Label, NOTHING_TO_PLAY, type Packed, type PlanPath } from "./planner.ts";
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
    const kept = this.kept.slice(0, prefix);
    this.plannedSteps = 0;
    for (let at = prefix; at < count; at++) {
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

/** By how much the costs of two frontiers differ, the same throughout; null when their labels are not equal in equal order. */
function apartBy(a: Frontier, b: Frontier): Packed | null {
  if (a.labels.length !== b.labels.length) return null;
  let apart: Packed | null = null;
  for (let k = 0; k < a.labels.length; k++) {
    const x = a.labels[k]!;
    const y = b.labels[k]!;
    if (x.length !== y.length) return null;
    for (let i = 0; i < x.length; i++) {
      const p = x[i]!;
      const q = y[i]!;
      if (p.memory !== q.memory || p.fretting !== q.fretting || p.picking !== q.picking) return null;
      apart ??= plus(p, q, -1);
      const { first, stray, effort, changes } = plus(p, q, -1);
      if (first !== apart.first || stray !== apart.stray || effort !== apart.effort || changes !== apart.changes) return null;
    }
  }
  return apart;
}

/**
 * Walks back from the best label. A remembered label may lead to a partial plan of an earlier
 * version of the passage; its twin in today's frontier has the same shapes and memory.
 */
function pathThrough(kept: readonly Kept[]): PlanPath | null {
  const last = kept.at(-1)!;
  let label: Label | null = bestOf(last.frontier);
  if (label === null) return null;
  let cost: Packed = label;
  for (const { raise } of kept) if (raise) cost = plus(cost, raise);
  const chosen: ChosenShapes[] = new Array(kept.length);
  for (let k = kept.length - 1; k >= 0; k--) {
    if (label === null) throw new Error("a remembered plan has lost its way");
    chosen[k] = label;
    label = label.before;
    if (label && k > 0 && kept[k]!.from !== kept[k - 1]!.frontier) label = twinOf(kept[k - 1]!.frontier, label);
  }
  return { chosen, cost: costOf(cost) };
}

function twinOf(frontier: Frontier, label: Label): Label | null {
  for (const labels of frontier.labels)
    for (const other of labels) if (other.fretting === label.fretting && other.picking === label.picking && other.memory === label.memory) return other;
  return null;
}

const listIds = new WeakMap<readonly HandShape[], number>();
let lists = 0;

function idOf(shapes: readonly HandShape[]): number {
  return knownIn(listIds, shapes, () => ++lists);
}

const knownKeys = new WeakMap<ProblemStep, string>();

/** Everything of a step, so that all that its frontier depends on is in it besides the one before. Equal shapes have equal lists; settings are the same for all. */
function keyOf(step: ProblemStep): string {
  return knownIn(knownKeys, step, makeKey);
}

function makeKey({ settings: _, fretting, picking, ...step }: ProblemStep): string {
  return textOf({ ...step, fretting: idOf(fretting), picking: idOf(picking) });
}
