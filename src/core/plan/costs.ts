import { GESTURES } from "../hands/gestures.ts";
import type { Posture } from "../hands/postures.ts";
import type { Shape } from "../shapes/types.ts";
import { frettingMoves, type Move, moveEffort, pickingMoves } from "./moves.ts";
import type { ProblemStep, StringStakes } from "./problem.ts";

/** Strings that a pair of shapes silences, given what sets them going in this step. */
export function silenced(step: ProblemStep, fretting: Shape, picking: Shape): number {
  const loud = step.struck | step.carried;
  return (
    ((fretting.damps | picking.damps) & ~loud) |
    ((fretting.stops | picking.stops) & step.carried & ~step.struck) |
    // A second contact, off the node, ends a chime.
    ((fretting.deadens | picking.deadens | (fretting.chimes & picking.damps)) & step.struck)
  );
}

/** Harm: strings that should be muffled and are not. */
export function harmOf(step: ProblemStep, fretting: Shape, picking: Shape): number {
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

/** Effort that a struck string left bare costs, in thousandths of a tenth. */
const BARE_STRUCK = 5000;

/** Effort of being in a pair of shapes for a step: holding, and the risk that contacts fail; thousandths of a tenth. */
export function stayEffort(step: ProblemStep, fretting: Shape, picking: Shape, silencedMask: number): number {
  let sum = Math.round((fretting.hold + picking.hold) * step.lengthMs);
  if (step.hasStroke) sum += (fretting.perStroke + picking.perStroke) * 1000;
  // A touch that lets a struck string chime is still quieter than no touch at all.
  sum += BARE_STRUCK * bitCount(step.struck & ~(fretting.damps | picking.damps));
  for (let s = 0; s < step.strings.length; s++) {
    const risk = step.strings[s]!.risk;
    if (risk > 0 && (silencedMask & (1 << s)) !== 0) sum += Math.round(risk * fretting.fails[s]! * picking.fails[s]!);
  }
  return sum;
}

export interface MoveCost {
  rushedMs: number;
  effort: number;
  changes: number;
}

/**
 * Cost of moving between two postures of one hand (its moves run side by side, so the longest counts), or null when a player cannot: a move that
 * the music does not force and for which there is no time is not available at all; a forced one is rushed.
 */
export function moveCost(step: ProblemStep, from: Posture, to: Posture): MoveCost | null {
  if (from.key === to.key && !(from.hand === "fretting" && step.pressesAgain)) return STAY;
  const moves = movesBetween(step, from, to);
  let need = 0;
  for (const move of moves) {
    if (move.needMs > step.haveMs && !isForced(move, from, step)) return null;
    need = Math.max(need, move.needMs);
  }
  return { rushedMs: Math.max(0, Math.round(need - step.haveMs)), effort: moveEffort(moves, step.haveMs), changes: moves.length };
}

/** What a hand does to get from one posture to another. Throws when they are not of one hand. */
export function movesBetween(step: ProblemStep, from: Posture, to: Posture): Move[] {
  if (from.hand === "fretting" && to.hand === "fretting") return frettingMoves(from, to, step, step.settings);
  if (from.hand === "picking" && to.hand === "picking") return pickingMoves(from, to, step.pickingIdleMs, step.settings);
  throw new Error("postures of two hands");
}

/** Whether the written music leaves no way around a move; see the catalogue of gestures. */
function isForced({ kind }: Move, from: Posture, step: ProblemStep): boolean {
  if (kind === "settle") return false;
  const gesture = GESTURES[kind];
  if (gesture.hand === "fretting" && from.hand === "fretting")
    return gesture.isForced(
      from,
      step.fretting.map((shape) => shape.posture),
    );
  if (gesture.hand === "picking" && from.hand === "picking")
    return gesture.isForced(
      from,
      step.picking.map((shape) => shape.posture),
    );
  return false;
}

/** All of a step, besides the postures, that the cost of moving into it depends on. */
export function momentKey(step: ProblemStep, hand: "fretting" | "picking"): string {
  const time = Math.round(step.haveMs * 1000);
  return hand === "fretting"
    ? `${time}${step.indexPlaced ? "i" : ""}${step.pressesAgain ? "a" : ""}${step.untilPressMs}/${step.frettingIdleMs}`
    : `${time}/${step.pickingIdleMs}`;
}

const STAY: MoveCost = { rushedMs: 0, effort: 0, changes: 0 };

export function bitCount(mask: number): number {
  let count = 0;
  for (let m = mask; m !== 0; m &= m - 1) count++;
  return count;
}
