import { inARow, sameItems } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import { fretFromNutMm } from "../music/neck.ts";
import type { Ticks } from "../music/ticks.ts";
import type { Instrument } from "../passage/schema.ts";
import { openLengthMm, type Settings } from "../passage/settings.ts";
import type { BarSpan, Step, Timeline } from "../timeline/types.ts";
import { type GripNote, type GripOption, gripOptions, isFretted, UNPLAYABLE } from "./hold.ts";
import type { HeldGrip } from "./types.ts";

/*
 * A bar, or half of one, whose chords and held notes all fit one hand shape: the hand takes that shape once, whichever part of it
 * is struck (arpeggios, bass and brush, a walk over a barre, a tune over a chord; common practice). Notes one by one are a broken chord where fingers
 * pluck a guitar, a chord blooms, or a pick goes up and down over a place each of four strings; under gain the fingers of that let go note by note.
 * Else they are a line, fingered note by note.
 */

/** One shape for a stretch of music, and how it can be held; the same object for the same shape. */
export interface Window {
  notes: readonly GripNote[];
  options: readonly GripOption[];
  /** What the hand keeps down through all of it, with the open strings that belong to it; null where its notes are a line that ends note by note. */
  held: HeldGrip | null;
}

/** What is remembered, for one instrument and player: windows by what they were made of, and what a bar's steps came to. */
export class WindowCache {
  readonly shapes = new Map<string, Window | null>();
  readonly bars = new WeakMap<Step, BarWindows>();
}

interface BarWindows {
  steps: readonly Step[];
  length: Ticks;
  /** Per step. */
  windows: readonly (Window | null)[];
}

/** Per step: the window it lies in, or null. */
export function windowsOf({ steps, bars }: Timeline, instrument: Instrument, settings: Settings, cache = new WindowCache()): (Window | null)[] {
  const found: (readonly (Window | null)[])[] = [];
  for (let from = 0; from < steps.length; ) {
    const first = steps[from]!;
    let to = from;
    while (to < steps.length && steps[to]!.bar === first.bar) to++;
    const own = steps.slice(from, to);
    const { length } = bars[first.bar]!;
    const known = cache.bars.get(first);
    const windows =
      known && known.length === length && sameItems(known.steps, own) ? known.windows : barWindows(own, bars[first.bar]!, instrument, settings, cache);
    cache.bars.set(first, { steps: own, length, windows });
    found.push(windows);
    from = to;
  }
  return inARow(found);
}

/** One window for a whole bar, or else for each half of it. */
function barWindows(steps: readonly Step[], { start, length }: BarSpan, instrument: Instrument, settings: Settings, cache: WindowCache): (Window | null)[] {
  const windowFor = (own: readonly Step[]) => windowOf(own, instrument, settings, cache);
  const whole = windowFor(steps);
  if (whole) return steps.map(() => whole);
  const middle = steps.findIndex((step) => step.tick >= start + length / 2);
  if (middle <= 0) return steps.map(() => null);
  return [steps.slice(0, middle), steps.slice(middle)].flatMap((half) => {
    const window = windowFor(half);
    return half.map(() => window);
  });
}

function windowOf(steps: readonly Step[], instrument: Instrument, settings: Settings, cache: WindowCache): Window | null {
  const music = musicOf(steps);
  if (!music) return null;
  const { notes, open, inChord, again, isChord, isMuted, isWalk } = music;
  const strings = [...open].sort((a, b) => a - b);
  const isBass = instrument.kind === "electric-bass";
  const isArpeggio =
    !isBass &&
    music.isUpAndDown &&
    notes.length + strings.length >= SHAPE &&
    notes.every(({ string }, n) => !open.has(string) && notes[n - 1]?.string !== string);
  const broken = settings.ring === "bloom" || (settings.playsWith !== "pick" && !isBass) || (isArpeggio && settings.gain === "clean");
  if ((!music.together && !isChord && !isArpeggio && !broken) || notes.length < (isArpeggio ? 1 : 2)) return null;
  const alternates = broken && notes.every((note) => again.has(note));
  if (notes.length < 3 && notes.length + strings.length < SHAPE && !alternates) return null;
  const tune = new Set(notes.flatMap(({ string }, n) => (open.has(string) || notes[n - 1]?.string === string ? [string] : [])));
  const steady = notes.filter(({ string }) => !tune.has(string));
  // A tune moves over a broken chord that comes back, one finger of a strummed one alone: at least two others stay.
  const stays = steady.length >= 2 && music.chords.every((chord) => steady.every((note) => chord.has(note)));
  const isOver = stays && (isChord ? tune.size <= 1 && (broken || music.areChords) : tune.size <= 2 && steady.some((note) => again.has(note)));
  const isKept = (isChord || broken) && !isMuted && !isWalk && (tune.size === 0 || isOver);
  // Chords that differ have a shape each.
  if (!isKept && isChord && tune.size > 0) return null;
  if (!isKept && notes.some(({ string }, n) => notes[n - 1]?.string === string)) return null;
  const kept = isKept ? strings.filter((string) => broken || inChord.has(string)) : null;
  const key = `${kept}|${notes.map(({ string, fret, finger }) => `${string}/${fret}~${finger ?? ""}`)}|${strings}`;
  return knownIn(cache.shapes, key, () => shapeOf(notes, steady, strings, kept, instrument, settings));
}

/** What is played in a stretch of music. */
interface Music {
  /** Every fretted place once, from the bass-most string and the nut on. */
  notes: readonly GripNote[];
  open: ReadonlySet<number>;
  /** Open strings that are struck as part of a chord. */
  inChord: ReadonlySet<number>;
  /** Places that come back after another stroke. */
  again: ReadonlySet<GripNote>;
  /** Notes one by one, of which one comes back after another. */
  isUpAndDown: boolean;
  /** Several fretted notes sound together. */
  together: boolean;
  isChord: boolean;
  /** Places of every chord that is struck. */
  chords: readonly ReadonlySet<GripNote>[];
  /** Every stroke is one. */
  areChords: boolean;
  isMuted: boolean;
  /** Two strokes of several fretted notes without a string in common: two grips of a walk. */
  isWalk: boolean;
}

/** Null where two fingers are written for one place. */
function musicOf(steps: readonly Step[]): Music | null {
  const places = new Map<number, GripNote>();
  const open = new Set<number>();
  const inChord = new Set<number>();
  const again = new Set<GripNote>();
  const chords: Set<GripNote>[] = [];
  const pressed: number[][] = [];
  let isWalk = false;
  let isOneByOne = true;
  let comesBack = false;
  /** The string struck last where strokes go through one each, and those struck before it. */
  let lastString = 0;
  const earlierStrings = new Set<number>();
  let together = false;
  let isChord = false;
  let areChords = true;
  let isMuted = false;
  /** Places that the last stroke struck, and those of all strokes before it. */
  let last: GripNote[] = [];
  const earlier = new Set<GripNote>();
  for (const step of steps) {
    const fretted = step.sounding.filter((note) => note !== null && isFretted(note));
    if (step.stroke && fretted.length > 1) {
      const strings = fretted.map((note) => note!.string);
      isWalk ||= pressed.some((other) => strings.every((string) => !other.includes(string)));
      pressed.push(strings);
    }
    const chord = step.sounding.filter((note) => note?.tone === "open");
    if (chord.length >= CHORD) {
      isChord = true;
      for (const note of chord) if (note!.fret === 0) inChord.add(note!.string);
    } else areChords &&= step.stroke === null;
    const sounds = new Set<GripNote>();
    isMuted ||= step.sounding.some((note) => note?.tone === "palm");
    together ||= fretted.length > 1;
    const begun: GripNote[] = [];
    for (const note of step.sounding) {
      if (!note) continue;
      if (!isFretted(note)) {
        open.add(note.string);
        continue;
      }
      const key = note.string * FRETS + note.fret;
      const known = places.get(key);
      if (known && (known.finger ?? note.finger) !== (note.finger ?? known.finger)) return null;
      const place = known ?? { string: note.string, fret: note.fret, finger: note.finger };
      place.finger ??= note.finger;
      places.set(key, place);
      sounds.add(place);
      if (step.begins[note.string - 1]) begun.push(place);
    }
    for (const place of begun) if (earlier.has(place)) again.add(place);
    if (!step.stroke) continue;
    const { crossed } = step.stroke;
    isOneByOne &&= step.stroke.as === "play" && crossed.length <= 1;
    if (crossed.length === 1 && crossed[0] !== lastString) {
      comesBack ||= earlierStrings.has(crossed[0]!);
      earlierStrings.add(lastString);
      lastString = crossed[0]!;
    }
    if (chord.length >= CHORD) chords.push(sounds);
    for (const place of last) earlier.add(place);
    last = begun;
  }
  // What a dead stroke is written with belongs to the shape as well.
  for (const { string, fret, finger } of steps.flatMap(({ stroke }) => stroke?.kept ?? [])) {
    const isFree = fret > 0 && !open.has(string) && [...places.values()].every((place) => place.string !== string);
    if (isFree) places.set(string * FRETS + fret, { string, fret, finger });
  }
  const notes = [...places.values()].sort((a, b) => b.string - a.string || a.fret - b.fret);
  return { notes, open, inChord, again, isUpAndDown: isOneByOne && comesBack, together, isChord, chords, areChords, isMuted, isWalk };
}

function shapeOf(
  notes: readonly GripNote[],
  steady: readonly GripNote[],
  strings: readonly number[],
  kept: readonly number[] | null,
  instrument: Instrument,
  { reachMm }: Settings,
): Window | null {
  const frets = notes.filter(({ finger }) => finger !== "T").map(({ fret }) => fret);
  const length = openLengthMm(instrument);
  if (fretFromNutMm(length, Math.max(...frets)) - fretFromNutMm(length, Math.min(...frets)) > reachMm) return null;
  const options = gripOptions(notes, instrument.kind === "electric-bass", strings).filter(({ cost }) => cost < UNPLAYABLE);
  if (options.length === 0) return null;
  if (!kept) return { notes, options, held: null };
  // A barre is down as a whole, also where the tune goes over it.
  const { fingers } = options.reduce((a, b) => (b.cost < a.cost ? b : a));
  const isBarred = (note: GripNote, n: number) =>
    !strings.includes(note.string) && steady.some((other) => other.fret === note.fret && fingers[notes.indexOf(other)] === fingers[n]);
  const down = notes.filter((note, n) => steady.includes(note) || isBarred(note, n));
  return { notes, options, held: { chord: undefined, places: [...down, ...kept.map((string) => ({ string, fret: 0, finger: undefined }))] } };
}

/** More than any neck has. */
const FRETS = 64;

/** Strings of a shape of which only two are fretted. */
const SHAPE = 4;

/** Strings that sound together and make a chord of a strummed bar. */
const CHORD = 3;

/** How the notes of a stroke are held as part of a window's shape; null where one of them is in none of its places. */
export function optionsWithin({ notes, options }: Window, wanted: readonly GripNote[]): GripOption[] | null {
  const places = wanted.map(({ string, fret, finger }) =>
    notes.findIndex((note) => note.string === string && note.fret === fret && (finger === undefined || finger === note.finger)),
  );
  if (places.includes(-1)) return null;
  return options.map(({ position, fingers, cost }) => ({ position, cost, fingers: places.map((n) => fingers[n]!) }));
}
