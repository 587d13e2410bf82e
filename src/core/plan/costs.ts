import { GESTURES } from "../hands/gestures.ts";
import type { PlannedHand } from "../hands/parts.ts";
import type { Posture } from "../hands/postures.ts";
import { PRICES } from "../hands/prices.ts";
import type { Settings } from "../passage/settings.ts";
import { bitCount, type HandShape, SURELY } from "../shapes/types.ts";
import { type FrettingMoment, frettingMoves, type Move, moveEffort, type PickingMoment, pickingMoves } from "./moves.ts";
import { groupsOf } from "./posture-groups.ts";
import type { ProblemStep } from "./problem.ts";
import type { StringStakes } from "./string-stakes.ts";

/** Strings that a pair of shapes silences, given what sets them going in this step. */
export function silenced(step: ProblemStep, fretting: HandShape, picking: HandShape): number {
  const loud = step.struck | step.carried;
  return (
    ((fretting.damps | picking.damps) & ~loud) |
    ((fretting.stops | picking.stops) & step.carried & ~step.struck) |
    // A second contact, off the node, ends a chime.
    ((fretting.deadens | picking.deadens | (fretting.chimes & picking.damps)) & step.struck)
  );
}

/** Harm: strings that should be muffled and are not. */
export function harmOf(step: ProblemStep, fretting: HandShape, picking: HandShape): number {
  return bitCount(step.muffled & ~(picking.muffles | fretting.muffles));
}

/** A string's state at the end of a step from its state before, if it is left alone. */
export function stateAfter(stakes: StringStakes, before: number): number {
  return stakes.next[before] ?? stakes.fresh;
}

/** The state that the next step starts from, given the one this step was costed in. */
export function stateHandedOn(stakes: StringStakes, state: number): number {
  return stakes.last[state] ?? state;
}

/** Effort of being in a pair of shapes for a step: holding, and the risk that contacts fail; thousandths of a tenth. */
export function stayEffort(step: ProblemStep, fretting: HandShape, picking: HandShape, silencedMask: number): number {
  const bare = ~(fretting.damps | picking.damps);
  let sum = Math.round((fretting.hold + picking.hold) * step.lengthMs);
  if (step.hasStroke) sum += Math.round((fretting.perStroke + picking.perStroke) * 1000);
  // Holding a string is what players call safe.
  sum += Math.round(PRICES.bare * bitCount(step.quiet & bare) * step.lengthMs);
  // A touch that lets a struck string chime is still quieter than no touch at all.
  if ((step.struck & bare) !== 0) sum += Math.round(1000 * PRICES.bareStruck) * bitCount(step.struck & bare);
  const price = PRICES.risk / (SURELY * SURELY);
  for (let left = silencedMask & step.atRisk; left !== 0; left &= left - 1) {
    const s = 31 - Math.clz32(left & -left);
    // Enough to keep a second contact that costs nothing, not to seek one.
    sum += Math.round(price * step.strings[s]!.risk * fretting.fails[s]! * picking.fails[s]!);
  }
  return sum;
}

export interface MoveCost {
  rushedMs: number;
  effort: number;
  changes: number;
}

/** When and with how much time a hand moves: all that its moves cost by, besides its postures, what it can do next, and who it is. */
export type MoveMoment = { haveMs: number } & (FrettingMoment | PickingMoment);

export function momentOf(step: ProblemStep, hand: PlannedHand): MoveMoment {
  const { haveMs, gripMoves, letsChordGo, pressesAgain, untilPressMs, frettingIdleMs, pickingIdleMs } = step;
  return hand === "fretting" ? { hand, haveMs, gripMoves, letsChordGo, pressesAgain, untilPressMs, frettingIdleMs } : { hand, haveMs, pickingIdleMs };
}

/** Cost of a hand's move into a step, or null when a player cannot make it. */
export function moveCost(step: ProblemStep, from: Posture, to: Posture): MoveCost | null {
  return new MovePrices(momentOf(step, from.hand), step.settings).between(from, to, groupsOf(step[from.hand]).postures);
}

/** Prices of all moves of a hand at one kind of moment, each worked out once. */
export class MovePrices {
  /** By the postures' ids. */
  private readonly known: Priced[][] = [];

  constructor(
    private readonly moment: MoveMoment,
    private readonly settings: Settings,
  ) {}

  /**
   * Cost of moving between two postures (a hand's moves run side by side, so the longest counts), or null when a player cannot: a move that
   * the music does not force and for which there is no time is not available at all; a forced one is rushed. `next` are all postures that the hand can take then.
   */
  between(from: Posture, to: Posture, next: readonly Posture[]): MoveCost | null {
    return this.from(from)(to, next);
  }

  /** Costs of moving from one posture to any other; see `between`. */
  from(from: Posture): (to: Posture, next: readonly Posture[]) => MoveCost | null {
    this.known[from.id] ??= [];
    const known = this.known[from.id]!;
    return (to, next) => {
      known[to.id] ??= this.price(from, to);
      const priced = known[to.id]!;
      for (const move of priced.late) if (!isForced(move, from, next)) return null;
      return priced;
    };
  }

  private price(from: Posture, to: Posture): Priced {
    const { moment, settings } = this;
    const isStill = moment.hand === "picking" || (moment.pressesAgain === "nothing" && !moment.letsChordGo);
    if (from === to && isStill) return STAY;
    const moves = movesAt(moment, from, to, settings);
    const need = moves.reduce((most, { needMs }) => Math.max(most, needMs), 0);
    return {
      rushedMs: Math.max(0, Math.round(need - moment.haveMs)),
      effort: moveEffort(moves, moment.haveMs),
      changes: moves.length,
      late: need <= moment.haveMs ? NONE : moves.filter(({ needMs }) => needMs > moment.haveMs),
    };
  }
}

/** What a move costs, and what of it there is no time for. */
interface Priced extends MoveCost {
  late: readonly Move[];
}

/** What a hand does to get from one posture to another as a step begins. */
export function movesBetween(step: ProblemStep, from: Posture, to: Posture): Move[] {
  return movesAt(momentOf(step, from.hand), from, to, step.settings);
}

function movesAt(moment: MoveMoment, from: Posture, to: Posture, settings: Settings): Move[] {
  if (moment.hand === "fretting" && from.hand === "fretting" && to.hand === "fretting") return frettingMoves(from, to, moment, settings);
  if (moment.hand === "picking" && from.hand === "picking" && to.hand === "picking") return pickingMoves(from, to, moment, settings);
  throw new Error("postures of two hands");
}

/** Whether the written music leaves no way around a move; see the catalogue of gestures. */
export function isForced({ kind }: Move, from: Posture, next: readonly Posture[]): boolean {
  if (kind === "settle") return false;
  const gesture = GESTURES[kind];
  if (gesture.hand !== from.hand) return false;
  // One hand's shapes all have postures of that hand.
  return (gesture.isForced as (from: Posture, next: readonly Posture[]) => boolean)(from, next);
}

const NONE: readonly Move[] = [];

const STAY: Priced = { rushedMs: 0, effort: 0, changes: 0, late: NONE };
