import type { Shape } from "../shapes/types.ts";
import { advance, bestOf, type Chosen, type Cost, type Frontier, type Label, NOTHING_TO_PLAY, type PlanPath } from "./planner.ts";
import { harmOf, moveCost, type Problem, type ProblemStep, silenced, stateAfter, stateHandedOn, stayEffort } from "./problem.ts";

/**
 * Remembers the frontiers of the last plan, so that after an edit only the steps around it are
 * planned again: from the first step that changed until the frontiers coincide with the old ones.
 * The result is the one `planOf` gives, to the byte; a differential test holds it to that.
 */
export class PlanMemory {
  private keys: string[] = [];
  private frontiers: Frontier[] = [];
  /** Steps worked out for the last plan; the rest was remembered. */
  plannedSteps = 0;

  plan(problem: Problem): PlanPath | null {
    const count = problem.steps.length;
    if (count === 0) return NOTHING_TO_PLAY;
    const keys = problem.steps.map((step) => keyOf(step, problem.strings));
    const { prefix, suffix } = commonEnds(this.keys, keys);
    const shift = this.keys.length - count;
    const frontiers = this.frontiers.slice(0, prefix);
    this.plannedSteps = 0;
    let at = prefix;
    while (at < count) {
      const frontier = advance(problem, at, frontiers[at - 1] ?? null);
      frontiers.push(frontier);
      this.plannedSteps++;
      const old = this.frontiers[at + shift];
      // What follows is the same as before: once the frontiers coincide it comes out the same too.
      if (at >= count - suffix - 1 && old && coincide(frontier, old)) {
        frontiers.push(...this.frontiers.slice(at + shift + 1));
        break;
      }
      at++;
    }
    this.keys = keys;
    this.frontiers = frontiers;
    return pathThrough(problem, frontiers);
  }
}

function commonEnds(old: readonly string[], now: readonly string[]): { prefix: number; suffix: number } {
  const most = Math.min(old.length, now.length);
  let prefix = 0;
  while (prefix < most && old[prefix] === now[prefix]) prefix++;
  let suffix = 0;
  while (suffix < most - prefix && old[old.length - 1 - suffix] === now[now.length - 1 - suffix]) suffix++;
  return { prefix, suffix };
}

/** Equal labels in equal order, whose costs differ by the same amount throughout. */
function coincide(a: Frontier, b: Frontier): boolean {
  if (a.labels.length !== b.labels.length) return false;
  let base: { first: number; stray: number; last: number } | null = null;
  for (let k = 0; k < a.labels.length; k++) {
    const x = a.labels[k]!;
    const y = b.labels[k]!;
    if (x.length !== y.length) return false;
    for (let i = 0; i < x.length; i++) {
      const p = x[i]!;
      const q = y[i]!;
      if (p.memory !== q.memory || p.fretting !== q.fretting || p.picking !== q.picking) return false;
      base ??= { first: p.first - q.first, stray: p.stray - q.stray, last: p.last - q.last };
      if (p.first - q.first !== base.first || p.stray - q.stray !== base.stray || p.last - q.last !== base.last) return false;
    }
  }
  return true;
}

/**
 * Walks back from the best label. A remembered label may lead to a partial plan of an earlier
 * version of the passage; its twin in today's frontier has the same shapes and memory.
 */
function pathThrough(problem: Problem, frontiers: readonly Frontier[]): PlanPath | null {
  let label: Label | null = bestOf(frontiers.at(-1)!);
  if (label === null) return null;
  const chosen: Chosen[] = new Array(frontiers.length);
  for (let k = frontiers.length - 1; k >= 0; k--) {
    const twin: Label | null = label && twinOf(frontiers[k]!, label);
    if (twin === null) throw new Error("a remembered plan has lost its way");
    chosen[k] = { fretting: twin.fretting, picking: twin.picking };
    label = twin.before;
  }
  return { chosen, cost: costOfPath(problem, chosen) };
}

function twinOf(frontier: Frontier, label: Label): Label | null {
  for (const labels of frontier.labels)
    for (const other of labels) if (other.fretting === label.fretting && other.picking === label.picking && other.memory === label.memory) return other;
  return null;
}

/** The cost of a path, added up step by step. */
export function costOfPath(problem: Problem, chosen: readonly Chosen[]): Cost {
  const cost: Cost = { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 };
  let states: number[] = new Array(problem.strings).fill(0);
  problem.steps.forEach((step, k) => {
    const fretting = step.fretting[chosen[k]!.fretting]!;
    const picking = step.picking[chosen[k]!.picking]!;
    if (k > 0) {
      const before = problem.steps[k - 1]!;
      for (const hand of ["fretting", "picking"] as const) {
        const from = before[hand][chosen[k - 1]![hand]]!.pose;
        const move = moveCost(step, hand, from, (hand === "fretting" ? fretting : picking).pose);
        if (move === null) throw new Error("a plan makes a move nobody can make");
        cost.rushed += move.rushedMs;
        cost.effort += move.effort;
        cost.changes += move.changes;
      }
    }
    const mask = silenced(step, fretting, picking);
    cost.harm += harmOf(step, fretting, picking);
    cost.effort += stayEffort(step, fretting, picking, mask);
    states = states.map((state, s) => {
      const stakes = step.strings[s]!;
      const now = (mask & (1 << s)) !== 0 ? 0 : stateAfter(stakes, state);
      cost.stray += stakes.cost[now]!;
      return stateHandedOn(stakes, now);
    });
  });
  return cost;
}

const listIds = new WeakMap<readonly Shape[], number>();
let lists = 0;

function idOf(shapes: readonly Shape[]): number {
  const known = listIds.get(shapes);
  if (known !== undefined) return known;
  listIds.set(shapes, ++lists);
  return lists;
}

/** Everything of a step that its frontier depends on besides the one before. Equal shapes have equal lists. */
function keyOf(step: ProblemStep, strings: number): string {
  let key = `${idOf(step.fretting)};${idOf(step.picking)};${step.lengthMs};${step.haveMs};${step.untilPressMs};${step.struck};${step.carried};${step.muffled};${step.hasStroke}${step.indexPlaced}${step.pressesAgain}`;
  for (let s = 0; s < strings; s++) {
    const { cost, next, fresh, last } = step.strings[s]!;
    if (cost.length > 1 || next.length > 1) key += `;${s}:${cost}/${next}/${fresh}/${last}`;
  }
  return key;
}
