import { knownIn } from "../caching/known.ts";
import { textOf } from "../caching/text.ts";
import type { PlannedHand } from "../hands/parts.ts";
import type { Posture } from "../hands/postures.ts";
import type { Settings } from "../passage/settings.ts";
import type { HandShape } from "../shapes/types.ts";
import { MovePrices, momentOf } from "./costs.ts";
import type { ProblemStep } from "./problem.ts";

/** The postures of a list of shapes, in the order they first occur, and per posture the shapes in it, by their places in the list. */
export interface PostureGroups {
  /** The same list for all lists of shapes with the same postures in the same order: such moves alike. */
  postures: readonly Posture[];
  shapes: readonly (readonly number[])[];
}

const knownGroups = new WeakMap<readonly HandShape[], PostureGroups>();

/** Worked out once per list. */
export function groupsOf(shapes: readonly HandShape[]): PostureGroups {
  return knownIn(knownGroups, shapes, grouped);
}

function grouped(shapes: readonly HandShape[]): PostureGroups {
  const postures: Posture[] = [];
  const groups: number[][] = [];
  shapes.forEach(({ posture }, i) => {
    const at = postures.indexOf(posture);
    if (at >= 0) groups[at]!.push(i);
    else {
      postures.push(posture);
      groups.push([i]);
    }
  });
  return { postures: sharedList(postures), shapes: groups };
}

/** Lists of postures in a tree: one branch per posture. Equal postures are one object. */
interface Branch {
  list: readonly Posture[] | null;
  next: WeakMap<Posture, Branch>;
}

const branchOf = (): Branch => ({ list: null, next: new WeakMap() });
const knownLists = branchOf();

function sharedList(postures: readonly Posture[]): readonly Posture[] {
  let branch = knownLists;
  for (const posture of postures) branch = knownIn(branch.next, posture, branchOf);
  branch.list ??= postures;
  return branch.list;
}

/** What it costs one hand to get from every posture of a list to every posture of the next, at one kind of moment. */
export class MoveTable {
  readonly from: number;
  readonly to: number;
  /** Three numbers a move, those to one posture after the other for each one left: ms rushed (-1 where no player can make it), effort, changes. */
  readonly costs: Int32Array;

  constructor(from: readonly Posture[], to: readonly Posture[], prices: MovePrices) {
    this.from = from.length;
    this.to = to.length;
    this.costs = new Int32Array(3 * this.from * this.to);
    let k = 0;
    for (const left of from) {
      const priceTo = prices.from(left);
      for (const posture of to) {
        const move = priceTo(posture, to);
        this.costs[k++] = move === null ? -1 : move.rushedMs;
        this.costs[k++] = move === null ? 0 : move.effort;
        this.costs[k++] = move === null ? 0 : move.changes;
      }
    }
  }
}

interface MomentTables {
  prices: MovePrices;
  tables: WeakMap<readonly Posture[], WeakMap<readonly Posture[], MoveTable>>;
}

const knownMoments = new WeakMap<Settings, Map<string, MomentTables>>();

/** Moments are few: most steps are as long as others and ask for the same. */
function knownAt(step: ProblemStep, hand: PlannedHand): MomentTables {
  const byMoment = knownIn(knownMoments, step.settings, () => new Map<string, MomentTables>());
  const moment = momentOf(step, hand);
  return knownIn(byMoment, textOf(moment), () => ({ prices: new MovePrices(moment, step.settings), tables: new WeakMap() }));
}

/** The moves of a hand into a step, worked out once for the same postures at the same kind of moment. */
export function moveTable(from: readonly Posture[], to: readonly Posture[], hand: PlannedHand, step: ProblemStep): MoveTable {
  const { prices, tables } = knownAt(step, hand);
  const onward = knownIn(tables, from, () => new WeakMap<readonly Posture[], MoveTable>());
  return knownIn(onward, to, () => new MoveTable(from, to, prices));
}
