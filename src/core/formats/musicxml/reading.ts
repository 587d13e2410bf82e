import { TICKS_PER_WHOLE, type Ticks } from "../../music/ticks.ts";
import type { Instrument, PassageInput } from "../../passage/schema.ts";
import type { RemarkTaker } from "../remarks.ts";

export type BarInput = PassageInput["bars"][number];
export type NoteInput = NonNullable<NonNullable<BarInput["strokes"]>[number]["notes"]>[number];
/** A grip with its moment in ticks from the measure's beginning. */
export type GripInput = Omit<NonNullable<BarInput["grips"]>[number], "at"> & { at: Ticks };
export type StrokeInput = NonNullable<BarInput["strokes"]>[number];

/** A note as it stands in a measure, ties joined, before it belongs to a stroke. */
export interface Sounding {
  bar: number;
  at: Ticks;
  length: Ticks;
  /** Sounding pitch as a MIDI number; null when only the place on the neck is known. */
  pitch: number | null;
  note: Partial<NoteInput>;
  /** What belongs to its stroke. */
  stroke: Partial<StrokeInput>;
  isCross: boolean;
  /** Words of this program for what has no element. */
  words: ReadonlySet<string>;
}

/** What holds from measure to measure, and what has been read. */
export interface Reading {
  divisions: number;
  meter: [number, number];
  /** Written pitches sound so much higher. */
  octaves: number;
  /** The staff that is read of several; null for all. */
  tabStaff: string | null;
  semitones: number;
  tempo: number | undefined;
  swing: PassageInput["feel"] | undefined;
  bars: BarInput[];
  remarks: RemarkTaker;
  instrument: Instrument;
  sounding: Sounding[];
}

/** Divisions of the file as ticks of the document, exact where they can be. */
export function ticksFrom(divisions: number, count: number): Ticks {
  return Math.round((count * TICKS_PER_WHOLE) / (4 * divisions));
}
