import { knownIn } from "../caching/known.ts";
import { trimmed } from "../caching/trimmed.ts";
import { isDown, placeHeld } from "../grips/grips.ts";
import { type GripOption, isFretted } from "../grips/hold.ts";
import type { GripPlace, HeldGrip } from "../grips/types.ts";
import { type FingerMask, fingerBit } from "../hands/fingers.ts";
import { placeNumber } from "../music/neck.ts";
import type { Finger } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Step, TimelineNote } from "../timeline/types.ts";
import { type HandState, orderOf, type Press, samePresses } from "./hand-state.ts";
import type { Grip } from "./path.ts";

/*
 * What the fretting hand does at one step, from where it and its fingers were: what it presses, what it leaves down, where the
 * fingers rest whose notes are over.
 */

/** Where the hand and its fingers are. */
export interface Neck {
  position: number;
  places: readonly Press[];
  /** Fingers that pressed at the step before. */
  presses: readonly Press[];
  /** Fingers that were off the strings then, since theirs sounded open or behind them. */
  away: FingerMask;
  /** Whether the last stroke was a chuck through which the hand kept its shape. */
  isChucked: boolean;
  /** The last grip; every note that sounds is in it. */
  grip: Grip | null;
  chosen: GripOption | null;
}

/** Where a hand rests that presses nothing. */
export type Resting = Pick<Neck, "position" | "places">;

export function sameNeck(a: Neck, b: Neck): boolean {
  return (
    a.position === b.position &&
    a.away === b.away &&
    a.isChucked === b.isChucked &&
    a.grip === b.grip &&
    a.chosen === b.chosen &&
    samePresses(a.places, b.places) &&
    samePresses(a.presses, b.presses)
  );
}

/** Where a hand rests that is about to press a step's notes. */
export function restingOn(step: Step, held: HeldGrip | null, grip: Grip, chosen: GripOption): Resting {
  const fingerOf = fingersOf(grip, chosen);
  return { position: chosen.position, places: [...pressesOf(step, heldPlaces(step, held), fingerOf), ...shapeKept(step, fingerOf)] };
}

export const NO_PLACES: GripPlace[] = [];

/** Places of the written grip that are pressed though nothing is struck there now. */
export function heldPlaces({ sounding }: Step, held: HeldGrip | null): GripPlace[] {
  if (!isDown(held, sounding)) return NO_PLACES;
  return held.places.filter(({ string, fret }) => fret > 0 && placeHeld(held, sounding, string) !== undefined);
}

interface Kept {
  held: HeldGrip | null;
  /** A stroke on the same grip follows at once. */
  isStruckNext: boolean;
  ringsOut: boolean;
  /** The step after it, and how its notes are held; null after the last. */
  next: Next | null;
}

interface Next {
  step: Step;
  grip: Grip | null;
  chosen: GripOption | null;
}

/** What the hand does at a step, from where it and its fingers were. */
export function handAt(step: Step, kept: Kept, grip: Grip | null, chosen: GripOption | null, neck: Neck, settings: Settings): readonly [HandState, Neck] {
  const position = chosen?.position ?? neck.position;
  const places = takenAlong(neck, position);
  const held = grip ? { grip, chosen } : { grip: neck.grip, chosen: neck.chosen };
  const fingerOf = fingersOf(held.grip, held.chosen);
  const sounding = underTap(step, pressesOf(step, heldPlaces(step, kept.held), fingerOf), neck.presses, kept.next);
  const presses =
    stayingDown(step, kept, neck, settings) ??
    (isHeldThrough(step, settings) ? heldThrough(step, sounding, shapeKept(step, fingerOf), neck.presses) : clickedThrough(step, sounding, neck.presses));
  const placed: Finger[] = [];
  const cameFrom: Press[] = [];
  for (const press of [...presses, ...shapeKept(step, fingerOf)]) {
    const before = places.get(press.finger);
    if (!before || before.fret !== press.fret || !press.strings.every((s) => before.strings.includes(s))) {
      placed.push(press.finger);
      if (before && (neck.away & fingerBit(press.finger)) === 0) cameFrom.push(before);
    }
    places.set(press.finger, behind(press, before, presses));
  }
  const pressing = new Set(presses.map((p) => p.finger));
  // Where a finger presses no other one lies any more.
  const isTaken = (p: Press) =>
    presses.some((press) => press.finger !== p.finger && press.fret === p.fret && p.strings.every((s) => press.strings.includes(s)));
  for (const [finger, place] of places) if (isTaken(place)) places.delete(finger);
  const left = [...places.values()].filter((p) => !pressing.has(p.finger)).sort((a, b) => orderOf(a.finger) - orderOf(b.finger));
  return [
    { position, presses, left: trimmed(left), placed: trimmed(placed), cameFrom: trimmed(cameFrom), hurried: 0 },
    {
      position,
      places: [...places.values()],
      presses,
      away: left.reduce((mask, p) => (p.strings.some((s) => (step.sounding[s - 1]?.pressedFret ?? p.fret) < p.fret) ? mask | fingerBit(p.finger) : mask), 0),
      isChucked: step.stroke ? step.stroke.as === "chuck" && isHeldThrough(step, settings) : neck.isChucked,
      grip: held.grip,
      chosen: held.chosen,
    },
  ];
}

/** A barre stays down where another finger presses higher on one of its strings. */
function behind(press: Press, before: Press | undefined, presses: readonly Press[]): Press {
  if (!before || before.fret !== press.fret || !press.strings.every((s) => before.strings.includes(s))) return press;
  const under = before.strings.filter((s) => !press.strings.includes(s) && presses.some((other) => other.fret > press.fret && other.strings.includes(s)));
  return under.length === 0 ? press : { ...press, strings: [...press.strings, ...under].sort((a, b) => a - b) };
}

/** A hand that shifts takes its fingers along: what they left behind is behind. */
function takenAlong({ position: from, places }: Neck, position: number): Map<Finger, Press> {
  return new Map(places.filter((p) => position === from || isWithinHand(p.finger, p.fret, position)).map((p) => [p.finger, p]));
}

export function wentOver(neck: Neck, { position, places }: Resting): Neck {
  const together = takenAlong(neck, position);
  for (const press of places) together.set(press.finger, press);
  const { presses, away, isChucked, grip, chosen } = neck;
  return { position, places: [...together.values()], presses, away, isChucked, grip, chosen };
}

function fingersOf(grip: Grip | null, chosen: GripOption | null): FingerOf {
  return (string, fret) => {
    const n = grip?.notes.findIndex((note) => note.string === string && note.fret === fret) ?? -1;
    if (n < 0) throw new Error("a note sounds that no grip holds");
    return chosen!.fingers[n]!;
  };
}

/** A chord that is held stays down through a rest where chords bloom, and between a chuck that ended its sound and its next stroke. */
function stayingDown(
  { stroke, sounding }: Step,
  { held, isStruckNext, ringsOut }: Kept,
  { presses, isChucked }: Neck,
  { ring }: Settings,
): readonly Press[] | null {
  if (ringsOut) return presses;
  if ((ring !== "bloom" && !(isChucked && isStruckNext)) || stroke !== null || held === null || sounding.some((note) => note !== null)) return null;
  // What a tune put down over it is over.
  const own = presses.filter(({ strings, fret }) => strings.every((s) => held.places.some((place) => place.string === s && place.fret === fret)));
  return own.length === presses.length ? presses : own;
}

/** A hand flat on all strings, and fingers that click, end the sound of a chord that the fretting hand keeps pressed. */
function isHeldThrough({ stroke }: Step, { chuck }: Settings): boolean {
  if (stroke === null || stroke.kind === "none") return false;
  return stroke.as === "click" || (stroke.as === "chuck" && chuck === "flat-hand");
}

/** Under a note that the other hand taps, the finger is down that it is pulled off to; else what pressed its string stays. */
function underTap({ sounding: notes }: Step, sounding: readonly Press[], before: readonly Press[], next: Next | null): readonly Press[] {
  const presses = [...sounding];
  for (const note of notes) {
    if (note?.from !== "tap") continue;
    const after = next?.step.sounding[note.string - 1];
    const pulledTo = next?.chosen && after?.from === "pull" && isFretted(after) ? fingered(after, fingersOf(next.grip, next.chosen)) : null;
    const own = pulledTo ? joined([pulledTo]) : before.filter(({ strings }) => strings.includes(note.string));
    // On the bridge side of the tap it would be in its way.
    presses.push(...own.filter(({ fret, finger }) => fret < note.pressedFret && presses.every((press) => press.finger !== finger)));
  }
  return presses.length === sounding.length ? sounding : presses.sort((a, b) => orderOf(a.finger) - orderOf(b.finger));
}

/** Under fingers that click beside a note, the others stay pressed as well. */
function clickedThrough({ stroke, sounding: notes }: Step, sounding: readonly Press[], before: readonly Press[]): readonly Press[] {
  if (!stroke || stroke.clicked.length === 0) return sounding;
  const isFree = (press: Press) =>
    sounding.every(({ finger }) => finger !== press.finger) && press.strings.every((s) => stroke.clicked.includes(s) && notes[s - 1] === null);
  return [...sounding, ...before.filter(isFree)].sort((a, b) => orderOf(a.finger) - orderOf(b.finger));
}

/** What is pressed through such a stroke: the shape that it is written with, else the one from before. */
function heldThrough(step: Step, sounding: readonly Press[], written: readonly Press[], before: readonly Press[]): Press[] {
  const presses = [...sounding];
  for (const press of written.length > 0 ? written : before) {
    const isFree = presses.every((other) => other.finger !== press.finger && !other.strings.some((s) => press.strings.includes(s)));
    if (isFree && press.strings.every((s) => step.sounding[s - 1] === null)) presses.push(press);
  }
  return presses.sort((a, b) => orderOf(a.finger) - orderOf(b.finger));
}

/** Whether a finger of a hand at a position can lie at a fret: at its own or one off. */
function isWithinHand(finger: Finger, fret: number, position: number): boolean {
  return finger === "T" || finger === 0 || Math.abs(fret - (position + finger - 1)) <= 1;
}

type FingerOf = (string: number, fret: number) => Finger;

function pressesOf(step: Step, places: readonly GripPlace[], fingerOf: FingerOf): Press[] {
  const sounding = step.sounding.filter((note) => note !== null && isFretted(note) && isPressed(note)) as TimelineNote[];
  return joined([...sounding, ...places].map((place) => fingered(place, fingerOf)));
}

/** Ghosted notes and natural harmonics are touched, not pressed. */
function isPressed({ tone, pressedFret }: TimelineNote): boolean {
  return tone !== "ghost" && pressedFret > 0;
}

/** Places that fingers keep without pressing: a shape held through a dead stroke, a ghosted note, a harmonic's node. */
function shapeKept(step: Step, fingerOf: FingerOf): Press[] {
  const touched = step.sounding.flatMap((note) => (note && isFretted(note) && !isPressed(note) ? [fingered(note, fingerOf)] : []));
  const held = (step.stroke?.kept ?? []).flatMap((kept) => (kept.fret > 0 ? [fingered(kept, fingerOf)] : []));
  return joined([...touched, ...held]);
}

function fingered({ string, fret }: { string: number; fret: number }, fingerOf: FingerOf) {
  return { string, fret, finger: fingerOf(string, fret) };
}

function joined(notes: { string: number; fret: number; finger: Finger }[]): Press[] {
  const presses: Press[] = [];
  for (const { string, fret, finger } of notes) {
    const same = presses.findIndex((press) => press.finger === finger && press.fret === fret);
    if (same < 0) presses.push(pressOn(string, fret, finger));
    else presses[same] = { finger, fret, strings: [...presses[same]!.strings, string].sort((a, b) => a - b) };
  }
  return trimmed(presses.length > 1 ? presses.sort((a, b) => orderOf(a.finger) - orderOf(b.finger)) : presses);
}

/** A finger on one string: there are few, each in many steps, so the same one is the same object. */
function pressOn(string: number, fret: number, finger: Finger): Press {
  const byPlace = knownIn(knownPresses, finger, () => new Map<number, Press>());
  return knownIn(byPlace, placeNumber(string, fret), () => ({ finger, fret, strings: [string] }));
}

const knownPresses = new Map<Finger, Map<number, Press>>();
