import type { Shape } from "../shapes/types.ts";
import { harmOf, type MoveCost, momentKey, moveCost, type Problem, type ProblemStep, silenced, stateAfter, stateHandedOn, stayEffort } from "./problem.ts";

/** Integer costs, compared level by level in this order. */
export interface Cost {
  harm: number;
  rushed: number;
  stray: number;
  /** Thousandths of a tenth. */
  effort: number;
  changes: number;
}

export interface Chosen {
  fretting: number;
  picking: number;
}

export interface PlanPath {
  chosen: readonly Chosen[];
  cost: Cost;
}

/**
 * A partial plan; `fretting` and `picking` are the shapes of its last step (−1 before the first).
 * Moving a hand copies the label with the move's cost added; choosing shapes appends one.
 * Costs are packed in three numbers; memory takes three bits per string.
 */
export class Label {
  constructor(
    /** harm · 2^26 + rushed ms. */
    readonly first: number,
    readonly stray: number,
    /** effort · 2^20 + changes. */
    readonly last: number,
    readonly memory: number,
    readonly fretting: number,
    readonly picking: number,
    readonly before: Label | null,
  ) {}
}

const RUSHED_ROOM = 2 ** 26;
const CHANGES_ROOM = 2 ** 20;
const STATE_BITS = 3;
const STATE = 7;

interface PoseGroup {
  pose: Shape["pose"];
  shapes: number[];
}

/** Undominated partial plans after a step, per pair of poses. */
export interface Frontier {
  fretting: PoseGroup[];
  picking: PoseGroup[];
  labels: Label[][];
}

/**
 * The cheapest plan for both hands together: dynamic programming over the poses of both hands,
 * the two hands' moves being separate, with a set of undominated partial plans per pair of poses.
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
  const chosen: Chosen[] = [];
  for (let label: Label | null = best; label !== null; label = label.before) chosen.push({ fretting: label.fretting, picking: label.picking });
  return { chosen: chosen.reverse(), cost: costOfLabel(best) };
}

export const NOTHING_TO_PLAY: PlanPath = { chosen: [], cost: { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 } };

/** The frontier after a step from the one before it (null before the first). */
export function advance(problem: Problem, at: number, frontier: Frontier | null): Frontier {
  const step = problem.steps[at]!;
  const now = { fretting: posesOf(step.fretting), picking: posesOf(step.picking) };
  const arrived = frontier === null ? startLabels(now) : moveBoth(frontier.labels, frontier, now, problem.steps[at - 1]!, step);
  return { ...now, labels: stayAll(arrived, now, step, problem.strings) };
}

/** The cheapest label of a frontier, the first of equals. */
export function bestOf(frontier: Frontier): Label | null {
  let best: Label | null = null;
  for (const labels of frontier.labels) for (const label of labels) if (best === null || compareLabels(label, best) < 0) best = label;
  return best;
}

export function compareLabels(a: Label, b: Label): number {
  return a.first - b.first || a.stray - b.stray || a.last - b.last;
}

function costOfLabel({ first, stray, last }: Label): Cost {
  return {
    harm: Math.floor(first / RUSHED_ROOM),
    rushed: first % RUSHED_ROOM,
    stray,
    effort: Math.floor(last / CHANGES_ROOM),
    changes: last % CHANGES_ROOM,
  };
}

const knownPoses = new WeakMap<readonly Shape[], PoseGroup[]>();

/** The poses of a list of shapes, in the order they first occur; worked out once per list. */
function posesOf(shapes: readonly Shape[]): PoseGroup[] {
  const known = knownPoses.get(shapes);
  if (known) return known;
  const made = groupByPose(shapes);
  knownPoses.set(shapes, made);
  return made;
}

function groupByPose(shapes: readonly Shape[]): PoseGroup[] {
  const groups = new Map<string, PoseGroup>();
  shapes.forEach((shape, i) => {
    const group = groups.get(shape.pose.key);
    if (group) group.shapes.push(i);
    else groups.set(shape.pose.key, { pose: shape.pose, shapes: [i] });
  });
  return [...groups.values()];
}

function startLabels(now: { fretting: PoseGroup[]; picking: PoseGroup[] }): Label[][] {
  return Array.from({ length: now.fretting.length * now.picking.length }, () => [new Label(0, 0, 0, 0, -1, -1, null)]);
}

/** First the fretting hand moves, then the picking hand: F·P·(F+P) instead of (F·P)². */
function moveBoth(
  labels: Label[][],
  from: { fretting: PoseGroup[]; picking: PoseGroup[] },
  to: { fretting: PoseGroup[]; picking: PoseGroup[] },
  before: ProblemStep,
  step: ProblemStep,
): Label[][] {
  const fretting = moveTable(from.fretting, to.fretting, before.fretting, step.fretting, "fretting", step);
  const picking = moveTable(from.picking, to.picking, before.picking, step.picking, "picking", step);
  const pFrom = from.picking.length;
  const half: Label[][] = [];
  for (let f = 0; f < to.fretting.length; f++)
    for (let p = 0; p < pFrom; p++) {
      const set: Label[] = [];
      for (let g = 0; g < from.fretting.length; g++) {
        const move = fretting[g * to.fretting.length + f];
        if (move) for (const label of labels[g * pFrom + p]!) insertMoved(set, label, move);
      }
      half.push(set);
    }
  const pTo = to.picking.length;
  const whole: Label[][] = [];
  for (let f = 0; f < to.fretting.length; f++)
    for (let p = 0; p < pTo; p++) {
      const set: Label[] = [];
      for (let q = 0; q < pFrom; q++) {
        const move = picking[q * pTo + p];
        if (move) for (const label of half[f * pFrom + q]!) insertMoved(set, label, move);
      }
      whole.push(set);
    }
  return whole;
}

type MoveTable = (MoveCost | null)[];

const knownTables = new WeakMap<readonly Shape[], WeakMap<readonly Shape[], Map<string, MoveTable>>>();

/** Costs of moving from every pose of one list to every pose of the next; null where no player can. */
function moveTable(
  from: PoseGroup[],
  to: PoseGroup[],
  before: readonly Shape[],
  now: readonly Shape[],
  hand: "fretting" | "picking",
  step: ProblemStep,
): MoveTable {
  const byNow = knownTables.get(before) ?? new WeakMap<readonly Shape[], Map<string, MoveTable>>();
  knownTables.set(before, byNow);
  const byMoment = byNow.get(now) ?? new Map<string, MoveTable>();
  byNow.set(now, byMoment);
  const moment = momentKey(step, hand);
  const known = byMoment.get(moment);
  if (known) return known;
  const table: MoveTable = [];
  for (const a of from) for (const b of to) table.push(moveCost(step, hand, a.pose, b.pose));
  byMoment.set(moment, table);
  return table;
}

function insertMoved(set: Label[], label: Label, move: MoveCost): void {
  const stays = move.rushedMs === 0 && move.effort === 0 && move.changes === 0;
  const first = label.first + move.rushedMs;
  const last = label.last + move.effort * CHANGES_ROOM + move.changes;
  if (isDominated(set, first, label.stray, last, label.memory)) return;
  insert(set, stays ? label : new Label(first, label.stray, last, label.memory, label.fretting, label.picking, label.before));
}

function stayAll(arrived: Label[][], now: { fretting: PoseGroup[]; picking: PoseGroup[] }, step: ProblemStep, strings: number): Label[][] {
  const pCount = now.picking.length;
  const stakes = new Stakes(step, strings);
  return arrived.map((labels, key) => {
    const set: Label[] = [];
    if (labels.length === 0) return set;
    const fretting = now.fretting[Math.floor(key / pCount)]!.shapes;
    const picking = now.picking[key % pCount]!.shapes;
    for (const label of labels) {
      stakes.from(label.memory);
      for (const f of fretting)
        for (const p of picking) {
          const pair = stakes.pair(f, p);
          const first = label.first + pair.harm * RUSHED_ROOM;
          const stray = label.stray + stakes.stray(pair.silenced);
          const last = label.last + pair.effort * CHANGES_ROOM;
          const memory = stakes.memory(pair.silenced);
          if (isDominated(set, first, stray, last, memory)) continue;
          insert(set, new Label(first, stray, last, memory, f, p, label.fretting < 0 ? null : label));
        }
    }
    return set;
  });
}

/** Whether some label costs no more and has at most as much unsilenced on every string. */
function isDominated(set: readonly Label[], first: number, stray: number, last: number, memory: number): boolean {
  for (const label of set) {
    const order = label.first - first || label.stray - stray || label.last - last;
    if (order <= 0 && memoryWithin(label.memory, memory)) return true;
  }
  return false;
}

function insert(set: Label[], label: Label): void {
  let kept = 0;
  for (let i = 0; i < set.length; i++) {
    const other = set[i]!;
    const order = label.first - other.first || label.stray - other.stray || label.last - other.last;
    if (order < 0 && memoryWithin(label.memory, other.memory)) continue;
    if (kept !== i) set[kept] = other;
    kept++;
  }
  while (set.length > kept) set.pop();
  set.push(label);
}

/** Every string's state in a at most that in b. */
function memoryWithin(a: number, b: number): boolean {
  if (a === b || a === 0) return true;
  let x = a;
  let y = b;
  while (x !== 0) {
    if ((x & STATE) > (y & STATE)) return false;
    x >>>= STATE_BITS;
    y >>>= STATE_BITS;
  }
  return true;
}

/** A step's stakes for one memory, summed over sets of silenced strings once each. */
class Stakes {
  private readonly pairs: ({ silenced: number; harm: number; effort: number } | undefined)[];
  private readonly costs: number[];
  private readonly states: number[];
  private readonly sums = new Map<number, number>();

  constructor(
    private readonly step: ProblemStep,
    private readonly strings: number,
  ) {
    this.pairs = new Array(step.fretting.length * step.picking.length);
    this.costs = new Array(strings).fill(0);
    this.states = new Array(strings).fill(0);
  }

  from(memory: number): void {
    for (let s = 0; s < this.strings; s++) {
      const stakes = this.step.strings[s]!;
      const state = stateAfter(stakes, (memory >>> (s * STATE_BITS)) & STATE);
      this.states[s] = stateHandedOn(stakes, state);
      this.costs[s] = stakes.cost[state]!;
    }
    this.sums.clear();
  }

  pair(f: number, p: number): { silenced: number; harm: number; effort: number } {
    const key = f * this.step.picking.length + p;
    const known = this.pairs[key];
    if (known) return known;
    const fretting = this.step.fretting[f]!;
    const picking = this.step.picking[p]!;
    const mask = silenced(this.step, fretting, picking);
    const made = { silenced: mask, harm: harmOf(this.step, fretting, picking), effort: stayEffort(this.step, fretting, picking, mask) };
    this.pairs[key] = made;
    return made;
  }

  stray(silencedMask: number): number {
    const known = this.sums.get(silencedMask);
    if (known !== undefined) return known;
    let sum = 0;
    for (let s = 0; s < this.strings; s++) if ((silencedMask & (1 << s)) === 0) sum += this.costs[s]!;
    this.sums.set(silencedMask, sum);
    return sum;
  }

  memory(silencedMask: number): number {
    let memory = 0;
    for (let s = 0; s < this.strings; s++) if ((silencedMask & (1 << s)) === 0) memory |= this.states[s]! << (s * STATE_BITS);
    return memory;
  }
}
