/** Place of a fret measured from the nut: L(1 − 2^(−f/12)). */
export function fretFromNutMm(scaleMm: number, fret: number): number {
  return scaleMm * (1 - 2 ** (-fret / 12));
}

/** A place on the neck: string 1 is the highest, fret 0 open. */
export interface NeckPlace {
  string: number;
  fret: number;
}

/** More strings than any instrument has. */
const MOST_STRINGS = 16;

/** A place on the neck as one number, to be known by. */
export function placeNumber(string: number, fret: number): number {
  return fret * MOST_STRINGS + string;
}
