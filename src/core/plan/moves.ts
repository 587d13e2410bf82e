import { GESTURES, type MoveKind, SETTLE_BESIDE_EFFORT, SETTLE_EFFORT } from "../hands/gestures.ts";
import { type FrettingPosture, type PickingPosture, sameBeside, samePalm, sameSpare, thumbOn } from "../hands/postures.ts";
import type { Settings } from "../passage/settings.ts";

/** What a hand has to do between two postures. */
export interface Move {
  /** Settling happens within the stroke or the placing of a finger. */
  kind: MoveKind | "settle";
  /** Time it takes, in ms. */
  needMs: number;
  /** Effort in tenths when there is time in plenty. */
  effort: number;
}

const settles = (effort = SETTLE_EFFORT): Move => ({ kind: "settle", needMs: 0, effort });
const move = (kind: MoveKind, needMs: number): Move => ({ kind, needMs, effort: GESTURES[kind].effort });

export interface FrettingMoment {
  hand: "fretting";
  /** The index is set down anew in this step, so that laying it flat costs no extra motion. */
  indexPlaced: boolean;
  /** A finger that has let go presses the same place again. */
  pressesAgain: boolean;
  /** ms from the step's start until some finger presses; 0 when it does in this step. */
  untilPressMs: number;
  /** ms for which the hand had pressed nothing before the time it has for this move began. */
  frettingIdleMs: number;
}

/** Moves of the fretting hand from one posture to the next. */
export function frettingMoves(from: FrettingPosture, to: FrettingPosture, moment: FrettingMoment, { moveMs }: Settings): Move[] {
  const moves: Move[] = [];
  if (moment.pressesAgain) moves.push(move("repress", moveMs.repress));
  // A hand with nothing to hold sets out as early as it likes.
  const holdsNothing = from.eased === 0 && from.index === "arched" && !from.across && from.spare.kind === "none" && from.thumb === "behind";
  const early = holdsNothing ? moment.frettingIdleMs : 0;
  const after = (ms: number) => Math.max(0, ms - early);
  if (to.index !== from.index) {
    if (moment.indexPlaced) moves.push(settles());
    else if (to.index === "laid") moves.push(move("indexFlatten", after(moveMs.indexFlatten)));
    else moves.push(move("indexArch", moveMs.indexArch));
  }
  if (to.across && !from.across) moves.push(move("lay", after(moveMs.lay)));
  // The way back to the chord goes on until a finger presses.
  if (!to.across && from.across) moves.push(move("restore", Math.max(0, moveMs.restore - moment.untilPressMs)));
  if (!sameSpare(to.spare, from.spare)) moves.push(to.spare.kind === "laid" ? move("spare", after(moveMs.spare)) : settles());
  if (to.thumb !== from.thumb) moves.push(to.thumb === "over" ? move("spare", after(moveMs.spare)) : settles());
  if ((to.eased & ~from.eased) !== 0) moves.push(move("release", 0));
  return moves;
}

export interface PickingMoment {
  hand: "picking";
  /** ms for which the hand had struck nothing before the time it has for this move began. */
  pickingIdleMs: number;
}

/** Moves of the picking hand from one posture to the next. */
export function pickingMoves(from: PickingPosture, to: PickingPosture, { pickingIdleMs }: PickingMoment, { moveMs, strumPalmMute }: Settings): Move[] {
  const moves: Move[] = [];
  const palmWas = from.at.kind === "palm";
  const palmIs = to.at.kind === "palm";
  if (to.at.kind === "heel" && from.at.kind !== "heel") moves.push(move("palmShift", palmWas ? 0 : moveMs.palmShift));
  else if (from.at.kind === "heel" && to.at.kind !== "heel") moves.push(palmIs ? move("palmShift", moveMs.palmShift) : move("palmLift", moveMs.palmLift));
  else if (palmIs && !palmWas) {
    const isFree = from.at.kind === "off" && from.beside === null;
    moves.push(move("palmLand", strumPalmMute === "percussive" ? 0 : Math.max(0, moveMs.palmLand - (isFree ? pickingIdleMs : 0))));
  } else if (palmWas && !palmIs) moves.push(move("palmLift", moveMs.palmLift));
  else if (!samePalm(from, to)) moves.push(move("palmShift", moveMs.palmShift));
  const was = thumbOn(from);
  const is = thumbOn(to);
  if (is !== was) {
    const further = was === 0 || is === 0 ? 0 : Math.abs(is - was) - 1;
    moves.push(
      is === 0
        ? settles()
        : {
            kind: "thumbTravel",
            needMs: moveMs.thumbTravel + further * moveMs.thumbTravelNext,
            effort: GESTURES.thumbTravel.effort + further * GESTURES.thumbTravelNext.effort,
          },
    );
  }
  if (!sameBeside(to, from)) moves.push(settles(SETTLE_BESIDE_EFFORT));
  return moves;
}

/** From this share of its time on, a move costs more and more. */
const EASY_SHARE = 0.7;
const HASTE = 4;

/** Effort of moves in thousandths of a tenth, convex above 70% of the time there is. */
export function moveEffort(moves: readonly Move[], haveMs: number): number {
  let sum = 0;
  for (const { needMs, effort } of moves) {
    const share = needMs === 0 ? 0 : needMs / haveMs;
    const haste = share > EASY_SHARE ? 1 + HASTE * (Math.min(share, 1) - EASY_SHARE) : 1;
    sum += Math.round(effort * haste * 1000);
  }
  return sum;
}
