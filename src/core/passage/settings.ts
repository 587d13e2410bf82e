import { parsePitch } from "../music/pitch.ts";
import type { Gain, Instrument, InstrumentKind, MoveKind, Passage, Player } from "./schema.ts";

/** Everything the player may choose, with nothing left open. */
export interface Settings {
  playsWith: NonNullable<Player["playsWith"]>;
  index: NonNullable<Player["index"]>;
  neighbour: NonNullable<Player["neighbour"]>;
  pickHand: NonNullable<Player["pickHand"]>;
  chuck: NonNullable<Player["chuck"]>;
  strumPalmMute: NonNullable<Player["strumPalmMute"]>;
  strokes: NonNullable<Player["strokes"]>;
  thumbOver: boolean;
  bassThumb: NonNullable<Player["bassThumb"]>;
  fretWrap: boolean;
  pullOff: NonNullable<Player["pullOff"]>;
  reachMm: number;
  moveMs: Readonly<Record<MoveKind, number>>;
  gain: Gain;
  ring: Passage["ring"];
}

/**
 * Times of the hand's moves in ms. Common practice, no source: the middles of the ranges
 * players report; every one is adjustable per player.
 */
export const DEFAULT_MOVE_MS: Readonly<Record<MoveKind, number>> = {
  palmLand: 75,
  palmLift: 60,
  palmShift: 50,
  release: 45,
  repress: 65,
  indexFlatten: 80,
  indexArch: 80,
  lay: 115,
  restore: 185,
  spare: 90,
  thumbTravel: 65,
  thumbTravelNext: 20,
};

/** Comfortable span of fingers 1-4 in mm. Common practice: 95-110 mm. */
export const DEFAULT_REACH_MM = 105;

/** Widest span a hand is stretched to in mm. Common practice: 125-145 mm; kept in proportion to the reach. */
export const MAX_SPAN_FACTOR = 1.3;

export function settingsOf(passage: Pick<Passage, "instrument" | "player" | "gain" | "ring">): Settings {
  const { instrument, player } = passage;
  return {
    playsWith: player.playsWith ?? defaultPlaysWith(instrument.kind),
    index: player.index ?? "laid",
    neighbour: player.neighbour ?? "fingertip",
    pickHand: player.pickHand ?? "palm",
    chuck: player.chuck ?? "flat-hand",
    strumPalmMute: player.strumPalmMute ?? "anchored",
    strokes: player.strokes ?? "pendulum",
    thumbOver: player.thumbOver === "yes",
    bassThumb: player.bassThumb ?? "floating",
    fretWrap: player.fretWrap === "on",
    pullOff: player.pullOff ?? "flick",
    reachMm: player.reachMm ?? DEFAULT_REACH_MM,
    moveMs: { ...DEFAULT_MOVE_MS, ...player.moveMs },
    gain: passage.gain ?? defaultGain(instrument.kind),
    ring: passage.ring,
  };
}

export function defaultPlaysWith(kind: InstrumentKind): Settings["playsWith"] {
  return kind === "nylon-guitar" || kind === "electric-bass" ? "fingers" : "pick";
}

export function defaultGain(kind: InstrumentKind): Gain {
  return kind === "acoustic-guitar" || kind === "nylon-guitar" ? "clean" : "edge";
}

/** Pitches of the open strings as MIDI numbers, string 1 first, capo included. */
export function openPitches(instrument: Instrument): number[] {
  return instrument.tuning.map((name) => (parsePitch(name) as number) + instrument.capo);
}

/** Vibrating length of an open string in mm: nut or capo to bridge. */
export function openLengthMm(instrument: Instrument): number {
  return instrument.scaleLengthMm * 2 ** (-instrument.capo / 12);
}
