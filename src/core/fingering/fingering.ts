import { FoldCache, fold, inARow, onItsOwn, type Stage, sameItems } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import { textOf } from "../caching/text.ts";
import { type Grips, isDown, placeHeld } from "../grips/grips.ts";
import { type GripNote, type GripOption, gripOptions, isFretted } from "../grips/hold.ts";
import type { GripPlace, HeldGrip } from "../grips/types.ts";
import { optionsWithin, type Window } from "../grips/windows.ts";
import { type FingerMask, fingerBit } from "../hands/fingers.ts";
import type { Finger, Instrument } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import { leftRingingFrom } from "../timeline/ending.ts";
import type { Issue, Step, Timeline, TimelineNote } from "../timeline/types.ts";
import { handIssues } from "./hand-issues.ts";
import { type HandState, orderOf, type Press } from "./hand-state.ts";
import { cheapestPath, type Grip, type Reached } from "./path.ts";

export interface Fingering {
  /** Per step. */
  hands: readonly HandState[];
  issues: readonly Issue[];
}

/** What the fingering remembers of the last version of a passage. */
export class FingeringCache {
  readonly grips = new FoldCache<null, Grip | null>();
  /** Ways to hold notes, by what they are and the strings that sound open. */
  readonly options = new Map<string, readonly GripOption[]>();
  readonly paths = new FoldCache<Reached, readonly number[]>();
  readonly coming = new FoldCache<null, Resting | null>();
  readonly hands = new FoldCache<Neck, HandState>();
  readonly needs = new FoldCache<Needs, HandState>();
  readonly issues = new FoldCache<null, readonly Issue[]>();
}

/** Where the hand and its fingers are. */
interface Neck {
  position: number;
  places: readonly Press[];
  /** Fingers that pressed at the step before. */
  presses: readonly Press[];
  /** Whether the last stroke was a chuck through which the hand kept its shape. */
  isChucked: boolean;
  /** The last grip; every note that sounds is in it. */
  grip: Grip | null;
  chosen: GripOption | null;
}

/** Where a hand rests that presses nothing. */
type Resting = Pick<Neck, "position" | "places">;

/** Per finger: the sounding time at which it must next press a new place. */
type Needs = ReadonlyMap<Finger, number>;

/** Chooses a finger for every note and every held place that names none: the cheapest path through hand positions. */
export function fingeringOf(
  timeline: Timeline,
  { held, windows }: Pick<Grips, "held" | "windows">,
  instrument: Instrument,
  settings: Settings,
  cache = new FingeringCache(),
): Fingering {
  const { steps } = timeline;
  const isBass = instrument.kind === "electric-bass";
  const before = <T>(list: readonly T[]): (T | null)[] => [null, ...list.slice(0, -1)];
  const after = <T>(list: readonly T[]): (T | null)[] => [...list.slice(1), null];
  const [earlier, heldEarlier] = [before(steps), before(held)];
  const asked = { steps, held, earlier, heldEarlier, windows, isBass, options: cache.options };
  const grips = fold(GRIPS, asked, { keys: steps, beside: [held, earlier, heldEarlier, windows], start: null, cache: cache.grips });
  const chosen = cheapestPath(steps, grips, cache.paths);
  const start = startOf(steps, held, grips, chosen);
  const later = [after(steps), after(held), after(grips), after(chosen)] as const;
  const coming = fold(COMING, { steps, chosen, later }, { keys: steps, beside: [chosen, ...later], start: null, cache: cache.coming });
  const end = leftRingingFrom(timeline);
  const ringsOut = steps.map(({ tick }) => tick >= end);
  const reached = fold(
    REACHED,
    { steps, held, grips, chosen, coming, later, ringsOut, settings },
    { keys: steps, beside: [grips, chosen, held, coming, later[0], later[1], ringsOut], start, cache: cache.hands },
  );
  const hands = fold(HURRIED, { steps, reached, settings }, { keys: steps, beside: [reached], start: NO_NEEDS, cache: cache.needs });
  const issues = fold(ISSUES, { steps, hands, instrument, settings }, { keys: steps, beside: [hands], start: null, cache: cache.issues });
  return { hands, issues: inARow(issues) };
}

interface Asked {
  steps: readonly Step[];
  held: Grips["held"];
  /** The same one step before. */
  earlier: readonly (Step | null)[];
  heldEarlier: readonly (HeldGrip | null)[];
  windows: Grips["windows"];
  isBass: boolean;
  options: FingeringCache["options"];
}

const GRIPS = onItsOwn((i, { steps, held, earlier, heldEarlier, windows, isBass, options }: Asked) =>
  gripOf(steps[i]!, windows[i]!, heldPlaces(steps[i]!, held[i]!), earlier[i] ? heldPlaces(earlier[i], heldEarlier[i]!) : NO_PLACES, isBass, options),
);

interface Held {
  steps: readonly Step[];
  held: Grips["held"];
  grips: readonly (Grip | null)[];
  chosen: readonly (GripOption | null)[];
  coming: readonly (Resting | null)[];
  later: Coming["later"];
  /** Per step: whether it comes after the last notes, which are left ringing. */
  ringsOut: readonly boolean[];
  settings: Settings;
}

const REACHED: Stage<Held, Neck, HandState> = {
  same: sameNeck,
  work: (neck, i, { steps, held, grips, chosen, coming, later, ringsOut, settings }) => {
    // Only a hand that let go before has had its time for the way.
    const goesOver = coming[i] !== null && neck.presses.length === 0;
    const isStruckNext = later[0][i]?.stroke != null && later[1][i] === held[i];
    return handAt(
      steps[i]!,
      { held: held[i]!, isStruckNext, ringsOut: ringsOut[i]! },
      grips[i]!,
      chosen[i]!,
      goesOver ? wentOver(neck, coming[i]!) : neck,
      settings,
    );
  },
};

interface Coming {
  steps: readonly Step[];
  chosen: readonly (GripOption | null)[];
  /** Steps, what is held, grips and ways to hold them, one step later. */
  later: readonly [readonly (Step | null)[], Grips["held"], readonly (Grip | null)[], readonly (GripOption | null)[]];
}

/** At the last dead stroke before a chord, where none of its own is written: where that chord will be. The strings stay damped on the way. */
const COMING = onItsOwn((i, { steps, chosen, later: [next, held, grips, ways] }: Coming): Resting | null => {
  const { stroke, sounding } = steps[i]!;
  if (stroke?.as !== "ghost" || chosen[i] !== null || sounding.some((note) => note !== null)) return null;
  const isChord = (grips[i]?.notes.length ?? 0) > 1;
  return isChord && ways[i] ? restingOn(next[i]!, held[i]!, grips[i]!, ways[i]!) : null;
});

const NO_NEEDS: Needs = new Map();

const HURRIED: Stage<{ steps: readonly Step[]; reached: readonly HandState[]; settings: Settings }, Needs, HandState> = {
  same: (a, b) => a.size === b.size && [...a].every(([finger, ms]) => b.get(finger) === ms),
  backward: true,
  work: (needs, i, { steps, reached, settings }) => withHurry(reached[i]!, steps[i]!.ms, needs, settings),
};

interface Fingered {
  steps: readonly Step[];
  hands: readonly HandState[];
  instrument: Instrument;
  settings: Settings;
}

const ISSUES = onItsOwn((i, { steps, hands, instrument, settings }: Fingered): readonly Issue[] => handIssues(steps[i]!, hands[i]!, instrument, settings));

/** What the hand does at a step, with the fingers that are in a hurry; what is needed later is nothing to it, nor to the steps before. */
function withHurry(hand: HandState, ms: number, needs: Needs, { moveMs }: Settings): readonly [HandState, Needs] {
  const soon = new Map([...needs].filter(([, at]) => at - ms < 2 * moveMs.spare));
  let hurried: FingerMask = 0;
  for (const finger of soon.keys()) if (!hand.presses.some((press) => press.finger === finger)) hurried |= fingerBit(finger);
  for (const finger of hand.placed) soon.set(finger, ms);
  return [hurried === 0 ? hand : { ...hand, hurried }, soon];
}

function sameNeck(a: Neck, b: Neck): boolean {
  return (
    a.position === b.position &&
    a.isChucked === b.isChucked &&
    a.grip === b.grip &&
    a.chosen === b.chosen &&
    samePresses(a.places, b.places) &&
    samePresses(a.presses, b.presses)
  );
}

function samePresses(a: readonly Press[], b: readonly Press[]): boolean {
  return a.length === b.length && a.every((press, k) => samePress(press, b[k]!));
}

/** Before its first note the hand rests where that will be pressed: so a scratch has something to lie under it. */
function startOf(steps: readonly Step[], held: Grips["held"], grips: readonly (Grip | null)[], chosen: readonly (GripOption | null)[]): Neck {
  const first = chosen.findIndex((option) => option !== null);
  const nowhere: Neck = { position: 1, places: [], presses: [], isChucked: false, grip: null, chosen: null };
  if (first < 0) return nowhere;
  return { ...nowhere, ...restingOn(steps[first]!, held[first]!, grips[first]!, chosen[first]!) };
}

/** Where a hand rests that is about to press a step's notes. */
function restingOn(step: Step, held: HeldGrip | null, grip: Grip, chosen: GripOption): Resting {
  const fingerOf = fingersOf(grip, chosen);
  return { position: chosen.position, places: [...pressesOf(step, heldPlaces(step, held), fingerOf), ...shapeKept(step, fingerOf)] };
}

function samePress(a: Press, b: Press): boolean {
  return a === b || (a.finger === b.finger && a.fret === b.fret && sameItems(a.strings, b.strings));
}

/** What has to be held when a stroke begins or other places are held than before; null when nothing is, or neither happens. */
function gripOf(
  step: Step,
  window: Window | null,
  places: readonly GripPlace[],
  before: readonly GripPlace[],
  isBass: boolean,
  known: FingeringCache["options"],
): Grip | null {
  if (!step.stroke && sameItems(places, before)) return null;
  const notes: GripNote[] = [...places];
  for (const note of step.sounding) if (note && isFretted(note)) notes.push({ string: note.string, fret: note.fret, finger: note.finger });
  const kept = step.stroke?.kept ?? [];
  for (const { string, fret, finger } of kept) if (fret > 0) notes.push({ string, fret, finger });
  if (notes.length === 0) return null;
  const open = [...step.sounding, ...kept].flatMap((note) => (note?.fret === 0 ? [note.string] : []));
  const within = window && optionsWithin(window, notes);
  const slid = step.sounding.flatMap((note, s) => (note?.from === "slide" && step.begins[s] ? [note.string] : []));
  return {
    notes,
    slid: slid.length > 0 ? slid : NONE_SLID,
    options: within ?? knownIn(known, textOf([notes.map(({ string, fret, finger }) => [string, fret, finger]), open]), () => gripOptions(notes, isBass, open)),
  };
}

const NO_PLACES: GripPlace[] = [];
const NONE_SLID: readonly number[] = [];

/** Places of the written grip that are pressed though nothing is struck there now. */
function heldPlaces({ sounding }: Step, held: HeldGrip | null): GripPlace[] {
  if (!isDown(held, sounding)) return NO_PLACES;
  return held.places.filter(({ string, fret }) => fret > 0 && placeHeld(held, sounding, string) !== undefined);
}

interface Kept {
  held: HeldGrip | null;
  /** A stroke on the same grip follows at once. */
  isStruckNext: boolean;
  ringsOut: boolean;
}

/** What the hand does at a step, from where it and its fingers were. */
function handAt(step: Step, kept: Kept, grip: Grip | null, chosen: GripOption | null, neck: Neck, settings: Settings): readonly [HandState, Neck] {
  const position = chosen?.position ?? neck.position;
  const places = takenAlong(neck, position);
  const held = grip ? { grip, chosen } : { grip: neck.grip, chosen: neck.chosen };
  const fingerOf = fingersOf(held.grip, held.chosen);
  const sounding = pressesOf(step, heldPlaces(step, kept.held), fingerOf);
  const presses =
    stayingDown(step, kept, neck, settings) ??
    (isHeldThrough(step, settings) ? heldThrough(step, sounding, shapeKept(step, fingerOf), neck.presses) : clickedThrough(step, sounding, neck.presses));
  const placed: Finger[] = [];
  const cameFrom: Press[] = [];
  for (const press of [...presses, ...shapeKept(step, fingerOf)]) {
    const before = places.get(press.finger);
    if (!before || before.fret !== press.fret || !press.strings.every((s) => before.strings.includes(s))) {
      placed.push(press.finger);
      if (before) cameFrom.push(before);
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
    { position, presses, left, placed, cameFrom, hurried: 0 },
    {
      position,
      places: [...places.values()],
      presses,
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

function wentOver(neck: Neck, { position, places }: Resting): Neck {
  const together = takenAlong(neck, position);
  for (const press of places) together.set(press.finger, press);
  return { ...neck, position, places: [...together.values()] };
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
  const byFinger = new Map<string, { finger: Finger; fret: number; strings: number[] }>();
  for (const { string, fret, finger } of notes) {
    const key = `${finger}@${fret}`;
    const press = byFinger.get(key) ?? { finger, fret, strings: [] };
    press.strings.push(string);
    byFinger.set(key, press);
  }
  for (const press of byFinger.values()) press.strings.sort((a, b) => a - b);
  return [...byFinger.values()].sort((a, b) => orderOf(a.finger) - orderOf(b.finger));
}
