import { Note as Pitches } from "tonal";
import { barLength } from "../music/beats.ts";
import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Bar, Note, Passage, Stroke } from "../passage/schema.ts";
import { lastFret, openPitches } from "../passage/settings.ts";

/**
 * How a figure moves: along the neck; across the strings with the frets it has; to another pitch wherever that lies best; or up or
 * down to the same note names, so many semitones (0 to 11) above them, whichever lies better.
 */
export type MoveBy = { frets: number } | { strings: number } | { semitones: number } | { pitchClass: number };

/** What a move makes, with what a player should know beforehand; or why it cannot be. */
export type MoveResult = { ok: true; bars: Bar[]; told: string[] } | { ok: false; says: string };

/** Where one note goes. */
interface Target {
  string: number;
  fret: number;
}

/** One way to move every note of a figure; null for a note that has no place. */
interface Way {
  strings: number;
  /** In semitones, of the chord names; null where the notes move by different ones. */
  transposed: number | null;
  to(place: Target): Target | null;
}

/** The figure between two moments moved; strokes and grips that begin there belong to it. The passage stays as it is. */
export function movedFigure(passage: Passage, from: Ticks, to: Ticks, by: MoveBy): MoveResult {
  // As a document, since the store hands in drafts.
  const bars = JSON.parse(JSON.stringify(passage.bars)) as Bar[];
  const parts = partsIn(bars, from, to);
  const places = parts.flatMap(({ notes }) => notes);
  if (places.length === 0) return { ok: false, says: "nothing is fretted or struck open there" };
  const way = wayFor(passage, places, by);
  if ("says" in way) return { ok: false, says: way.says };
  const told = toldOf(passage, places, way, by);
  for (const part of parts) {
    for (const note of part.notes) {
      const target = way.to(note)!;
      if (target.fret === 0 ? note.finger !== 0 : note.finger === 0) delete note.finger;
      Object.assign(note, target);
    }
    if (part.stroke) moveStrings(part.stroke, way.strings, passage.instrument.tuning.length);
    if (part.holder.chord !== undefined) {
      const name = way.transposed === null ? null : transposedName(part.holder.chord, way.transposed);
      if (name === null) delete part.holder.chord;
      else part.holder.chord = name;
    }
  }
  return { ok: true, bars, told };
}

interface Part {
  notes: Pick<Note, "string" | "fret" | "finger">[];
  holder: { chord?: string | undefined };
  stroke: Stroke | null;
}

function partsIn(bars: readonly Bar[], from: Ticks, to: Ticks): Part[] {
  let start = 0;
  return bars.flatMap((bar) => {
    const isIn = ({ at }: { at: string }) => start + ticksOf(at) >= from && start + ticksOf(at) < to;
    const own: Part[] = [
      ...(bar.grips ?? []).filter(isIn).map((grip) => ({ notes: grip.notes, holder: grip, stroke: null })),
      ...bar.strokes.filter(isIn).map((stroke) => ({ notes: stroke.notes, holder: stroke, stroke })),
    ];
    start += barLength(bar.meter);
    return own;
  });
}

/** The strings of a dead stroke or a wide one go along as far as there are any. */
function moveStrings(stroke: Stroke, by: number, strings: number): void {
  const moved = (own: readonly number[]) => own.map((string) => string + by).filter((string) => string >= 1 && string <= strings);
  for (const key of ["strings", "click"] as const) {
    const own = stroke[key];
    // Through all strings is through all strings anywhere.
    if (!own || by === 0 || own.length === strings) continue;
    const now = moved(own);
    if (now.length > 0) stroke[key] = now;
    else if (key === "click" || stroke.notes.length > 0) delete stroke[key];
  }
}

function wayFor({ instrument }: Passage, places: readonly Target[], by: MoveBy): Way | { says: string } {
  const open = openPitches(instrument);
  const last = lastFret(instrument);
  const within = ({ string, fret }: Target) => (open[string - 1] !== undefined && fret >= 0 && fret <= last ? { string, fret } : null);
  const refused = (way: Way): { says: string } | null => {
    const off = places.find((place) => way.to(place) === null);
    return off ? { says: `string ${off.string}, fret ${off.fret} has no place there: the neck has ${open.length} strings and ${last} frets` } : null;
  };
  if ("frets" in by) {
    // What is open stays open: the nut does not move along.
    const way: Way = {
      strings: 0,
      transposed: by.frets,
      to: ({ string, fret }) => (fret === 0 ? { string, fret } : within({ string, fret: fret + by.frets })),
    };
    return refused(way) ?? way;
  }
  if ("strings" in by) {
    const intervals = new Set(places.map(({ string }) => (open[string + by.strings - 1] ?? Number.NaN) - open[string - 1]!));
    const way: Way = {
      strings: by.strings,
      transposed: intervals.size === 1 ? [...intervals][0]! : null,
      to: ({ string, fret }) => within({ string: string + by.strings, fret }),
    };
    return refused(way) ?? way;
  }
  const wanted = "semitones" in by ? [by.semitones] : [by.pitchClass, by.pitchClass - 12];
  const over = Array.from({ length: 2 * MOST_STRINGS + 1 }, (_, i) => i - MOST_STRINGS);
  const ways = wanted.flatMap((semitones) =>
    over.map(
      (strings): Way => ({
        strings,
        transposed: semitones,
        to: ({ string, fret }) => {
          const target = open[string + strings - 1];
          return target === undefined ? null : within({ string: string + strings, fret: fret + semitones + open[string - 1]! - target });
        },
      }),
    ),
  );
  const possible = ways.filter((way) => refused(way) === null).map((way) => ({ way, cost: costOf(places, way) }));
  if (possible.length === 0) return { says: "it has no place on this neck" };
  return possible.reduce((best, one) => (one.cost < best.cost ? one : best)).way;
}

/** A figure that is sought a place moves over so many strings at most. */
const MOST_STRINGS = 3;
/** A string that becomes open, or no longer is, changes the shape: worth so many frets of way. */
const SHAPE_FRETS = 4;

function costOf(places: readonly Target[], way: Way): number {
  const frets = places.reduce((sum, place) => {
    const { fret } = way.to(place)!;
    return sum + Math.abs(fret - place.fret) + ((fret === 0) === (place.fret === 0) ? 0 : SHAPE_FRETS);
  }, 0);
  // Frets that move by different numbers are another shape.
  const shifts = new Set(places.map((place) => way.to(place)!.fret - place.fret));
  return frets / places.length + (shifts.size - 1) * SHAPE_FRETS + Math.abs(way.strings);
}

function toldOf({ instrument }: Passage, places: readonly Target[], way: Way, by: MoveBy): string[] {
  const open = openPitches(instrument);
  const told: string[] = [];
  const count = (n: number, one: string, many: string) => (n === 1 ? `One ${one}` : `${n} ${many}`);
  const moved = places.map((place) => ({ place, target: way.to(place)! }));
  const kept = moved.filter(({ place, target }) => place.fret === 0 && target.fret === 0 && place.string === target.string).length;
  if ("frets" in by && kept > 0)
    told.push(`${count(kept, "open string stays open and sounds", "open strings stay open and sound")} as before: the nut does not move along.`);
  const closed = moved.filter(({ place, target }) => place.fret === 0 && target.fret > 0).length;
  if (closed > 0) told.push(`${count(closed, "open string becomes fretted", "open strings become fretted")}: the shape needs fingers it did not need.`);
  const opened = moved.filter(({ place, target }) => place.fret > 0 && target.fret === 0).length;
  if (opened > 0) told.push(`${count(opened, "fretted note becomes an open string", "fretted notes become open strings")}: it rings on when the finger goes.`);
  if ("strings" in by) {
    const intervals = moved.map(({ place, target }) => open[target.string - 1]! - open[place.string - 1]!);
    const usual = intervals.toSorted((a, b) => intervals.filter((x) => x === b).length - intervals.filter((x) => x === a).length)[0]!;
    const other = intervals.filter((interval) => interval !== usual);
    told.push(`It sounds ${semitoneWords(usual)}.`);
    if (other.length > 0) told.push(`${count(other.length, "note does", "notes do")} not: these strings are tuned otherwise to each other.`);
  } else if (way.strings !== 0)
    told.push(`It moves ${Math.abs(way.strings)} string${Math.abs(way.strings) === 1 ? "" : "s"} to the ${way.strings > 0 ? "bass" : "treble"} side.`);
  return told;
}

function semitoneWords(semitones: number): string {
  if (semitones === 0) return "as before";
  const many = Math.abs(semitones);
  return `${many} semitone${many === 1 ? "" : "s"} ${semitones > 0 ? "higher" : "lower"}`;
}

/** A chord's name with its root, and its bass, moved; null where it has no root. Names that mean the same sound are spelled one way. */
export function transposedName(name: string, semitones: number): string | null {
  const match = /^([A-G](?:#|b)?)(.*?)(?:\/([A-G](?:#|b)?))?$/.exec(name);
  if (!match) return null;
  const moved = (root: string) => SPELLED[(Pitches.chroma(root)! + semitones + 120) % 12]!;
  if (semitones === 0) return name;
  return `${moved(match[1]!)}${match[2]}${match[3] ? `/${moved(match[3])}` : ""}`;
}

/** As players write roots (common practice). */
const SPELLED = ["C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"] as const;

/** The pitch class of the figure's first lowest note: what its steps count from. */
export function figureRoot({ bars, instrument }: Passage, { from, to }: { from: Ticks; to: Ticks }): number {
  const open = openPitches(instrument);
  let start = 0;
  for (const bar of bars) {
    for (const stroke of bar.strokes) {
      const at = start + ticksOf(stroke.at);
      if (at >= from && at < to && stroke.notes.length > 0) return Math.min(...stroke.notes.map(({ string, fret }) => open[string - 1]! + fret)) % 12;
    }
    start += barLength(bar.meter);
  }
  return 0;
}
