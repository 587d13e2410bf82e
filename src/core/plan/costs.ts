import type { Pose, Shape } from "../shapes/types.ts";
import { frettingMoves, type Move, moveEffort, pickingMoves } from "./moves.ts";
import type { ProblemStep, StringStakes } from "./problem.ts";

/** Strings that a pair of shapes silences, given what sets them going in this step. */
export function silenced(step: ProblemStep, fretting: Shape, picking: Shape): number {
  const loud = step.struck | step.carried;
  return (
    ((fretting.damps | picking.damps) & ~loud) |
    ((fretting.stops | picking.stops) & step.carried & ~step.struck) |
    ((fretting.deadens | picking.deadens) & step.struck)
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
 * Cost of moving between two poses (a hand's moves run side by side, so the longest counts), or null when a player cannot: a move that the music does
 * not force and for which there is no time is not available at all; a forced one is rushed.
 */
export function moveCost(step: ProblemStep, hand: "fretting" | "picking", from: Pose, to: Pose): MoveCost | null {
  if (from.key === to.key && !(hand === "fretting" && step.pressesAgain)) return STAY;
  const moves = hand === "fretting" ? frettingMoves(from, to, step, step.settings) : pickingMoves(from, to, step.pickingIdleMs, step.settings);
  if (moves === null) return null;
  let need = 0;
  for (const move of moves) {
    if (move.needMs > step.haveMs && !isForced(move, from, step[hand])) return null;
    need = Math.max(need, move.needMs);
  }
  return { rushedMs: Math.max(0, Math.round(need - step.haveMs)), effort: moveEffort(moves, step.haveMs), changes: moves.length };
}

/** Whether the written music leaves no way around a move: its old pose is not to be had any more, or every shape has the new one. */
export function isForced(move: Move, from: Pose, shapes: readonly Shape[]): boolean {
  if (move.forced) return true;
  switch (move.kind) {
    case "palmLand":
      return shapes.every(({ pose }) => pose.palm > 0 || pose.heel);
    case "palmLift":
    case "palmShift":
      return !shapes.some(({ pose }) => pose.palm === from.palm && pose.heel === from.heel);
    case "indexFlatten":
      return shapes.every(({ pose }) => pose.indexLaid);
    case "spare":
      return !shapes.some(({ pose }) => (pose.spare === "" || pose.spare === from.spare) && (!pose.thumbOver || from.thumbOver));
    case "thumbTravel":
      return !shapes.some(({ pose }) => pose.thumb === 0 || pose.thumb === from.thumb);
    case "indexArch":
      return !shapes.some(({ pose }) => pose.indexLaid);
    case "lay":
      return shapes.every(({ pose }) => pose.across);
    case "restore":
      return !shapes.some(({ pose }) => pose.across);
    default:
      return false;
  }
}

/** All of a step, besides the poses, that the cost of moving into it depends on. */
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
