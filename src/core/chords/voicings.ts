import { gripOptions, UNPLAYABLE } from "../grips/hold.ts";
import type { Instrument } from "../passage/schema.ts";
import { lastFret, openPitches } from "../passage/settings.ts";
import type { ChordShape } from "./chord-shape.ts";
import type { ChordTones } from "./names.ts";

export interface Voicing {
  shape: ChordShape;
  /** Finger per string, string 1 first; null where nothing is pressed. */
  fingers: readonly (number | null)[];
}

/** Frets a hand covers from the index on, counted with the index. Common practice: one finger a fret. */
const FRETS_IN_REACH = 4;
/**
 * What makes a player pass over a shape besides its fingers; only the order matters. Fitted to what the open dataset of chords.test.ts lists first and to
 * shapes everybody learns, on every other root, and judged on the rest.
 */
const INNER_GAP = 5;
const UNUSED_STRING = 4.5;
const OPEN_STRING = 1.4;
const PER_FRET_UP = 3.4;
const PER_FRET_APART = 0.8;
/** Open strings belong to chords near the nut: for every fret beyond these four. */
const NEAR_NUT = 4;
const OPEN_FAR_UP = 7;
/** Who names a chord has its barre ready: it is so much less than in a line. */
const BARRE = -2;
const HIGHEST_POSITION = 12;

/**
 * Ways to hold a chord, easiest first: the named bass lowest, every needed tone there, nothing but its tones, at most
 * one string left out inside, fingers that a hand can do. An empty list when the instrument has no such shape.
 */
export function voicingsOf(chord: ChordTones, instrument: Instrument, most = 12): Voicing[] {
  const open = openPitches(instrument);
  const isBass = instrument.kind === "electric-bass";
  const seen = new Set<string>();
  const found: { voicing: Voicing; cost: number }[] = [];
  const keep = (shape: ChordShape) => {
    const key = shape.join();
    if (seen.has(key)) return;
    seen.add(key);
    const held = fingered(shape, isBass);
    if (!held) return;
    const barre = held.fingers.some((finger, k) => finger !== null && held.fingers.indexOf(finger) < k) ? BARRE : 0;
    found.push({ voicing: { shape, fingers: held.fingers }, cost: held.cost + awkwardness(shape) + barre });
  };
  const lastPosition = Math.min(HIGHEST_POSITION, lastFret(instrument) - 1);
  for (let position = 1; position <= lastPosition; position++) shapesAt(position, chord, open, lastFret(instrument), keep);
  found.sort((a, b) => a.cost - b.cost);
  return found.slice(0, most).map(({ voicing }) => voicing);
}

/** Every shape of the chord with frets from a position on, and open strings. */
function shapesAt(position: number, chord: ChordTones, open: readonly number[], last: number, keep: (shape: ChordShape) => void): void {
  const frets = [null, 0, ...Array.from({ length: Math.min(FRETS_IN_REACH, last - position + 1) }, (_, i) => position + i)];
  const choices = open.map((pitch) => frets.filter((fret) => fret === null || chord.tones.has((pitch + fret) % 12)));
  const shape: (number | null)[] = new Array(open.length).fill(null);
  const lowestFirst = (string: number, begun: boolean): void => {
    if (string < 0) {
      if (isComplete(shape, chord, open)) keep([...shape]);
      return;
    }
    for (const fret of choices[string]!) {
      if (fret !== null && !begun && (open[string]! + fret) % 12 !== chord.bass) continue;
      shape[string] = fret;
      lowestFirst(string - 1, begun || fret !== null);
    }
    shape[string] = null;
  };
  lowestFirst(open.length - 1, false);
}

function isComplete(shape: ChordShape, { bass, needed }: ChordTones, open: readonly number[]): boolean {
  const pitches = shape.flatMap((fret, string) => (fret === null ? [] : [open[string]! + fret]));
  if (pitches.length < Math.min(3, open.length, needed.size + 1) || Math.min(...pitches) % 12 !== bass || innerGaps(shape) > 1) return false;
  const sounding = new Set(pitches.map((pitch) => pitch % 12));
  return [...needed].every((tone) => sounding.has(tone));
}

/** Strings left out between the lowest and the highest that sound. */
function innerGaps(shape: ChordShape): number {
  const used = shape.flatMap((fret, string) => (fret === null ? [] : [string]));
  return used.at(-1)! - used[0]! + 1 - used.length;
}

function awkwardness(shape: ChordShape): number {
  const fretted = shape.filter((fret) => fret !== null && fret > 0) as number[];
  const highest = Math.max(1, ...fretted);
  const apart = fretted.length > 0 ? highest - Math.min(...fretted) : 0;
  const count = (mark: number | null) => shape.filter((fret) => fret === mark).length;
  const far = count(0) > 0 ? Math.max(0, highest - NEAR_NUT) : 0;
  return (
    INNER_GAP * innerGaps(shape) +
    UNUSED_STRING * count(null) +
    OPEN_STRING * count(0) +
    PER_FRET_UP * (highest - 1) +
    PER_FRET_APART * apart +
    OPEN_FAR_UP * far
  );
}

function fingered(shape: ChordShape, isBass: boolean): { fingers: (number | null)[]; cost: number } | null {
  const notes = shape.flatMap((fret, s) => (fret !== null && fret > 0 ? [{ string: s + 1, fret, finger: undefined }] : []));
  const open = shape.flatMap((fret, s) => (fret === 0 ? [s + 1] : []));
  if (notes.length === 0) return { fingers: shape.map(() => null), cost: 0 };
  const best = gripOptions(notes, isBass, open).reduce((a, b) => (b.cost < a.cost ? b : a));
  if (best.cost >= UNPLAYABLE) return null;
  const fingers: (number | null)[] = shape.map(() => null);
  notes.forEach((note, i) => {
    fingers[note.string - 1] = Number(best.fingers[i]);
  });
  return { fingers, cost: best.cost };
}
