/** Fingers of the picking hand: thumb, index, middle, ring, little. */
export const PICKING_FINGERS = ["p", "i", "m", "a", "c"] as const;
export type PickingFinger = (typeof PICKING_FINGERS)[number];

/** A finger that can touch a string. */
export type ContactFinger = 1 | 2 | 3 | 4 | "T" | PickingFinger;

/** Fingers of the fretting hand as bits: finger f is bit f, the thumb bit 0. */
export type FingerMask = number;

/** The bit of a finger of the fretting hand; 0 for an open string and for fingers of the other hand. */
export function fingerBit(finger: ContactFinger | 0): FingerMask {
  return typeof finger === "number" ? (finger === 0 ? 0 : 1 << finger) : finger === "T" ? 1 : 0;
}
