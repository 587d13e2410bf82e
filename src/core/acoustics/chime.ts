import { FINGER_TIP } from "../hands/contact-areas.ts";
import type { Gain } from "../passage/schema.ts";
import { AUDIBLE_DB, LEAST_STRAY_DB } from "./constants.ts";
import { type LiveString, struckLoudnessDb, type Touch, touchDecay } from "./modal.ts";

/** Partials whose chime is heard as a note of its own; higher ones are too soft to matter. */
const CHIMING = [2, 3, 4, 5] as const;

/** A fingertip's middle within this distance of a node lets the partial ring on. From memory, adjustable. */
const NODE_REACH_MM = 8.5;

/**
 * The lowest partial that rings on although the string is touched, or null when the touches
 * silence it. A lone narrow finger near frets 12, 7, 5, 4, 9, 16 or 19 chimes (common practice);
 * two contacts chime only when both lie on nodes of one partial. Firm or wide contacts never do.
 */
export function chimingPartial(string: LiveString, touches: readonly Touch[]): number | null {
  const reference = { ...string, massKgPerM: 0 };
  for (const n of CHIMING) {
    let decay = 0;
    let contacts = 0;
    for (const touch of touches) {
      const added = touchDecay(reference, touch, n);
      decay += added;
      if (added > 0) contacts++;
    }
    const enough = (FINGER_TIP.rate * FINGER_TIP.widthMm * ((n * Math.PI * NODE_REACH_MM) / string.lengthMm) ** 2) / string.lengthMm;
    if (contacts > 0 && decay < enough * contacts) return n;
  }
  return null;
}

/** By then all but the chime is gone from a touched string. Common practice: within 100 ms. */
const ALONE_MS = 100;

/**
 * Whether what a touch over a node leaves of a struck string is heard: a chime at 12 is strong, at 7, 5 and 19 less so, one at 4, 9
 * and 16 mostly gone before anybody hears it (the string model's own figures).
 */
export function isChimeHeard(string: LiveString, touches: readonly Touch[], gain: Gain): boolean {
  return struckLoudnessDb(string, touches, ALONE_MS) - struckLoudnessDb(string, [], 0) >= AUDIBLE_DB[gain] + LEAST_STRAY_DB;
}
