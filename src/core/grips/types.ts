import type { Finger } from "../passage/schema.ts";

/** A place that the fretting hand keeps, struck or not; fret 0 is an open string that belongs to the chord. */
export interface GripPlace {
  string: number;
  fret: number;
  finger: Finger | undefined;
}

/** What the fretting hand keeps from a moment until the next grip. */
export interface HeldGrip {
  chord: string | undefined;
  places: readonly GripPlace[];
}
