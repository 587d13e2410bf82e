import { FINGER_TIP } from "../hands/patches.ts";
import { type LiveString, type Touch, touchDecay } from "./modal.ts";

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
