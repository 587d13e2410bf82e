import type { MoveKind } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Pose } from "../shapes/types.ts";

/** What a hand has to do between two poses. */
export interface Move {
  kind: MoveKind | "settle";
  /** Time it takes, in ms; 0 when it happens within the stroke or the placing of a finger. */
  needMs: number;
  /** Effort in tenths when there is time in plenty. */
  effort: number;
  /** The written music itself asks for it, whatever the pose. */
  forced?: true;
}

/** Effort of moves in tenths: each more than holding its contact for half a second. From memory, adjustable. */
export const MOVE_EFFORT: Readonly<Record<MoveKind | "settle", number>> = {
  palmLand: 12,
  palmLift: 8,
  palmShift: 8,
  release: 1,
  repress: 2,
  indexFlatten: 8,
  indexArch: 8,
  lay: 15,
  restore: 15,
  spare: 12,
  thumbTravel: 5,
  thumbTravelNext: 2,
  settle: 3,
};

/** Fingers that lie on the pressed string's own bridge side come down with the press. */
const BASS_MUFFLE = "m";

export interface FrettingMoment {
  /** The index is set down anew in this step, so that laying it flat costs no extra motion. */
  indexPlaced: boolean;
  /** A finger that has let go presses the same place again. */
  pressesAgain: boolean;
  /** ms from the step's start until some finger presses; 0 when it does in this step. */
  untilPressMs: number;
  /** ms for which the hand had pressed nothing before the time it has for this move began. */
  frettingIdleMs: number;
}

/** Moves of the fretting hand from one pose to the next; null when they cannot follow each other. */
export function frettingMoves(from: Pose, to: Pose, moment: FrettingMoment, settings: Settings): Move[] | null {
  const { moveMs } = settings;
  const moves: Move[] = [];
  if (moment.pressesAgain) moves.push({ kind: "repress", needMs: moveMs.repress, effort: MOVE_EFFORT.repress, forced: true });
  const add = (kind: MoveKind | "settle", needMs: number) => moves.push({ kind, needMs, effort: MOVE_EFFORT[kind] });
  // A hand with nothing to hold sets out as early as it likes.
  const early = from.eased === 0 && !from.indexLaid && !from.across && from.spare === "" && !from.thumbOver ? moment.frettingIdleMs : 0;
  const after = (ms: number) => Math.max(0, ms - early);
  if (to.indexLaid !== from.indexLaid) {
    if (moment.indexPlaced) add("settle", 0);
    else if (to.indexLaid) add("indexFlatten", after(moveMs.indexFlatten));
    else add("indexArch", moveMs.indexArch);
  }
  if (to.across && !from.across) add("lay", after(moveMs.lay));
  if (!to.across && from.across) {
    // The way back to the chord goes on until a finger presses.
    add("restore", Math.max(0, moveMs.restore - moment.untilPressMs));
  }
  if (to.spare !== from.spare) {
    if (to.spare === "" || to.spare.startsWith(BASS_MUFFLE)) add("settle", 0);
    else add("spare", after(moveMs.spare));
  }
  if (to.thumbOver !== from.thumbOver) {
    if (to.thumbOver) add("spare", after(moveMs.spare));
    else add("settle", 0);
  }
  if ((to.eased & ~from.eased) !== 0) add("release", 0);
  return moves;
}

/** Moves of the picking hand from one pose to the next; `idleMs` is how long it had struck nothing before its time for the move began. */
export function pickingMoves(from: Pose, to: Pose, idleMs: number, settings: Settings): Move[] {
  const { moveMs } = settings;
  const moves: Move[] = [];
  const add = (kind: MoveKind | "settle", needMs: number, effort = MOVE_EFFORT[kind]) => moves.push({ kind, needMs, effort });
  const isOff = from.thumb === 0 && from.planted === 0 && from.spare === "";
  const percussive = settings.strumPalmMute === "percussive";
  if (to.heel && !from.heel) add("palmShift", from.palm > 0 ? 0 : moveMs.palmShift);
  else if (from.heel && !to.heel) add(to.palm > 0 ? "palmShift" : "palmLift", to.palm > 0 ? moveMs.palmShift : moveMs.palmLift);
  else if (to.palm > 0 && from.palm === 0) add("palmLand", percussive ? 0 : Math.max(0, moveMs.palmLand - (isOff ? idleMs : 0)));
  else if (to.palm === 0 && from.palm > 0) add("palmLift", moveMs.palmLift);
  else if (to.palm !== from.palm) add("palmShift", moveMs.palmShift);
  if (to.thumb !== from.thumb) {
    if (to.thumb === 0) add("settle", 0);
    else {
      const further = from.thumb === 0 ? 0 : Math.abs(to.thumb - from.thumb) - 1;
      add("thumbTravel", moveMs.thumbTravel + further * moveMs.thumbTravelNext, MOVE_EFFORT.thumbTravel + further * MOVE_EFFORT.thumbTravelNext);
    }
  }
  if (to.planted !== from.planted || to.spare !== from.spare) add("settle", 0, 1);
  return moves;
}

/** From this share of its time on, a move costs more and more. */
const EASY_SHARE = 0.7;
const HASTE = 4;

/** Effort of moves in thousandths of a tenth, convex above 70% of the time there is. */
export function moveEffort(moves: readonly Move[], haveMs: number): number {
  let sum = 0;
  for (const move of moves) {
    const share = move.needMs === 0 ? 0 : move.needMs / haveMs;
    const haste = share > EASY_SHARE ? 1 + HASTE * (Math.min(share, 1) - EASY_SHARE) : 1;
    sum += Math.round(move.effort * haste * 1000);
  }
  return sum;
}
