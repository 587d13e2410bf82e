import type { Note } from "./schema.ts";

/** What a bent string does, in semitones above the pitch of its fret. */
export interface Bend {
  /** Where it is when it is struck. */
  from: number;
  /** The most it is bent: reached right after the stroke. */
  most: number;
  /** Where it is let back to from the middle of its note on; null when it stays. */
  back: number | null;
  /** Towards which string numbers: 1 the bass side, -1 the treble side. */
  side: 1 | -1;
}

/** Fingers push or pull a string towards the middle of the neck (common practice): strings 1 to 3 bass-wards, the others treble-wards. */
const LAST_BENT_BASSWARDS = 3;

/** The bend of a note; null where the string stays straight. */
export function bendOf({ bend, string }: Pick<Note, "bend" | "string">): Bend | null {
  if (bend === undefined) return null;
  const { by, from = 0, then = "hold", towards = string <= LAST_BENT_BASSWARDS ? "bass" : "treble" } = typeof bend === "number" ? { by: bend } : bend;
  const most = Math.max(by, from);
  if (most === 0) return null;
  return { from, most, back: then === "release" ? 0 : by < from ? by : null, side: towards === "bass" ? 1 : -1 };
}
