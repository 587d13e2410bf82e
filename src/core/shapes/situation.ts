import type { StringSet } from "../acoustics/modal.ts";
import type { SharedLists } from "../caching/shared-lists.ts";
import type { HandState, Press } from "../fingering/hand-state.ts";
import type { HeldGrip } from "../grips/types.ts";
import { type FingerMask, fingerBit, type PickingFinger } from "../hands/fingers.ts";
import type { Intent } from "../intent/intent.ts";
import type { InstrumentKind } from "../music/instruments.ts";
import type { StrokeKind } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Step, TimelineNote, TimelineStroke } from "../timeline/types.ts";
import { bit, type StringMask } from "./types.ts";

/** What holds for a whole passage: who plays on what. */
export interface Setup {
  settings: Settings;
  strings: StringSet;
  kind: InstrumentKind;
  count: number;
  /** Lists that many shapes have in common. */
  lists: SharedLists;
}

/**
 * All that the fretting hand's shapes depend on at one step, and no more: plain data, so that equal situations are known
 * by their text. The fewer different ones, the fewer lists to build.
 */
export interface FrettingSituation {
  intents: readonly Intent[];
  /** Per string: the fret at which it is pressed now; 0 when it is open. */
  pressedFrets: readonly number[];
  /** Strings, as bits, that are to sound before any finger is set down or lets go. */
  soonWanted: StringMask;
  /** Fret at which the index belongs. */
  position: number;
  presses: readonly Press[];
  /** Fingers whose note is over and that have not been needed elsewhere since. */
  left: readonly Press[];
  /** Of fingers newly set down on one string: the string beside it, at the same fret, that they have just rolled off. */
  rolledFrom: readonly { finger: Press["finger"]; fret: number; string: number }[];
  /** Fingers that could lie idle but must press a new place before they could have been laid down and come back. */
  hurried: FingerMask;
  /** Fingers that bend or shake a note: they do nothing else. */
  bending: FingerMask;
  /** Open strings, as bits, of a chord that is held through a dead stroke: fingertips stay off them. */
  keptOpen: StringMask;
  /** The fretting hand slaps across the strings: a dead stroke without the picking hand. */
  slaps: boolean;
  /** A fret wrap lies near the nut. */
  wrapped: boolean;
}

/** All that the picking hand's shapes depend on at one step, and no more. */
export interface PickingSituation {
  intents: readonly Intent[];
  stroke: Pick<TimelineStroke, "kind" | "as" | "crossed" | "clicked"> | null;
  /** Per string: how firmly the palm lies on it where it is palm-muted. */
  mutes: readonly (TimelineNote["mute"] | null)[];
  /** Per string: the finger that the document gives its new note. */
  by: readonly (PickingFinger | null)[];
  /** The string the next stroke sets out from, and who makes it; null when none follows. */
  nextStroke: { string: number; kind: StrokeKind } | null;
  /** String the thumb played last, for its return; 0 if none. */
  lastThumb: number;
  /** The bass-most string of the last stroke, beside which a hand that follows stays; 0 before the first. */
  lastPicked: number;
  /** A rest after a palm-muted stroke: nobody lifts the palm for it. */
  palmStays: boolean;
  /** This hand holds a tapped note on the neck, or is about to tap the next one. */
  taps: boolean;
  slaps: boolean;
}

/** What the picking hand struck last, up to a step. */
export interface LastStruck {
  lastThumb: number;
  lastPicked: number;
  /** Under the palm. */
  wasMuted: boolean;
}

export type FrettingContext = Setup & FrettingSituation;
export type PickingContext = Setup & PickingSituation;

/** Everything at once; field by field, which is much quicker than joining objects. */
export function frettingContext({ settings, strings, kind, count, lists }: Setup, situation: FrettingSituation): FrettingContext {
  const { intents, pressedFrets, soonWanted, position, presses, left, rolledFrom, hurried, bending, keptOpen, slaps, wrapped } = situation;
  return {
    settings,
    strings,
    kind,
    count,
    lists,
    intents,
    pressedFrets,
    soonWanted,
    position,
    presses,
    left,
    rolledFrom,
    hurried,
    bending,
    keptOpen,
    slaps,
    wrapped,
  };
}

export function pickingContext({ settings, strings, kind, count, lists }: Setup, situation: PickingSituation): PickingContext {
  const { intents, stroke, mutes, by, nextStroke, lastThumb, lastPicked, palmStays, taps, slaps } = situation;
  return { settings, strings, kind, count, lists, intents, stroke, mutes, by, nextStroke, lastThumb, lastPicked, palmStays, taps, slaps };
}

export function frettingSituation(
  step: Step,
  intents: readonly Intent[],
  soonWanted: StringMask,
  hand: HandState,
  held: HeldGrip | null,
  wrapped: boolean,
): FrettingSituation {
  const isBent = (string: number) => {
    const note = step.sounding[string - 1];
    return note != null && (note.bend !== null || note.vibrato);
  };
  return {
    intents,
    pressedFrets: pressedFretsOf(step, hand),
    soonWanted,
    position: hand.position,
    presses: hand.presses,
    left: hand.left,
    rolledFrom: rolledFromIn(hand),
    hurried: hand.hurried,
    bending: hand.presses.reduce((mask, press) => (press.strings.some(isBent) ? mask | fingerBit(press.finger) : mask), 0),
    keptOpen: keptOpenIn(step, hand, held),
    slaps: isSlapped(step),
    wrapped,
  };
}

function rolledFromIn({ presses, cameFrom }: HandState): FrettingSituation["rolledFrom"] {
  if (cameFrom.length === 0) return NOWHERE;
  return presses.flatMap(({ finger, fret, strings: [string, ...more] }) => {
    const from = cameFrom.find((before) => before.finger === finger && before.fret === fret && before.strings.length === 1)?.strings[0];
    return from !== undefined && more.length === 0 && Math.abs(from - string!) === 1 ? [{ finger, fret, string: from }] : [];
  });
}

const NOWHERE: FrettingSituation["rolledFrom"] = [];

function keptOpenIn({ stroke }: Step, { presses }: HandState, held: HeldGrip | null): StringMask {
  if (!stroke || stroke.as === "play" || presses.length === 0) return 0;
  return [...stroke.kept, ...(held?.places ?? [])].reduce((mask, { string, fret }) => (fret === 0 ? mask | bit(string) : mask), 0);
}

/** Where every string is pressed: for its note, or by a grip that holds it though nobody strikes it. */
function pressedFretsOf({ sounding }: Step, { presses }: HandState): number[] {
  const frets: number[] = new Array(sounding.length).fill(0);
  for (const { strings, fret } of presses) for (const string of strings) frets[string - 1] = fret;
  sounding.forEach((note, s) => {
    if (note) frets[s] = note.tone === "ghost" ? 0 : note.pressedFret;
  });
  return frets;
}

export function pickingSituation(
  step: Step,
  intents: readonly Intent[],
  next: TimelineStroke | null,
  { lastThumb, lastPicked, wasMuted }: LastStruck,
  taps: boolean,
): PickingSituation {
  const { stroke } = step;
  return {
    intents,
    stroke: stroke && { kind: stroke.kind, as: stroke.as, crossed: stroke.crossed, clicked: stroke.clicked },
    mutes: step.sounding.map((note) => (note?.tone === "palm" ? note.mute : null)),
    by: step.sounding.map((note, s) => (note && step.begins[s] ? (note.by ?? null) : null)),
    nextStroke: next && { string: next.crossed[0]!, kind: next.kind },
    lastThumb,
    lastPicked,
    palmStays: stroke === null && wasMuted,
    taps,
    slaps: isSlapped(step),
  };
}

/** A dead stroke that the picking hand does not make. */
function isSlapped({ stroke }: Step): boolean {
  return stroke !== null && stroke.as !== "play" && stroke.kind === "none";
}

export function wantedMask(intents: readonly Intent[]): StringMask {
  return intents.reduce((mask, intent, s) => (isWanted(intent) ? mask | bit(s + 1) : mask), 0);
}

/** Whether a string is meant to be heard now, so that nothing may choke it. */
export function isWanted(intent: Intent): boolean {
  return intent === "ring" || intent === "free" || intent === "muffled";
}
