import { GESTURES, MOVES, type MoveKind } from "../hands/gestures.ts";
import { type Schools, schoolsOf } from "../hands/schools.ts";
import type { InstrumentKind } from "../music/instruments.ts";
import { parsePitch } from "../music/pitch.ts";
import type { Gain, Instrument, Passage } from "./schema.ts";

/** Everything the player may choose, with nothing left open. */
export interface Settings extends Schools {
  reachMm: number;
  moveMs: Readonly<Record<MoveKind, number>>;
  gain: Gain;
  ring: Passage["ring"];
}

/** Times of the hand's moves in ms where the player has not measured them. */
export const DEFAULT_MOVE_MS = Object.fromEntries(MOVES.map((kind) => [kind, GESTURES[kind].ms])) as Readonly<Record<MoveKind, number>>;

/** Comfortable span of fingers 1-4 in mm. Common practice: 95-110 mm. */
export const DEFAULT_REACH_MM = 105;

/** Widest span a hand is stretched to in mm. Common practice: 125-145 mm; kept in proportion to the reach. */
export const MAX_SPAN_FACTOR = 1.3;

export function settingsOf(passage: Pick<Passage, "instrument" | "player" | "gain" | "ring">): Settings {
  const { instrument, player } = passage;
  // Assigned, not spread: V8 gives an object that is spread from another a layout of its own time and again, and throws away
  // whatever was compiled for the last one, which is all that plans.
  return Object.assign(schoolsOf(player, instrument.kind), {
    reachMm: player.reachMm ?? DEFAULT_REACH_MM,
    moveMs: Object.assign({}, DEFAULT_MOVE_MS, player.moveMs),
    gain: passage.gain ?? defaultGain(instrument.kind),
    ring: passage.ring,
  });
}

export function defaultGain(kind: InstrumentKind): Gain {
  return kind === "acoustic-guitar" || kind === "nylon-guitar" ? "clean" : "edge";
}

/** Pitches of the open strings as MIDI numbers, string 1 first, capo included. */
export function openPitches(instrument: Instrument): number[] {
  return instrument.tuning.map((name) => (parsePitch(name) as number) + instrument.capo);
}

/** The highest fret there is, counted from nut or capo as notes are. */
export function lastFret({ frets, capo }: Instrument): number {
  return frets - capo;
}

/** Vibrating length of an open string in mm: nut or capo to bridge. */
export function openLengthMm(instrument: Instrument): number {
  return instrument.scaleLengthMm * 2 ** (-instrument.capo / 12);
}
