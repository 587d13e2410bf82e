import { placed, type Unplaced } from "../../grips/place-notes.ts";
import { barLength } from "../../music/beats.ts";
import type { NeckPlace } from "../../music/neck.ts";
import { type Ticks, ticksOf } from "../../music/ticks.ts";
import { settleClicks } from "../../passage/clicks.ts";
import type { Bar, Instrument, Note, Stroke } from "../../passage/schema.ts";
import { lastFret, openPitches } from "../../passage/settings.ts";
import type { RuleReport } from "../report.ts";

type Placed = Pick<Note, "string" | "fret" | "finger">;

/** Notes that find their places together: a grip, or a stroke that is no part of one. */
interface Unit {
  notes: readonly Placed[];
}

/**
 * The same pitches on another instrument, or about another fret: what has its place there keeps it unless `near` asks for
 * another, slurred notes stay on the string of the note they come from, and a held grip goes as a whole. What `stays` has its place
 * already. Null, with the bars as they were, when a pitch has no place there.
 */
export function replacePitches(
  bars: Bar[],
  from: Instrument,
  to: Instrument,
  near?: number,
  stays: (tick: Ticks, notes: readonly NeckPlace[]) => boolean = () => false,
): RuleReport | null {
  const [openThen, openNow] = [openPitches(from), openPitches(to)];
  const pitchOf = ({ string, fret }: NeckPlace) => openThen[string - 1]! + fret;
  const placeOn = (string: number, pitch: number): NeckPlace | null => {
    const fret = pitch - (openNow[string - 1] ?? Number.POSITIVE_INFINITY);
    return fret >= 0 && fret <= lastFret(to) ? { string, fret } : null;
  };
  const draft = structuredClone(bars);
  const walk = [...walkOf(draft)].filter(({ tick, notes }) => !stays(tick, notes));
  const units = walk.flatMap(({ unit, isSlurred }) => (unit && !isSlurred ? [unit] : []));
  const wanted = units.map(({ notes }): Unplaced[] => {
    const own = notes.map((note) => placeOn(note.string, pitchOf(note)));
    return notes.map((note, n) => (near === undefined && !own.includes(null) ? { pitch: pitchOf(note), ...own[n]! } : { pitch: pitchOf(note) }));
  });
  const places = placed(wanted, to, { near });
  const target = new Map<Placed, NeckPlace>();
  for (const [u, { notes }] of units.entries())
    for (const [n, note] of notes.entries()) {
      const place = places[u]![n];
      if (!place) return null;
      target.set(note, place);
    }
  /** Where each string's last note went. */
  const went = new Map<number, number>();
  for (const { unit, grip, notes, isSlurred } of walk)
    for (const note of notes) {
      const part = grip?.notes.find(({ string, fret }) => string === note.string && fret === note.fret);
      const place = isSlurred ? placeOn(went.get(note.string) ?? note.string, pitchOf(note)) : (target.get(note) ?? (part && target.get(part)));
      if (!place) return null;
      if (unit || part) target.set(note, place);
      went.set(note.string, place.string);
    }
  const strings = to.tuning.length;
  let changed = 0;
  for (const { notes, stroke } of walk) {
    const isMoved = notes.some((note) => target.get(note)!.string !== note.string || target.get(note)!.fret !== note.fret);
    if (isMoved && stroke) changed++;
    for (const note of notes) {
      const place = target.get(note)!;
      if (place.string !== note.string || place.fret !== note.fret) delete note.finger;
      Object.assign(note, place);
    }
    if (stroke) settleStrings(stroke, strings, isMoved);
  }
  for (const bar of draft) for (const stroke of bar.strokes) if (stroke.notes.length === 0) settleStrings(stroke, strings, false);
  bars.splice(0, bars.length, ...draft);
  return { changed, says: `${changed} ${changed === 1 ? "stroke" : "strokes"} at other places.`, clashes: [] };
}

interface Walked {
  tick: Ticks;
  /** What is placed here; null for a part of the grip that holds. */
  unit: Unit | null;
  grip: Unit | null;
  notes: readonly Placed[];
  stroke: Stroke | null;
  isSlurred: boolean;
}

/** Grips and strokes with notes, in order. */
function* walkOf(bars: readonly Bar[]): Generator<Walked> {
  let grip: Unit | null = null;
  let start = 0;
  for (const bar of bars) {
    const grips = [...(bar.grips ?? [])].sort((a, b) => ticksOf(a.at) - ticksOf(b.at));
    for (const stroke of [...bar.strokes, null]) {
      while (grips[0] && (!stroke || ticksOf(grips[0].at) <= ticksOf(stroke.at))) {
        const { at, notes } = grips.shift()!;
        grip = notes.length > 0 ? { notes } : null;
        if (grip) yield { tick: start + ticksOf(at), unit: grip, grip: null, notes, stroke: null, isSlurred: false };
      }
      if (!stroke || stroke.notes.length === 0) continue;
      const held = grip;
      const isPart = held !== null && stroke.notes.every((note) => held.notes.some(({ string, fret }) => string === note.string && fret === note.fret));
      const isSlurred = stroke.notes.some(({ from = "stroke" }) => from === "hammer" || from === "pull" || from === "slide");
      yield {
        tick: start + ticksOf(stroke.at),
        unit: isPart ? null : { notes: stroke.notes },
        grip: isPart ? held : null,
        notes: stroke.notes,
        stroke,
        isSlurred,
      };
    }
    start += barLength(bar.meter);
  }
}

/** A wide or dead stroke keeps its strings, as far as there are any; one that goes over just its notes' strings goes over those of its notes still. */
function settleStrings(stroke: Stroke, strings: number, isMoved: boolean): void {
  if (stroke.strings) {
    const played = stroke.notes.map(({ string }) => string);
    const left = [...new Set([...stroke.strings.filter((string) => string <= strings), ...(isMoved ? played : [])])];
    if (left.length > 0) stroke.strings = left.sort((a, b) => b - a);
    else if (stroke.notes.length > 0) delete stroke.strings;
    else stroke.strings = [strings];
  }
  if (stroke.click) stroke.click = stroke.click.filter((string) => string <= strings);
  if (stroke.click?.length === 0) delete stroke.click;
  settleClicks(stroke);
}
