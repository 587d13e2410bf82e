import { barLength } from "../music/beats.ts";
import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Bar, Note } from "../passage/schema.ts";

/** What the fretting hand holds from a moment on. */
export interface Held {
  /** Ticks from the passage's beginning. */
  from: Ticks;
  name: string | undefined;
  /** Lowest string first, without ids, tones and lengths. */
  notes: readonly Pick<Note, "string" | "fret" | "finger">[];
}

/**
 * The chords of a passage in order. Strokes under one chord name are one chord, whatever part of it each plays; without
 * a name a part of what is held, of two notes and more, is the same chord; anything else is another. Dead strokes that hold nothing change nothing.
 */
export function harmonyOf(bars: readonly Bar[]): Held[] {
  const chords: { from: Ticks; name: string | undefined; notes: Map<number, Held["notes"][number]> }[] = [];
  let start = 0;
  /** A written grip is the chord, whatever of it is struck. */
  let isGripped = false;
  for (const bar of bars) {
    const grips = [...(bar.grips ?? [])].sort((a, b) => ticksOf(a.at) - ticksOf(b.at));
    const gripUpTo = (tick: Ticks) => {
      for (let grip = grips[0]; grip && ticksOf(grip.at) <= tick; grip = grips[0]) {
        grips.shift();
        isGripped = grip.notes.length > 0;
        if (isGripped) chords.push({ from: start + ticksOf(grip.at), name: grip.chord, notes: new Map(grip.notes.map((note) => [note.string, { ...note }])) });
      }
    };
    for (const stroke of bar.strokes) {
      gripUpTo(ticksOf(stroke.at));
      if (stroke.notes.length === 0 || isGripped) continue;
      const notes = new Map(stroke.notes.map(({ string, fret, finger }) => [string, { string, fret, ...(finger === undefined ? {} : { finger }) }]));
      const last = chords.at(-1);
      const isSame = last && last.name === stroke.chord && (stroke.chord ? agree(last.notes, notes) : isPart(last.notes, notes));
      if (isSame) for (const [string, note] of notes) last.notes.set(string, note);
      else chords.push({ from: start + ticksOf(stroke.at), name: stroke.chord, notes });
    }
    gripUpTo(barLength(bar.meter));
    start += barLength(bar.meter);
  }
  return chords.map(({ from, name, notes }) => ({ from, name, notes: [...notes.values()].sort((a, b) => b.string - a.string) }));
}

/** What is held at a moment: the last chord begun, or the first one before any has. */
export function heldAt(harmony: readonly Held[], tick: Ticks): Held | undefined {
  return harmony.findLast((held) => held.from <= tick) ?? harmony[0];
}

type Notes = ReadonlyMap<number, { fret: number }>;

function agree(a: Notes, b: Notes): boolean {
  return [...b].every(([string, { fret }]) => (a.get(string)?.fret ?? fret) === fret);
}

/** Of two notes and more that are held already; one note alone is a line. */
function isPart(held: Notes, notes: Notes): boolean {
  return (notes.size > 1 || held.size === 1) && [...notes].every(([string, { fret }]) => held.get(string)?.fret === fret);
}
