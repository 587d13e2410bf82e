/** Distances along the neck, in millimetres. */

/** Place of a fret measured from the nut: L(1 − 2^(−f/12)). */
export function fretFromNutMm(scaleMm: number, fret: number): number {
  return scaleMm * (1 - 2 ** (-fret / 12));
}

/** Live length of a string pressed at a fret: from that fret to the bridge. */
export function liveLengthMm(scaleMm: number, fret: number): number {
  return scaleMm * 2 ** (-fret / 12);
}
