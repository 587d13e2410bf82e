import { GESTURES, type MoveKind } from "../hands/gestures.ts";
import { type FrettingPosture, leansAsFar, type PickingPosture, palmFrom, sameBeside, sameSpare, thumbOn } from "../hands/postures.ts";
import { PRICES } from "../hands/prices.ts";
import type { Settings } from "../passage/settings.ts";

/** What a hand has to do between two postures. */
export interface Move {
  /** Settling happens within the stroke or the placing of a finger. */
  kind: MoveKind | "settle";
  /** Time it takes, in ms. */
  takesMs: number;
  /** What else there is of time than that since the step before: a hand that has nothing to do sets out early, one that is not pressing yet arrives late. */
  more: "idle" | "press" | null;
  /** What is left of its time then. */
  needMs: number;
  /** Effort in tenths when there is time in plenty. */
  effort: number;
}

const settles = (effort = PRICES.settle): Move => ({ kind: "settle", takesMs: 0, more: null, needMs: 0, effort });
const move = (kind: MoveKind, takesMs: number, effort: number = GESTURES[kind].effort): Move => ({ kind, takesMs, more: null, needMs: takesMs, effort });
const moveWith = (more: "idle" | "press", moreMs: number, kind: MoveKind, takesMs: number): Move => ({
  kind,
  takesMs,
  more,
  needMs: Math.max(0, takesMs - moreMs),
  effort: GESTURES[kind].effort,
});

export interface FrettingMoment {
  hand: "fretting";
  /** A finger is set down or let go in this step: lean and tip change in that very motion. */
  gripMoves: boolean;
  /** A chord's pressure goes while its fingers stay. */
  letsChordGo: boolean;
  /** What has let go and presses the same place again. */
  pressesAgain: "nothing" | "finger" | "chord";
  /** ms from the step's start until some finger presses; 0 when it does in this step. */
  untilPressMs: number;
  /** ms for which the hand had pressed nothing before the time it has for this move began. */
  frettingIdleMs: number;
}

/** One finger is back on its string in this share of a chord's time: alternating frets go up to 180, chords to 145 (experts, common practice). */
const ONE_FINGER = 0.62;

/** Moves of the fretting hand from one posture to the next. */
export function frettingMoves(from: FrettingPosture, to: FrettingPosture, moment: FrettingMoment, { moveMs }: Settings): Move[] {
  const moves: Move[] = [];
  if (moment.letsChordGo) moves.push(move("release", moveMs.release));
  if (moment.pressesAgain !== "nothing") moves.push(move("repress", moment.pressesAgain === "chord" ? moveMs.repress : ONE_FINGER * moveMs.repress));
  // A hand with nothing to hold sets out as early as it likes.
  const holdsNothing = from.lean === 0 && !from.across && from.spare.kind === "none" && from.thumb === "behind";
  const early = (kind: MoveKind, takesMs: number) => (holdsNothing ? moveWith("idle", moment.frettingIdleMs, kind, takesMs) : move(kind, takesMs));
  // Leaning further costs nothing; so does every change within a press or a release, and within laying the hand across.
  if (!moment.gripMoves && to.across === from.across) {
    if (from.lean === 0 && to.lean !== 0) moves.push(early("indexFlatten", moveMs.indexFlatten));
    else if (!leansAsFar(to, from)) moves.push(move("indexArch", moveMs.indexArch));
  }
  if (to.across && !from.across) moves.push(early("lay", moveMs.lay));
  // The way back to the chord goes on until a finger presses.
  if (!to.across && from.across) moves.push(moveWith("press", moment.untilPressMs, "restore", moveMs.restore));
  if (!sameSpare(to.spare, from.spare)) moves.push(to.spare.kind === "laid" && !staysLaid(from, to) ? early("spare", moveMs.spare) : settles());
  if (to.thumb !== from.thumb) moves.push(to.thumb === "over" ? early("spare", moveMs.spare) : settles());
  return moves;
}

/** Whether fingers that lie together only spread over more strings or draw in from some. */
function staysLaid({ spare: from }: FrettingPosture, { spare: to }: FrettingPosture): boolean {
  if (from.kind !== "laid" || to.kind !== "laid") return false;
  return from.strings.every((s) => to.strings.includes(s)) || to.strings.every((s) => from.strings.includes(s));
}

export interface PickingMoment {
  hand: "picking";
  /** ms for which the hand had struck nothing before the time it has for this move began. */
  pickingIdleMs: number;
}

/** Moves of the picking hand from one posture to the next. */
export function pickingMoves(from: PickingPosture, to: PickingPosture, { pickingIdleMs }: PickingMoment, { moveMs, strumPalmMute }: Settings): Move[] {
  const moves: Move[] = [];
  const was = thumbOn(from);
  const is = thumbOn(to);
  const palmWas = palmFrom(from);
  const palmIs = palmFrom(to);
  const isFree = from.at.kind === "off" && from.beside === null;
  const landMs = strumPalmMute === "percussive" ? 0 : moveMs.palmLand;
  const lands = () => (isFree ? moveWith("idle", pickingIdleMs, "palmLand", landMs) : move("palmLand", landMs));
  if (from.at.kind === to.at.kind && (to.at.kind === "follow" || to.at.kind === "heel" || to.at.kind === "off")) {
    // The hand goes along with the pick.
  } else if (to.at.kind === "heel") moves.push(palmWas > 0 ? settles() : lands());
  else if (from.at.kind === "heel") moves.push(move("palmLift", moveMs.palmLift));
  else if (palmIs > 0 && palmWas === 0) moves.push(lands());
  else if (palmWas > 0 && palmIs === 0) moves.push(move("palmLift", moveMs.palmLift));
  else if (palmIs !== palmWas) {
    const strings = Math.abs(palmIs - palmWas);
    moves.push(move("palmShift", strings * moveMs.palmShift, strings * GESTURES.palmShift.effort));
  }
  if (is !== was && !(from.at.kind === "thumb-follow" && to.at.kind === "thumb-follow")) {
    const further = was === 0 || is === 0 ? 0 : Math.abs(is - was) - 1;
    moves.push(
      is === 0
        ? settles()
        : move("thumbTravel", moveMs.thumbTravel + further * moveMs.thumbTravelNext, GESTURES.thumbTravel.effort + further * GESTURES.thumbTravelNext.effort),
    );
  }
  if (!sameBeside(to, from)) moves.push(settles(to.beside?.part === "spare" ? PRICES.curl : PRICES.settleBeside));
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
