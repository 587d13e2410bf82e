import { groupsOf, type MoveTable, moveTable, type PostureGroups } from "./move-tables.ts";
import type { Problem, ProblemStep } from "./problem.ts";
import { Stakes } from "./stakes.ts";

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

/**
 * A partial plan; `fretting` and `picking` are the shapes of its last step. Costs stay small integers, which are the quick
 * ones; memory takes four bits per string, the top one spare.
 */
export class Label {
  constructor(
    /** harm · 2^26 + rushed ms. */
    readonly first: number,
    readonly stray: number,
    readonly effort: number,
    readonly changes: number,
    readonly memory: number,
    readonly fretting: number,
    readonly picking: number,
    readonly before: Label | null,
  ) {}
}

const RUSHED_ROOM = 2 ** 26;
/** A partial plan on its way into a step, with the moves paid for. Lives for that step alone, so that the next one uses it again. */
class Arrival {
  first = 0;
  stray = 0;
  effort = 0;
  changes = 0;
  memory = 0;
  /** Null before the first step. */
  from: Label | null = null;
}

const AT_START: readonly Arrival[] = [new Arrival()];

/** Never added to. */
const NONE: never[] = [];

interface Postures {
  fretting: PostureGroups;
  picking: PostureGroups;
}

/** Undominated partial plans after a step, per pair of postures. */
export interface Frontier extends Postures {
  labels: Label[][];
}

/**
 * The cheapest plan for both hands together: dynamic programming over the postures of both hands,
 * the two hands' moves being separate, with a set of undominated partial plans per pair of postures.
 * Exact for the problem as given. Ties go to the earlier shape. Null when no plan exists at all.
 */
export function planOf(problem: Problem): PlanPath | null {
  if (problem.steps.length === 0) return NOTHING_TO_PLAY;
  let frontier: Frontier | null = null;
  problem.steps.forEach((_, i) => {
    frontier = advance(problem, i, frontier);
  });
  const best = bestOf(frontier!);
  if (best === null) return null;
  const chosen: ChosenShapes[] = [];
  for (let label: Label | null = best; label !== null; label = label.before) chosen.push({ fretting: label.fretting, picking: label.picking });
  return { chosen: chosen.reverse(), cost: costOf(best) };
}

export const NOTHING_TO_PLAY: PlanPath = { chosen: [], cost: { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 } };

/** The frontier after a step from the one before it (null before the first). */
export function advance(problem: Problem, at: number, frontier: Frontier | null): Frontier {
  const step = problem.steps[at]!;
  const now = { fretting: groupsOf(step.fretting), picking: groupsOf(step.picking) };
  const arrived = frontier === null ? null : arrivals.after(frontier, now, step);
  return { ...now, labels: stayAll(arrived, now, step, problem.strings) };
}

/** The cheapest label of a frontier, the first of equals. */
export function bestOf(frontier: Frontier): Label | null {
  let best: Label | null = null;
  for (const labels of frontier.labels) for (const label of labels) if (best === null || compareLabels(label, best) < 0) best = label;
  return best;
}

export function compareLabels(a: Packed, b: Packed): number {
  return a.first - b.first || a.stray - b.stray || a.effort - b.effort || a.changes - b.changes;
}

export type Packed = Pick<Label, "first" | "stray" | "effort" | "changes">;

/** A label's cost, level by level. */
export function costOf({ first, stray, effort, changes }: Packed): Cost {
  return {
    harm: Math.floor(first / RUSHED_ROOM),
    rushed: first % RUSHED_ROOM,
    stray,
    effort,
    changes,
  };
}

/** Where the partial plans of one step are moved into the next. */
class Arrivals {
  private readonly store: Arrival[] = [];
  private used = 0;

  /** First the fretting hand moves, then the picking hand: F·P·(F+P) instead of (F·P)². */
  after(from: Frontier, to: Postures, step: ProblemStep): Arrival[][] {
    this.used = 0;
    const fretting = moveTable(from.fretting.postures, to.fretting.postures, "fretting", step);
    const picking = moveTable(from.picking.postures, to.picking.postures, "picking", step);
    const [p, fTo, pTo] = [picking.from, fretting.to, picking.to];
    const half: Arrival[][] = new Array(fTo * p);
    for (let q = 0; q < p; q++) this.moveHand(from.labels, half, fretting, p, q, q);
    const whole: Arrival[][] = new Array(fTo * pTo);
    for (let g = 0; g < fTo; g++) this.moveHand(half, whole, picking, 1, g * p, g * pTo);
    return whole;
  }

  /** One hand's moves while the other stays: from every posture of it to every next one. Stride and offsets say where the postures lie in the lists. */
  private moveHand(
    before: readonly (readonly (Label | Arrival)[])[],
    into: Arrival[][],
    moves: MoveTable,
    stride: number,
    offset: number,
    offsetTo: number,
  ): void {
    const { from, to, costs } = moves;
    for (let b = 0; b < to; b++) {
      let set: Arrival[] = NONE;
      for (let a = 0; a < from; a++) {
        const here = before[offset + a * stride]!;
        if (here.length === 0) continue;
        const move = 3 * (a * to + b);
        const rushedMs = costs[move]!;
        if (rushedMs < 0) continue;
        const moreEffort = costs[move + 1]!;
        const moreChanges = costs[move + 2]!;
        for (let k = 0; k < here.length; k++) {
          const { first, stray, effort, changes, memory } = here[k]!;
          if (isDominated(set, first + rushedMs, stray, effort + moreEffort, changes + moreChanges, memory)) continue;
          set = inserted(set, this.moved(here[k]!, rushedMs, moreEffort, moreChanges));
        }
      }
      into[offsetTo + b * stride] = set;
    }
  }

  private moved(before: Label | Arrival, rushedMs: number, moreEffort: number, moreChanges: number): Arrival {
    const { first, stray, effort, changes, memory } = before;
    if (this.used === this.store.length) this.store.push(new Arrival());
    const made = this.store[this.used++]!;
    made.first = first + rushedMs;
    made.stray = stray;
    made.effort = effort + moreEffort;
    made.changes = changes + moreChanges;
    made.memory = memory;
    made.from = before instanceof Label ? before : before.from;
    return made;
  }
}

const arrivals = new Arrivals();

function stayAll(arrived: readonly Arrival[][] | null, now: Postures, step: ProblemStep, strings: number): Label[][] {
  const fretting = now.fretting.shapes;
  const picking = now.picking.shapes;
  const pCount = picking.length;
  const stakes = new Stakes(step, strings);
  const labels: Label[][] = new Array(fretting.length * pCount);
  for (let key = 0; key < labels.length; key++) {
    const here = arrived === null ? AT_START : arrived[key]!;
    labels[key] = here.length === 0 ? NONE : stay(here, stakes, fretting[Math.floor(key / pCount)]!, picking[key % pCount]!);
  }
  return labels;
}

/** Every arrival in every pair of shapes of its postures, without what another betters. */
function stay(arrived: readonly Arrival[], stakes: Stakes, fretting: readonly number[], picking: readonly number[]): Label[] {
  const pairs = stakes.pairs(fretting, picking);
  let set: Label[] = NONE;
  for (const { first, stray, effort, changes, memory, from } of arrived) {
    const open = stakes.after(memory);
    for (const pair of pairs) {
      const left = open.left(pair.silenced);
      const firstNow = first + pair.harm * RUSHED_ROOM;
      const effortNow = effort + pair.effort + left.faint;
      if (isDominated(set, firstNow, stray + left.stray, effortNow, changes, left.memory)) continue;
      set = inserted(set, new Label(firstNow, stray + left.stray, effortNow, changes, left.memory, pair.fretting, pair.picking, from));
    }
  }
  return set;
}

type PartialPlan = Packed & { memory: number };

/** Whether some partial plan costs no more and has at most as much unsilenced on every string. */
function isDominated(set: readonly PartialPlan[], first: number, stray: number, effort: number, changes: number, memory: number): boolean {
  for (let k = 0; k < set.length; k++) {
    const other = set[k]!;
    const order = other.first - first || other.stray - stray || other.effort - effort || other.changes - changes;
    if (order <= 0 && memoryWithin(other.memory, memory)) return true;
  }
  return false;
}

/** A set with one more, without those it dominates. Mostly there is but one. */
function inserted<T extends PartialPlan>(set: T[], made: T): T[] {
  let kept = 0;
  for (let i = 0; i < set.length; i++) {
    const other = set[i]!;
    if (compareLabels(made, other) < 0 && memoryWithin(made.memory, other.memory)) continue;
    if (kept !== i) set[kept] = other;
    kept++;
  }
  if (kept === 0) return [made];
  set.length = kept;
  set.push(made);
  return set;
}

/** The spare top bit of every string's four. */
const SPARE_BITS = 0x88888888 | 0;

/** Every string's state in a at most that in b: no four bits of b, with the spare bit set, borrow when a is taken away. */
function memoryWithin(a: number, b: number): boolean {
  return (((b | SPARE_BITS) - a) & SPARE_BITS) === SPARE_BITS;
}
