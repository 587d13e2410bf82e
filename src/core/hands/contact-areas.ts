/**
 * Where contacts touch a string and how much they take. Rates are in 1/s for the reference mass of `acoustics/constants.ts`;
 * all from memory, adjustable, chosen so that the model agrees with common practice (docs/decisions.md).
 */
export type ContactArea =
  /** A press stops the string at its fret: no area of its own. */
  | { at: "press" }
  /** Over a stretch of the neck around the finger's place; `lone` is one narrow finger, which can chime over a node. */
  | { at: "finger"; rate: number; widthMm: number; lone: boolean }
  /** A stretch counted from the bridge. */
  | { at: "bridge"; rate: number; fromBridgeMm: number; toBridgeMm: number }
  /** The heel at the bridge, by instrument and grade: `RIGS` in `acoustics/constants.ts`. */
  | { at: "heel" }
  /** A stretch counted from the nut. */
  | { at: "nut"; rate: number; fromNutMm: number; toNutMm: number };

export type FingerArea = Extract<ContactArea, { at: "finger" }>;

export const FINGER_TIP: FingerArea = { at: "finger", rate: 320000, widthMm: 10, lone: true };
export const FINGER_PAD: FingerArea = { at: "finger", rate: 250000, widthMm: 14, lone: true };
/** The underside of the index leaning over strings: it lies askew along them, so no node is under it alone. */
export const LEAN: FingerArea = { at: "finger", rate: 250000, widthMm: 14, lone: false };
/** The thumb over the edge: broad enough to lie on no node alone. */
export const THUMB_OVER: FingerArea = { at: "finger", rate: 250000, widthMm: 20, lone: false };
/** Several fingers or the whole hand across the strings. */
export const HAND_ACROSS: FingerArea = { at: "finger", rate: 100000, widthMm: 45, lone: false };
/** Hand laid on for a chuck: well off the bridge. */
export const HEEL_CHUCK = { at: "bridge", rate: 40000, fromBridgeMm: 40, toBridgeMm: 150 } as const satisfies ContactArea;
/** A plucking finger or thumb resting on a string. */
export const PLUCK_REST = { at: "bridge", rate: 100000, fromBridgeMm: 110, toBridgeMm: 124 } as const satisfies ContactArea;
/** Cloth tied around the neck beside the nut. */
export const WRAP = { at: "nut", rate: 250000, fromNutMm: 2, toNutMm: 22 } as const satisfies ContactArea;

/** Middle of a fretting-hand touch: this far behind (nutwards of) the fret. */
export const BEHIND_FRET_MM = 7;
