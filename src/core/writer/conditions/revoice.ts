import { knownIn } from "../../caching/known.ts";
import { notesOfChordShape } from "../../chords/chord-shape.ts";
import { type ChordTones, parseChordName } from "../../chords/names.ts";
import { voicingsOf } from "../../chords/voicings.ts";
import { cheapestHandPath, type HandWay } from "../../grips/hand-path.ts";
import type { NeckPlace } from "../../music/neck.ts";
import type { Bar, Conditions, Instrument } from "../../passage/schema.ts";
import { openPitches } from "../../passage/settings.ts";
import { type Held, harmonyOf, heldAt } from "../harmony.ts";
import type { RuleReport } from "../report.ts";
import { type Recast, recastBars } from "./recast.ts";

/** Strings that make a chord; two are an interval and stay. */
const CHORD = 3;
/** Open shapes lie in the first position (common practice). */
const OPEN_UP_TO = 4;
/** Frets that still lie about one. */
const ABOUT = 2;
const MOST_WAYS = 12;
/** A string more or fewer than the chord had, against taking the next easiest shape. From memory, adjustable. */
const PER_STRING = 4;
/** A shift by a fret, against taking the next easiest shape. From memory, adjustable. */
const PER_FRET = 0.5;

interface Way extends HandWay {
  /** Null: as it is. */
  to: readonly NeckPlace[] | null;
}

/** What a voicing is to be: of open or closed kind, or with its lowest fret about a given one. */
export type Wanted = NonNullable<Conditions["voicing"]> | number;

/** Every chord in voicings of a kind or about a fret, each near the one before; what is so already stays. */
export function revoice(bars: readonly Bar[], instrument: Instrument, wanted: Wanted): RuleReport {
  const chords = harmonyOf(bars);
  const known = new Map<string, readonly Way[]>();
  const missing = new Set<string>();
  const waysFor = (m: number): readonly Way[] => {
    const held = chords[m]!;
    if (!isChord(held) || isWanted(held.notes, wanted)) return [asItIs(held)];
    const key = `${held.name} ${held.notes.map(({ string, fret }) => `${string}/${fret}`)}`;
    const ways = known.get(key) ?? waysOf(held, instrument, wanted);
    known.set(key, ways);
    if (ways.length > 0) return ways;
    missing.add(held.name ?? held.notes.map(({ fret }) => fret).join(" "));
    return [asItIs(held)];
  };
  const path = cheapestHandPath(chords.length, waysFor, PER_FRET);
  const recasts = new Map<Held, Recast | null>(chords.map((held, m) => [held, path[m]!.to && { from: held.notes, to: path[m]!.to }]));
  const { strokes, outside } = recastBars(bars, (tick) => recasts.get(heldAt(chords, tick)!) ?? null);
  const kind = typeof wanted === "number" ? `voicing about fret ${wanted}` : `${wanted} voicing`;
  const said = strokes > 0 ? [`${strokes} ${strokes === 1 ? "stroke" : "strokes"} in ${kind.replace("voicing", "voicings")}`] : [];
  if (strokes === 0 && missing.size === 0) said.push(`no chord of three strings that is not in ${kind.replace("voicing", "voicings")} already`);
  if (missing.size > 0) said.push(`no ${kind} here for ${[...missing].join(", ")}: as written`);
  if (outside > 0) said.push(`${outside} ${outside === 1 ? "note" : "notes"} beside the chords as written`);
  return { changed: strokes, says: `${said.join("; ").replace(/^./, (first) => first.toUpperCase())}.`, clashes: [] };
}

/** Three strings and more. */
export function isChord({ notes }: Held): boolean {
  return notes.length >= CHORD;
}

function isWanted(notes: readonly NeckPlace[], wanted: Wanted): boolean {
  const hasOpen = notes.some(({ fret }) => fret === 0);
  if (typeof wanted === "number") return !hasOpen && Math.abs(positionOf(notes) - wanted) <= ABOUT;
  return wanted === "closed" ? !hasOpen : hasOpen && notes.every(({ fret }) => fret <= OPEN_UP_TO);
}

function asItIs({ notes }: Held): Way {
  return { to: null, position: positionOf(notes), cost: 0 };
}

/** Every voicing of some tones on an instrument, easiest first. */
const voicingsKnown = new WeakMap<Instrument, Map<string, readonly (readonly NeckPlace[])[]>>();

function waysOf(held: Held, instrument: Instrument, wanted: Wanted): Way[] {
  const tones = tonesOf(held, instrument);
  const known = voicingsKnown.get(instrument) ?? new Map<string, readonly (readonly NeckPlace[])[]>();
  voicingsKnown.set(instrument, known);
  const key = `${tones.bass} ${[...tones.tones]} ${[...tones.needed]}`;
  const all = knownIn(known, key, () => voicingsOf(tones, instrument, Number.POSITIVE_INFINITY).map(({ shape }) => notesOfChordShape(shape)));
  return all
    .filter((notes) => notes.length >= CHORD && isWanted(notes, wanted))
    .map((to, rank) => ({ to, position: positionOf(to), cost: rank + PER_STRING * Math.abs(to.length - held.notes.length) }))
    .sort((a, b) => a.cost - b.cost)
    .slice(0, MOST_WAYS);
}

function positionOf(notes: readonly NeckPlace[]): number {
  const frets = notes.flatMap(({ fret }) => (fret > 0 ? [fret] : []));
  return frets.length > 0 ? Math.min(...frets) : 0;
}

/** By its name where that says what is held; else just the tones it has over its lowest. */
function tonesOf({ name, notes }: Held, instrument: Instrument): ChordTones {
  const open = openPitches(instrument);
  const pitches = notes.map(({ string, fret }) => open[string - 1]! + fret);
  const own = new Set(pitches.map((pitch) => pitch % 12));
  const bass = Math.min(...pitches) % 12;
  const named = name === undefined ? null : parseChordName(name);
  if (named?.ok && [...own].every((tone) => named.chord.tones.has(tone))) return { ...named.chord, bass };
  return { name: name ?? "", bass, tones: own, needed: own };
}
