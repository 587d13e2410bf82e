import { barLength } from "../../music/beats.ts";
import type { NeckPlace } from "../../music/neck.ts";
import { type Ticks, ticksOf } from "../../music/ticks.ts";
import { settleClicks } from "../../passage/clicks.ts";
import type { Bar, Note, Stroke, WrittenGrip } from "../../passage/schema.ts";

/** A chord and what it becomes, lowest string first; strokes that play a part of it play the same part of the other. */
export interface Recast {
  from: readonly NeckPlace[];
  to: readonly NeckPlace[];
}

/**
 * Writes every stroke and grip that plays chords in other places. `recastAt` says what the chord held at a moment becomes, null
 * where it stays. Returns how many strokes are otherwise, and how many notes lie outside their chord and stay.
 */
export function recastBars(bars: readonly Bar[], recastAt: (tick: Ticks) => Recast | null): { strokes: number; outside: number } {
  let start = 0;
  let strokes = 0;
  let outside = 0;
  for (const bar of bars) {
    for (const grip of bar.grips ?? []) {
      const recast = recastAt(start + ticksOf(grip.at));
      if (recast && grip.notes.length > 0) grip.notes = recastNotes<WrittenGrip["notes"][number]>(grip.notes, recast) ?? grip.notes;
    }
    for (const stroke of bar.strokes) {
      const recast = recastAt(start + ticksOf(stroke.at));
      if (!recast) continue;
      const notes = stroke.notes.length > 0 ? recastNotes(stroke.notes, recast) : null;
      if (notes) {
        stroke.notes = notes;
        strokes++;
      } else if (stroke.notes.length > 0) {
        outside += stroke.notes.length;
        continue;
      }
      recastStrings(stroke, recast);
      settleClicks(stroke);
    }
    start += barLength(bar.meter);
  }
  return { strokes, outside };
}

/** The same part of the other chord: counted from the bass in its lower half, from the top in its upper half. Null for notes that are none of the chord. */
function recastNotes<N extends Pick<Note, "string" | "fret" | "finger">>(notes: readonly N[], { from, to }: Recast): N[] | null {
  const ranks = notes.map((note) => from.findIndex(({ string, fret }) => string === note.string && fret === note.fret));
  if (ranks.includes(-1)) return null;
  // A string may be written twice in one stroke.
  const isWhole = new Set(ranks).size === from.length;
  const made = new Map<number, N>();
  const put = ({ string, fret }: NeckPlace, model: N) => {
    const { finger: _, id: _id, ...rest } = model as N & { id?: string };
    if (!made.has(string)) made.set(string, { ...rest, string, fret } as unknown as N);
  };
  if (isWhole) for (const [rank, place] of to.entries()) put(place, notes[ranks.indexOf(rankIn(rank, to.length, from.length))]!);
  else for (const [i, note] of notes.entries()) put(to[rankIn(ranks[i]!, from.length, to.length)]!, note);
  return [...made.values()].sort((a, b) => b.string - a.string);
}

/** A place in a row of so many, in another row. */
function rankIn(rank: number, of: number, other: number): number {
  const fromTop = of - 1 - rank;
  return rank <= fromTop ? Math.min(rank, other - 1) : Math.max(0, other - 1 - fromTop);
}

/** A stroke over just the strings of its chord goes over just those of the other; over more, it still does. */
function recastStrings(stroke: Stroke, { from, to }: Recast): void {
  const own = new Set(stroke.strings);
  if (own.size === from.length && from.every(({ string }) => own.has(string))) stroke.strings = to.map(({ string }) => string);
  else if (stroke.strings) {
    const played = stroke.notes.map(({ string }) => string);
    stroke.strings = [...new Set([...stroke.strings, ...played])].sort((a, b) => b - a);
  }
}
