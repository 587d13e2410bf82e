import type { PlannedHand } from "./parts.ts";
import { type FrettingPosture, isDown, leansAsFar, type PickingPosture, type Posture, samePalm, sameSpare, thumbOn } from "./postures.ts";
import { PRICES, type Price } from "./prices.ts";

/*
 * The catalogue of gestures: every change of a hand's posture that takes time. Settings, costs, bottlenecks and Setup read
 * it; docs/hands.md says how to add one.
 */

/** One gesture. Times are the middles of the ranges players report (common practice, no source); adjustable per player. */
interface GestureRow<P extends Posture = Posture> {
  hand: P["hand"];
  /** Time it takes in ms unless the player says otherwise. */
  ms: number;
  /** Effort in tenths when there is time in plenty: more than holding its contact for half a second. From memory, adjustable. */
  readonly effort: number;
  /** In a bottleneck. */
  name: string;
  /** In the Setup. */
  asks: string;
  /** Whether the written music leaves no way around it: its old posture is not to be had any more, or every posture has the new one. */
  isForced(from: P, next: readonly P[]): boolean;
}

const never = () => false;
const always = () => true;
type Written<P extends Posture> = Omit<GestureRow<P>, "hand" | "effort"> & { effort: Price };
const fretting = ({ effort, ...row }: Written<FrettingPosture>): GestureRow<FrettingPosture> => ({
  hand: "fretting",
  ...row,
  get effort() {
    return PRICES[effort];
  },
});
const picking = ({ effort, ...row }: Written<PickingPosture>): GestureRow<PickingPosture> => ({
  hand: "picking",
  ...row,
  get effort() {
    return PRICES[effort];
  },
});
const leavesPalm = (from: PickingPosture, next: readonly PickingPosture[]) => !next.some((to) => samePalm(to, from));

export const GESTURES = {
  palmLand: picking({ ms: 65, effort: "palmLand", name: "palm landing", asks: "Palm lands", isForced: (_, next) => next.every(isDown) }),
  palmLift: picking({ ms: 60, effort: "palmLift", name: "palm lift", asks: "Palm lifts", isForced: leavesPalm }),
  /** A palm that stays, per string. */
  palmShift: picking({ ms: 25, effort: "palmShift", name: "palm shift", asks: "Palm shifts, each string", isForced: leavesPalm }),
  /** Letting a chord go and pressing it again, lean and tip with it: asked for by the notes themselves. */
  release: fretting({ ms: 45, effort: "release", name: "release", asks: "Let a chord go", isForced: always }),
  repress: fretting({ ms: 53, effort: "repress", name: "re-press", asks: "Press it again", isForced: always }),
  /** By itself, while nothing is pressed or let go. */
  indexFlatten: fretting({
    ms: 30,
    effort: "indexFlatten",
    name: "index flattening",
    asks: "Lay the index flat",
    isForced: (_, next) => next.every(({ lean }) => lean !== 0),
  }),
  indexArch: fretting({
    ms: 30,
    effort: "indexArch",
    name: "index arching",
    asks: "Arch the index",
    isForced: (from, next) => !next.some((to) => leansAsFar(to, from)),
  }),
  lay: fretting({
    ms: 115,
    effort: "lay",
    name: "laying the hand across",
    asks: "Lay the hand across all strings",
    isForced: (_, next) => next.every(({ across }) => across),
  }),
  restore: fretting({
    ms: 185,
    effort: "restore",
    name: "restoring the chord",
    asks: "Come back to the chord",
    isForced: (_, next) => !next.some(({ across }) => across),
  }),
  spare: fretting({
    ms: 90,
    effort: "spare",
    name: "placing a spare finger",
    asks: "Lay a spare finger",
    isForced: (from, next) =>
      !next.some(({ spare, thumb }) => (spare.kind === "none" || sameSpare(spare, from.spare)) && (thumb === "behind" || from.thumb === "over")),
  }),
  thumbTravel: picking({
    ms: 65,
    effort: "thumbTravel",
    name: "thumb travel",
    asks: "Thumb to the next string",
    isForced: (from, next) => !next.some((to) => thumbOn(to) === 0 || thumbOn(to) === thumbOn(from)),
  }),
  /** Added to `thumbTravel`, per string. */
  thumbTravelNext: picking({ ms: 20, effort: "thumbTravelNext", name: "thumb travel", asks: "… and each further one", isForced: never }),
} as const satisfies Record<string, { hand: PlannedHand; ms: number; effort: number }>;

export type MoveKind = keyof typeof GESTURES;

/** Names of the gestures in the order of the catalogue: the keys of a player's `moveMs`. */
export const MOVES = Object.keys(GESTURES) as [MoveKind, ...MoveKind[]];
