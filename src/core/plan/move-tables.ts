import { ByFields } from "../caching/by-fields.ts";
import { knownIn } from "../caching/known.ts";
import type { PlannedHand } from "../hands/parts.ts";
import type { Posture } from "../hands/postures.ts";
import type { Settings } from "../passage/settings.ts";
import { MovePrices, momentOf } from "./costs.ts";
import type { PostureGroups } from "./posture-groups.ts";
import type { ProblemStep } from "./problem.ts";

/** What it costs one hand to get from every posture of a list to every posture of the next, at one kind of moment. */
export class MoveTable {
  readonly from: number;
  readonly to: number;
  /** Three numbers a move, those to one posture after the other for each one left: ms rushed (-1 where no player can make it), effort, changes. */
  readonly costs: number[];
  private readonly behind: (readonly number[] | undefined)[];

  constructor(from: readonly Posture[], to: readonly Posture[], prices: MovePrices) {
    this.from = from.length;
    this.to = to.length;
    this.costs = new Array(3 * this.from * this.to);
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
    this.behind = new Array(this.from);
  }

  /**
   * How much more any move can cost from one posture than from each other one: three numbers, of the move where that is most, as
   * in `costs`; infinitely many ms rushed where only the other leads somewhere.
   */
  behindFrom(posture: number): readonly number[] {
    this.behind[posture] ??= this.compare(posture);
    return this.behind[posture]!;
  }

  private compare(posture: number): readonly number[] {
    const most: number[] = new Array(3 * this.from);
    for (let other = 0; other < this.from; other++) this.compareWith(posture, other, most);
    return most;
  }

  private compareWith(a: number, b: number, most: number[]): void {
    const { costs, to } = this;
    let rushed = Number.NEGATIVE_INFINITY;
    let effort = 0;
    let changes = 0;
    for (let k = 0; k < to; k++) {
      const ours = 3 * (a * to + k);
      const theirs = 3 * (b * to + k);
      if (costs[theirs]! < 0) continue;
      const rushedHere = costs[ours]! < 0 ? Number.POSITIVE_INFINITY : costs[ours]! - costs[theirs]!;
      const effortHere = costs[ours + 1]! - costs[theirs + 1]!;
      const changesHere = costs[ours + 2]! - costs[theirs + 2]!;
      if (rushedHere < rushed || (rushedHere === rushed && (effortHere - effort || changesHere - changes) <= 0)) continue;
      rushed = rushedHere;
      effort = effortHere;
      changes = changesHere;
    }
    most[3 * b] = rushed;
    most[3 * b + 1] = effort;
    most[3 * b + 2] = changes;
  }
}

interface MomentTables {
  prices: MovePrices;
  /** By the lists of postures that they lead from, then to. */
  tables: Map<number, Map<number, MoveTable>>;
}

const knownMoments = new WeakMap<Settings, ByFields<MomentTables>>();

/** Moments are few: most steps are as long as others and ask for the same. */
function knownAt(step: ProblemStep, hand: PlannedHand): MomentTables {
  const byMoment = knownIn(knownMoments, step.settings, () => new ByFields<MomentTables>());
  const moment = momentOf(step, hand);
  return byMoment.of(moment, () => ({ prices: new MovePrices(moment, step.settings), tables: new Map() }));
}

/** The moves of a hand into a step, worked out once for the same postures at the same kind of moment. */
export function moveTable(from: PostureGroups, to: PostureGroups, hand: PlannedHand, step: ProblemStep): MoveTable {
  const { prices, tables } = knownAt(step, hand);
  const onward = knownIn(tables, from.list, () => new Map<number, MoveTable>());
  return knownIn(onward, to.list, () => new MoveTable(from.postures, to.postures, prices));
}
