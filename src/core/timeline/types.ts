import type { PickingFinger } from "../hands/fingers.ts";
import type { Ticks } from "../music/ticks.ts";
import type { Bend } from "../passage/bends.ts";
import type { Finger, Note, StrokeKind } from "../passage/schema.ts";

/** Music that is valid but cannot be played as written; words included. */
export interface Issue {
  code: string;
  /** JSON pointer into the passage document. */
  path: string;
  /** Bar number from 1, and the written place in it. */
  bar: number;
  at: string;
  says: string;
}

export interface TimelineNote {
  /** Indices into the document: bars[bar].strokes[stroke].notes[note]. */
  bar: number;
  stroke: number;
  note: number;
  string: number;
  /** Where the finger is, as written. */
  fret: number;
  /** Where the string is pressed while it sounds: 0 for a natural harmonic, which is only touched. */
  pressedFret: number;
  /** The fret whose pitch is heard: another than `fret` for a natural harmonic. */
  pitchFret: number;
  finger: Finger | undefined;
  start: Ticks;
  /** Clipped by the string's next onset and by the end of the passage. */
  end: Ticks;
  tone: NonNullable<Note["tone"]>;
  from: NonNullable<Note["from"]>;
  by: PickingFinger | undefined;
  bend: Bend | null;
  vibrato: boolean;
  /** How firmly the palm lies on it where its tone is palm-muted. */
  mute: NonNullable<Note["mute"]>;
  letRing: boolean;
}

export interface TimelineStroke {
  bar: number;
  stroke: number;
  start: Ticks;
  end: Ticks;
  kind: StrokeKind;
  as: "play" | "chuck" | "ghost" | "click" | "rake";
  accent: boolean;
  chord: string | undefined;
  /** Strings the pick, nail or fingers pass over, in the order of the stroke. */
  crossed: readonly number[];
  /** Strings that nails or fingers come down on together with a stroke that sounds. */
  clicked: readonly number[];
  /** The sounding notes that belong to it; empty for dead strokes. */
  notes: readonly TimelineNote[];
  /** Frets that the fretting hand holds through a dead stroke: string, fret, finger. */
  kept: readonly { string: number; fret: number; finger: Finger | undefined; note: number }[];
}

/** From one notated onset, end or release of a bend to the next. A step that an edit leaves alone stays the same object when the engine remembers. */
export interface Step {
  bar: number;
  /** Written place in the bar. */
  atTicks: Ticks;
  tick: Ticks;
  ms: number;
  lengthMs: number;
  /** The stroke that begins here, if any. */
  stroke: TimelineStroke | null;
  /** Per string (index string − 1): the note that sounds during this step, or null. */
  sounding: readonly (TimelineNote | null)[];
  /** Per string: whether its note begins here. */
  begins: readonly boolean[];
}

export interface BarSpan {
  start: Ticks;
  /** Written place at which the bar starts to count (above 0 only in a pick-up). */
  offset: Ticks;
  length: Ticks;
  /** Sounding time of its start and of its end. */
  startMs: number;
  endMs: number;
  tempo: number;
}

export interface Timeline {
  strings: number;
  bars: readonly BarSpan[];
  strokes: readonly TimelineStroke[];
  notes: readonly TimelineNote[];
  steps: readonly Step[];
  end: Ticks;
  endMs: number;
  issues: readonly Issue[];
}
