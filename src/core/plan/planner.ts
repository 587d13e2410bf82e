import type { Posture } from "../hands/postures.ts";
import { textOf } from "../memory/text.ts";
import type { Shape } from "../shapes/types.ts";
import { harmOf, type MoveCost, momentOf, moveCostAt, silenced, stateAfter, stateHandedOn, stayEffort } from "./costs.ts";
import type { Problem, ProblemStep } from "./problem.ts";

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
 * Costs stay small integers, which are the quick ones; memory takes four bits per string, the top one spare.
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
const STATE_BITS = 4;
const STATE = 7;

/** Never added to. */
const NO_LABELS: Label[] = [];

interface PostureGroup {
  posture: Posture;
  shapes: number[];
}

interface Postures {
  fretting: PostureGroup[];
  picking: PostureGroup[];
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
  const chosen: Chosen[] = [];
  for (let label: Label | null = best; label !== null; label = label.before) chosen.push({ fretting: label.fretting, picking: label.picking });
  return { chosen: chosen.reverse(), cost: costOf(best) };
}

export const NOTHING_TO_PLAY: PlanPath = { chosen: [], cost: { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 } };

/** The frontier after a step from the one before it (null before the first). */
export function advance(problem: Problem, at: number, frontier: Frontier | null): Frontier {
  const step = problem.steps[at]!;
  const now = { fretting: posturesOf(step.fretting), picking: posturesOf(step.picking) };
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

const knownPostures = new WeakMap<readonly Shape[], PostureGroup[]>();

/** The postures of a list of shapes, in the order they first occur; worked out once per list. */
function posturesOf(shapes: readonly Shape[]): PostureGroup[] {
  const known = knownPostures.get(shapes);
  if (known) return known;
  const made = groupByPosture(shapes);
  knownPostures.set(shapes, made);
  return made;
}

function groupByPosture(shapes: readonly Shape[]): PostureGroup[] {
  const groups = new Map<string, PostureGroup>();
  shapes.forEach((shape, i) => {
    const group = groups.get(shape.posture.key);
    if (group) group.shapes.push(i);
    else groups.set(shape.posture.key, { posture: shape.posture, shapes: [i] });
  });
  return [...groups.values()];
}

function startLabels(now: Postures): Label[][] {
  return Array.from({ length: now.fretting.length * now.picking.length }, () => [new Label(0, 0, 0, 0, 0, -1, -1, null)]);
}

/** First the fretting hand moves, then the picking hand: F·P·(F+P) instead of (F·P)². */
function moveBoth(labels: Label[][], from: Postures, to: Postures, before: ProblemStep, step: ProblemStep): Label[][] {
  const fretting = moveTable(from.fretting, to.fretting, before.fretting, step.fretting, "fretting", step);
  const picking = moveTable(from.picking, to.picking, before.picking, step.picking, "picking", step);
  const [f, p] = [from.fretting.length, from.picking.length];
  const [fTo, pTo] = [to.fretting.length, to.picking.length];
  const half: Label[][] = new Array(fTo * p);
  for (let q = 0; q < p; q++) moveHand(labels, half, fretting, f, fTo, p, p, q, q);
  const whole: Label[][] = new Array(fTo * pTo);
  for (let g = 0; g < fTo; g++) moveHand(half, whole, picking, p, pTo, 1, 1, g * p, g * pTo);
  return whole;
}

/** One hand's moves while the other stays: from every posture of it to every next one. Strides and offsets say where the postures lie in the lists. */
function moveHand(
  labels: readonly (readonly Label[])[],
  into: Label[][],
  moves: MoveTable,
  from: number,
  to: number,
  stride: number,
  strideTo: number,
  offset: number,
  offsetTo: number,
): void {
  for (let b = 0; b < to; b++) {
    let set = NO_LABELS;
    for (let a = 0; a < from; a++) {
      const here = labels[offset + a * stride]!;
      if (here.length === 0) continue;
      const move = moves[a * to + b];
      if (!move) continue;
      if (set === NO_LABELS) set = [];
      for (const label of here) insertMoved(set, label, move);
    }
    into[offsetTo + b * strideTo] = set;
  }
}

type MoveTable = (MoveCost | null)[];

const knownTables = new WeakMap<readonly Shape[], WeakMap<readonly Shape[], Map<string, MoveTable>>>();

/** Costs of moving from every posture of one list to every posture of the next; null where no player can. */
function moveTable(
  from: PostureGroup[],
  to: PostureGroup[],
  before: readonly Shape[],
  now: readonly Shape[],
  hand: "fretting" | "picking",
  step: ProblemStep,
): MoveTable {
  const byNow = knownTables.get(before) ?? new WeakMap<readonly Shape[], Map<string, MoveTable>>();
  knownTables.set(before, byNow);
  const byMoment = byNow.get(now) ?? new Map<string, MoveTable>();
  byNow.set(now, byMoment);
  const moment = momentOf(step, hand);
  const key = textOf(moment);
  const known = byMoment.get(key);
  if (known) return known;
  const table: MoveTable = [];
  for (const a of from) for (const b of to) table.push(moveCostAt(moment, a.posture, b.posture, now, step.settings));
  byMoment.set(key, table);
  return table;
}

function insertMoved(set: Label[], label: Label, move: MoveCost): void {
  const stays = move.rushedMs === 0 && move.effort === 0 && move.changes === 0;
  const first = label.first + move.rushedMs;
  const effort = label.effort + move.effort;
  const changes = label.changes + move.changes;
  if (isDominated(set, first, label.stray, effort, changes, label.memory)) return;
  insert(set, stays ? label : new Label(first, label.stray, effort, changes, label.memory, label.fretting, label.picking, label.before));
}

function stayAll(arrived: Label[][], now: Postures, step: ProblemStep, strings: number): Label[][] {
  const pCount = now.picking.length;
  const stakes = new Stakes(step, strings);
  return arrived.map((labels, key) => {
    if (labels.length === 0) return NO_LABELS;
    const set: Label[] = [];
    const pairs = stakes.pairs(now.fretting[Math.floor(key / pCount)]!.shapes, now.picking[key % pCount]!.shapes);
    for (const label of labels) {
      const open = stakes.after(label.memory);
      const before = label.fretting < 0 ? null : label;
      for (const pair of pairs) {
        const first = label.first + pair.harm * RUSHED_ROOM;
        const { stray, faint, memory } = open.left(pair.silenced);
        const effort = label.effort + pair.effort + faint;
        if (isDominated(set, first, label.stray + stray, effort, label.changes, memory)) continue;
        insert(set, new Label(first, label.stray + stray, effort, label.changes, memory, pair.fretting, pair.picking, before));
      }
    }
    return set;
  });
}

/** Whether some label costs no more and has at most as much unsilenced on every string. */
function isDominated(set: readonly Label[], first: number, stray: number, effort: number, changes: number, memory: number): boolean {
  for (const label of set) {
    const order = label.first - first || label.stray - stray || label.effort - effort || label.changes - changes;
    if (order <= 0 && memoryWithin(label.memory, memory)) return true;
  }
  return false;
}

function insert(set: Label[], label: Label): void {
  let kept = 0;
  for (let i = 0; i < set.length; i++) {
    const other = set[i]!;
    if (compareLabels(label, other) < 0 && memoryWithin(label.memory, other.memory)) continue;
    if (kept !== i) set[kept] = other;
    kept++;
  }
  while (set.length > kept) set.pop();
  set.push(label);
}

/** The spare top bit of every string's four. */
const SPARE_BITS = 0x88888888 | 0;

/** Every string's state in a at most that in b: no four bits of b, with the spare bit set, borrow when a is taken away. */
function memoryWithin(a: number, b: number): boolean {
  return (((b | SPARE_BITS) - a) & SPARE_BITS) === SPARE_BITS;
}

/** Two shapes together for a step, whatever came before. */
interface Pair {
  fretting: number;
  picking: number;
  silenced: number;
  harm: number;
  effort: number;
}

/** What a step's shapes and memories come to, each worked out once. */
class Stakes {
  private readonly known = new Map<number, LeftOpen>();

  constructor(
    private readonly step: ProblemStep,
    private readonly strings: number,
  ) {}

  /** Pairs of shapes in the same postures, without those that another one before equals or betters in everything. */
  pairs(fretting: readonly number[], picking: readonly number[]): Pair[] {
    const { step } = this;
    const kept: Pair[] = [];
    for (const f of fretting)
      for (const p of picking) {
        const a = step.fretting[f]!;
        const b = step.picking[p]!;
        const mask = silenced(step, a, b);
        const pair = { fretting: f, picking: p, silenced: mask, harm: harmOf(step, a, b), effort: stayEffort(step, a, b, mask) };
        if (!kept.some((other) => betters(other, pair))) kept.push(pair);
      }
    return kept;
  }

  after(memory: number): LeftOpen {
    const known = this.known.get(memory);
    if (known) return known;
    const made = new LeftOpen(this.step, this.strings, memory);
    this.known.set(memory, made);
    return made;
  }
}

function betters(a: Pair, b: Pair): boolean {
  return a.effort <= b.effort && a.harm <= b.harm && (a.silenced & b.silenced) === b.silenced;
}

/** What ringing on costs in a step after one memory, and what it leaves, per set of silenced strings. */
class LeftOpen {
  private readonly costs: number[] = [];
  private readonly faints: number[] = [];
  private readonly states: number[] = [];
  private readonly known: { silenced: number; stray: number; faint: number; memory: number }[] = [];

  constructor(step: ProblemStep, strings: number, memory: number) {
    for (let s = 0; s < strings; s++) {
      const stakes = step.strings[s]!;
      const state = stateAfter(stakes, (memory >>> (s * STATE_BITS)) & STATE);
      this.states.push(stateHandedOn(stakes, state));
      this.costs.push(stakes.cost[state]!);
      this.faints.push(stakes.faint[state]!);
    }
  }

  left(silencedMask: number): { stray: number; faint: number; memory: number } {
    for (const known of this.known) if (known.silenced === silencedMask) return known;
    let stray = 0;
    let faint = 0;
    let memory = 0;
    for (let s = 0; s < this.costs.length; s++) {
      if ((silencedMask & (1 << s)) !== 0) continue;
      stray += this.costs[s]!;
      faint += this.faints[s]!;
      memory |= this.states[s]! << (s * STATE_BITS);
    }
    const made = { silenced: silencedMask, stray, faint, memory };
    this.known.push(made);
    return made;
  }
}
