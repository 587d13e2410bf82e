import { gripHolding } from "../edit/grips.ts";
import type { HandWay } from "../grips/hand-path.ts";
import { type GripNote, gripOptions, UNPLAYABLE } from "../grips/hold.ts";
import type { NeckPlace } from "../music/neck.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Passage, Stroke } from "../passage/schema.ts";
import { lastFret, openPitches } from "../passage/settings.ts";
import type { Timeline, TimelineNote } from "../timeline/types.ts";

/** Where the notes of one stroke could be played. */
export interface Choice extends HandWay {
  /** Per note of the stroke, in order. */
  places: readonly NeckPlace[];
}

/** One stroke with its choices; a stroke that must stay has one. */
export interface StrokeChoices {
  bar: number;
  stroke: number;
  choices: readonly Choice[];
  /** Time up to the next stroke; endless after the last. */
  untilMs: number;
  /** Whether the stroke before has the same notes: then it stays where that is. */
  isRepeat: boolean;
}

/** From memory, adjustable; in the units of a grip's awkwardness. */
export const PLACE_COSTS = {
  /** The hand shifts by a fret. */
  shift: 2,
  /** A note leaves the string it is written on: another tone. */
  otherString: 6,
  /** A note becomes open, or is no longer. */
  openSound: 12,
} as const;

/** What a shift takes before it has moved at all, and for each fret. From memory, adjustable. */
const SHIFT_MS = 50;
const SHIFT_MS_PER_FRET = 12;

/** Time that the hand needs to shift so many frets between two notes. */
export function shiftMs(frets: number): number {
  return SHIFT_MS + SHIFT_MS_PER_FRET * frets;
}

/** More than any other price: no hand shifts so fast, but what is written may ask for it. */
export const TOO_FAST = 1000;

const MOST_CHOICES = 40;

/** Every stroke that is played with notes, with the places they could have. */
export function choicesOf(passage: Passage, timeline: Timeline): StrokeChoices[] {
  const played = timeline.steps.flatMap((step) => (step.stroke && step.stroke.notes.length > 0 ? [{ step, stroke: step.stroke }] : []));
  return played.map(({ step, stroke }, k) => {
    const written = passage.bars[stroke.bar]!.strokes[stroke.stroke]!;
    const until = played[k + 1]?.stroke.start ?? Number.POSITIVE_INFINITY;
    // What rings over from before or on into what follows keeps its string, and so does a stroke of given strings.
    const carries = step.sounding.some((note, s) => note !== null && (!step.begins[s] || note.end > until));
    const stays =
      carries ||
      isGripped(passage, stroke.bar, written) ||
      written.strings !== undefined ||
      written.click !== undefined ||
      isSlurred(written) ||
      isSlurred(nextWritten(passage, played[k + 1]?.stroke));
    const before = played[k - 1] && passage.bars[played[k - 1]!.stroke.bar]!.strokes[played[k - 1]!.stroke.stroke]!;
    const isRepeat = before !== undefined && before.notes.length === written.notes.length && samePlaces(before, written);
    const untilMs = (played[k + 1]?.step.ms ?? Number.POSITIVE_INFINITY) - step.ms;
    return {
      bar: stroke.bar,
      stroke: stroke.stroke,
      untilMs,
      isRepeat,
      choices: stays ? [asWritten(passage, written)] : placings(passage, written, stroke.notes),
    };
  });
}

/** Whether a written grip holds what is played: then that is its place. */
export function isGripped(passage: Passage, bar: number, stroke: Stroke): boolean {
  const grip = gripHolding(passage, { bar, tick: ticksOf(stroke.at) });
  return grip !== undefined && stroke.notes.some((note) => grip.notes.some(({ string }) => string === note.string));
}

function samePlaces(a: Stroke, b: Stroke): boolean {
  return a.notes.every(({ string, fret }, n) => string === b.notes[n]!.string && fret === b.notes[n]!.fret);
}

function nextWritten(passage: Passage, next: { bar: number; stroke: number } | undefined): Stroke | undefined {
  return next && passage.bars[next.bar]!.strokes[next.stroke];
}

function isSlurred(stroke: Stroke | undefined): boolean {
  return stroke?.notes.some((note) => (note.from ?? "stroke") !== "stroke" || note.harmonic || note.letRing || note.finger === "T") ?? false;
}

function asWritten(passage: Passage, stroke: Stroke): Choice {
  return choiceOf(passage, stroke, stroke.notes)!;
}

/** All ways to put the notes of a stroke on different strings, the cheapest first; the written one is always among them. */
function placings(passage: Passage, stroke: Stroke, notes: readonly TimelineNote[]): Choice[] {
  const open = openPitches(passage.instrument);
  const options = stroke.notes.map((note) => {
    const pitch = open[note.string - 1]! + note.fret;
    return open.flatMap((lowest, s) => {
      const fret = pitch - lowest;
      return fret >= 0 && fret <= lastFret(passage.instrument) ? [{ string: s + 1, fret }] : [];
    });
  });
  let all: NeckPlace[][] = [[]];
  for (const places of options) all = all.flatMap((chosen) => places.filter((p) => chosen.every((c) => c.string !== p.string)).map((p) => [...chosen, p]));
  const written = asWritten(passage, stroke);
  const found = all
    .filter((places) => places.some((p, k) => p.string !== stroke.notes[k]!.string))
    // The strings in between would be struck in passing: a chord keeps its order and its width.
    .filter((places) => notes.length < 2 || widthOf(places) <= Math.max(notes.length, widthOf(stroke.notes)))
    .flatMap((places) => choiceOf(passage, stroke, places) ?? []);
  return [written, ...found.sort((a, b) => a.cost - b.cost).slice(0, MOST_CHOICES - 1)];
}

function widthOf(places: readonly NeckPlace[]): number {
  const strings = places.map((p) => p.string);
  return Math.max(...strings) - Math.min(...strings) + 1;
}

/** What holding the notes there costs; null when no hand can. */
function choiceOf(passage: Passage, stroke: Stroke, places: readonly NeckPlace[]): Choice | null {
  const isBass = passage.instrument.kind === "electric-bass";
  const isWritten = places.every((p, k) => p.string === stroke.notes[k]!.string && p.fret === stroke.notes[k]!.fret);
  const fretted = places.flatMap((p, k): GripNote[] =>
    p.fret > 0 ? [{ string: p.string, fret: p.fret, finger: isWritten ? stroke.notes[k]!.finger : undefined }] : [],
  );
  const open = places.filter((p) => p.fret === 0).map((p) => p.string);
  const best = fretted.length === 0 ? { position: 0, cost: 0 } : gripOptions(fretted, isBass, open).reduce((a, b) => (b.cost < a.cost ? b : a));
  if (!isWritten && best.cost >= UNPLAYABLE) return null;
  let cost = best.cost;
  places.forEach((p, k) => {
    const { string, fret } = stroke.notes[k]!;
    if (p.string !== string) cost += PLACE_COSTS.otherString;
    if ((p.fret === 0) !== (fret === 0)) cost += PLACE_COSTS.openSound;
  });
  return { places: places.map(({ string, fret }) => ({ string, fret })), position: best.position, cost };
}
