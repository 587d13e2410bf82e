import { knownIn } from "../memory/known.ts";
import { fretFromNutMm } from "../music/neck.ts";
import type { Instrument } from "../passage/schema.ts";
import { openLengthMm, type Settings } from "../passage/settings.ts";
import type { Step, Timeline } from "../timeline/types.ts";
import { type GripNote, type GripOption, gripOptions, isFretted, UNPLAYABLE } from "./grip.ts";

/*
 * A bar, or half of one, whose chords and held notes all fit one hand shape: the hand takes that shape once, whichever part of it
 * is struck (arpeggios, bass and brush, a walk over a barre; common practice). Notes one by one are a broken chord where fingers
 * pluck a guitar or a chord blooms; else they are a line, fingered note by note.
 */

/** One shape for a stretch of music, and how it can be held; the same object for the same shape. */
export interface Window {
  notes: readonly GripNote[];
  options: readonly GripOption[];
}

/** Windows by what they were made of. */
export type WindowMemory = Map<string, Window | null>;

/** Per step: the window it lies in, or null. */
export function windowsOf({ steps, bars }: Timeline, instrument: Instrument, settings: Settings, memory: WindowMemory = new Map()): (Window | null)[] {
  const found: (Window | null)[] = new Array(steps.length).fill(null);
  for (let from = 0; from < steps.length; ) {
    const { bar } = steps[from]!;
    let to = from;
    while (to < steps.length && steps[to]!.bar === bar) to++;
    const span = bars[bar]!;
    const middle = steps.findIndex((step, i) => i >= from && i < to && step.tick >= span.start + span.length / 2);
    const whole = windowOf(steps.slice(from, to), instrument, settings, memory);
    const halves: [number, number][] =
      middle > from
        ? [
            [from, middle],
            [middle, to],
          ]
        : [];
    if (whole) found.fill(whole, from, to);
    else for (const [a, b] of halves) found.fill(windowOf(steps.slice(a, b), instrument, settings, memory), a, b);
    from = to;
  }
  return found;
}

function windowOf(steps: readonly Step[], instrument: Instrument, settings: Settings, memory: WindowMemory): Window | null {
  const places = new Map<number, GripNote>();
  const open = new Set<number>();
  let together = false;
  for (const step of steps) {
    const fretted = step.sounding.filter((note) => note !== null && isFretted(note));
    together ||= fretted.length > 1;
    for (const note of step.sounding) {
      if (!note) continue;
      if (!isFretted(note)) {
        open.add(note.string);
        continue;
      }
      const known = places.get(note.string);
      if (known && (known.fret !== note.fret || (known.finger ?? note.finger) !== (note.finger ?? known.finger))) return null;
      places.set(note.string, { string: note.string, fret: note.fret, finger: note.finger ?? known?.finger });
    }
  }
  const notes = [...places.values()].sort((a, b) => b.string - a.string);
  const broken = settings.ring === "bloom" || (settings.playsWith !== "pick" && instrument.kind !== "electric-bass");
  if ((!together && !broken) || notes.length < 3) return null;
  const strings = [...open].sort((a, b) => a - b);
  const key = `${notes.map(({ string, fret, finger }) => `${string}/${fret}~${finger ?? ""}`)}|${strings}`;
  return knownIn(memory, key, () => shapeOf(notes, strings, instrument, settings));
}

function shapeOf(notes: readonly GripNote[], open: readonly number[], instrument: Instrument, { reachMm }: Settings): Window | null {
  const frets = notes.filter(({ finger }) => finger !== "T").map(({ fret }) => fret);
  const length = openLengthMm(instrument);
  if (fretFromNutMm(length, Math.max(...frets)) - fretFromNutMm(length, Math.min(...frets)) > reachMm) return null;
  const options = gripOptions(notes, instrument.kind === "electric-bass", open).filter(({ cost }) => cost < UNPLAYABLE);
  return options.length > 0 ? { notes, options } : null;
}

/** How the notes of a stroke are held as part of a window's shape; null where one of them is in none of its places. */
export function optionsWithin({ notes, options }: Window, wanted: readonly GripNote[]): GripOption[] | null {
  const places = wanted.map(({ string, fret, finger }) =>
    notes.findIndex((note) => note.string === string && note.fret === fret && (finger === undefined || finger === note.finger)),
  );
  if (places.includes(-1)) return null;
  return options.map(({ position, fingers, cost }) => ({ position, cost, fingers: places.map((n) => fingers[n]!) }));
}
