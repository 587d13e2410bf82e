import { FoldCache, fold, inARow, onItsOwn, type Stage, sameItems } from "../caching/fold.ts";
import { trimmed } from "../caching/trimmed.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import { bendOf } from "../passage/bends.ts";
import type { Instrument, Passage, Stroke } from "../passage/schema.ts";
import { lastFret, type Settings } from "../passage/settings.ts";
import { barSpans, msAt, toThousandths } from "./clock.ts";
import { crossedStrings, strokeDirections } from "./strokes.ts";
import type { BarSpan, Issue, Step, Timeline, TimelineNote, TimelineStroke } from "./types.ts";

/** What the timeline remembers of the last version of a passage. */
export class TimelineCache {
  readonly bars = new FoldCache<null, BarMusic>();
  readonly ends = new FoldCache<Onsets, BarMusic>();
  readonly places = new FoldCache<readonly Ticks[], readonly Ticks[]>();
  readonly steps = new FoldCache<readonly (TimelineNote | null)[], readonly Step[]>();
  readonly spans = new FoldCache<BarSpan | null, BarSpan>();
  /** Strokes, notes and steps as they were laid out last: those an edit of their bar leaves alone stay the same objects. */
  readonly laid = new WeakMap<Stroke, TimelineStroke>();
  readonly cut = new WeakMap<TimelineStroke, TimelineStroke>();
  readonly stepAt = new Map<Ticks, Step>();
}

/** The strokes and notes of one bar. */
interface BarMusic {
  strokes: readonly TimelineStroke[];
  notes: readonly TimelineNote[];
  issues: readonly Issue[];
}

/** Per string (index from 1): the tick at which it is struck next. */
type Onsets = readonly Ticks[];

/** Lays a passage out in time: a step begins at every notated onset and end and where a bend is let back, nowhere else. */
export function timelineOf(passage: Passage, settings: Settings, cache?: TimelineCache): Timeline {
  const bars = barSpans(passage, cache?.spans);
  const last = bars.at(-1) as BarSpan;
  const end = last.start + last.length;
  const strings = passage.instrument.tuning.length;
  const order = passage.bars.map((_, b) => b);
  const written = fold(WRITTEN, { passage, bars, settings, cache }, { keys: passage.bars, beside: [bars, order], start: null, cache: cache?.bars });
  const music = clipped(written, strings, end, cache);
  const steps = stepsOf(passage, bars, music, strings, end, cache);
  const notes = inARow(music.map((bar) => bar.notes));
  return {
    strings,
    bars,
    strokes: inARow(music.map((bar) => bar.strokes)),
    notes,
    steps,
    end,
    endMs: toThousandths(msAt(last, end, passage.feel)),
    issues: music.flatMap((bar) => bar.issues),
  };
}

interface Music {
  passage: Passage;
  bars: readonly BarSpan[];
  settings: Settings;
  cache: TimelineCache | undefined;
}

const WRITTEN = onItsOwn((b, { passage, bars, settings, cache }: Music) => barMusic(passage, b, bars[b]!, settings, cache));

/** Partial that speaks when a string is touched over a fret near its node (common practice; the node of n lies at 1/n of the string). */
const HARMONIC_AT: Readonly<Record<number, number>> = { 12: 2, 7: 3, 19: 3, 5: 4, 24: 4, 4: 5, 9: 5, 16: 5 };

/** Semitones over the open string of partials 2 to 5, to the nearest fret. */
const PITCH_OF_PARTIAL: Readonly<Record<number, number>> = { 2: 12, 3: 19, 4: 24, 5: 28 };

/** A bar's strokes in order, their notes as long as they are written. */
function barMusic(passage: Passage, b: number, span: BarSpan, settings: Settings, cache?: TimelineCache): BarMusic {
  const bar = passage.bars[b]!;
  const { instrument } = passage;
  const directions = strokeDirections(bar, settings, instrument.tuning.length);
  const order = bar.strokes.map((_, s) => s).sort((x, y) => ticksOf(bar.strokes[x]!.at) - ticksOf(bar.strokes[y]!.at));
  const strokes: TimelineStroke[] = [];
  const notes: TimelineNote[] = [];
  const issues: Issue[] = [];
  for (const s of order) {
    const stroke = bar.strokes[s] as Stroke;
    const start = span.start + ticksOf(stroke.at) - span.offset;
    const known = cache?.laid.get(stroke);
    const isKnown = known && known.bar === b && known.stroke === s && known.start === start && known.kind === directions[s];
    const laid = isKnown ? { made: known, issues: [] } : strokeLaid(stroke, { b, s, start, kind: directions[s]! }, instrument, settings);
    // One with a fault is laid out each time, so that the fault is reported each time.
    if (laid.issues.length === 0) cache?.laid.set(stroke, laid.made);
    strokes.push(laid.made);
    notes.push(...laid.made.notes);
    issues.push(...laid.issues);
  }
  return { strokes, notes, issues };
}

/** Where a stroke stands, and what kind it is. */
interface Place {
  b: number;
  s: number;
  start: Ticks;
  kind: TimelineStroke["kind"];
}

/** One stroke, its notes as long as they are written; what cannot be played is left out and reported. */
function strokeLaid(stroke: Stroke, place: Place, instrument: Instrument, settings: Settings): { made: TimelineStroke; issues: Issue[] } {
  const { b, s, start, kind } = place;
  const isDead = stroke.as !== undefined && stroke.as !== "play";
  const issues: Issue[] = [];
  const notes: TimelineNote[] = [];
  const kept: TimelineStroke["kept"][number][] = [];
  const taken = new Set<number>();
  for (let n = 0; n < stroke.notes.length; n++) {
    const note = stroke.notes[n]!;
    const where = () => ({ path: `/bars/${b}/strokes/${s}/notes/${n}`, bar: b + 1, at: fractionOf(ticksOf(stroke.at)) });
    if (taken.has(note.string)) {
      issues.push({ code: "two-notes-one-string", ...where(), says: `String ${note.string} cannot sound two notes at once; the second is left out.` });
      continue;
    }
    taken.add(note.string);
    if (note.fret > lastFret(instrument)) {
      const says = `Fret ${note.fret} lies beyond the neck's ${lastFret(instrument)} frets; the note is left out.`;
      issues.push({ code: "fret-beyond-neck", ...where(), says });
      continue;
    }
    if (isDead) {
      kept.push({ string: note.string, fret: note.fret, finger: note.finger, note: n });
      continue;
    }
    const partial = note.harmonic ? (HARMONIC_AT[note.fret] ?? null) : null;
    if (note.harmonic && partial === null)
      issues.push({ code: "no-harmonic-here", ...where(), says: `No natural harmonic speaks at fret ${note.fret}; it is planned as a fretted note.` });
    const bend = bendOf(note);
    if (bend && (note.string + bend.side < 1 || note.string + bend.side > instrument.tuning.length)) {
      const says = `String ${note.string} is the last one there: bent towards the ${bend.side === 1 ? "bass" : "treble"} side it slips off the neck.`;
      issues.push({ code: "bend-off-neck", ...where(), says });
    }
    notes.push({
      bar: b,
      stroke: s,
      note: n,
      string: note.string,
      fret: note.fret,
      pressedFret: partial ? 0 : note.fret,
      pitchFret: partial ? PITCH_OF_PARTIAL[partial]! : note.fret,
      finger: note.finger,
      start,
      end: start + ticksOf(note.length ?? stroke.length),
      tone: note.tone ?? "open",
      from: note.from ?? "stroke",
      by: note.by,
      bend,
      vibrato: note.vibrato ?? false,
      mute: note.mute ?? (stroke.accent ? "light" : "medium"),
      letRing: note.letRing ?? false,
    });
  }
  if (pluckedAtOnce(stroke, notes, settings) > MOST_PLUCKED + (notes.some((note) => note.by === "c") ? 1 : 0))
    issues.push({
      code: "too-many-plucked",
      path: `/bars/${b}/strokes/${s}`,
      bar: b + 1,
      at: fractionOf(ticksOf(stroke.at)),
      says: `${notes.length} strings at once are more than thumb and three fingers can pluck: leave some out, or draw one finger across them (a brush).`,
    });
  const crossed = crossedStrings(stroke, kind);
  const made: TimelineStroke = {
    bar: b,
    stroke: s,
    start,
    end: start + ticksOf(stroke.length),
    kind,
    as: stroke.as ?? "play",
    accent: stroke.accent ?? false,
    chord: stroke.chord,
    crossed: stroke.click ? crossed.filter((string) => !stroke.click!.includes(string)) : crossed,
    clicked: stroke.click ?? [],
    notes: trimmed(notes),
    kept: trimmed(kept),
  };
  return { made, issues };
}

/** Thumb, index, middle and ring finger; the little one only where it is written (common practice). */
const MOST_PLUCKED = 4;

/** Strings that fingers pluck in one pinch; 0 for a pick, a thumb that strums, and one finger that is written to go over them all. */
function pluckedAtOnce(stroke: Stroke, notes: readonly TimelineNote[], { playsWith }: Settings): number {
  if (playsWith !== "fingers" || stroke.stroke !== undefined || (stroke.as ?? "play") !== "play") return 0;
  return notes.filter((note) => note.from === "stroke").length;
}

/** When a bent string is let back: half-way through its note; null when it stays bent. */
export function turnOf({ bend, start, end }: TimelineNote): Ticks | null {
  return bend === null || bend.back === null ? null : Math.floor((start + end) / 2);
}

/** A string's next onset, played or dead, ends what sounded on it; so does the end of the passage. */
function clipped(written: readonly BarMusic[], strings: number, end: Ticks, cache?: TimelineCache): BarMusic[] {
  return fold(CLIPPED, { written, end, cache }, { keys: written, start: new Array(strings + 1).fill(end), cache: cache?.ends });
}

const CLIPPED: Stage<{ written: readonly BarMusic[]; end: Ticks; cache: TimelineCache | undefined }, Onsets, BarMusic> = {
  same: sameItems,
  equal: sameEnds,
  backward: true,
  work: (onsets, b, { written, end, cache }) => {
    const next = [...onsets];
    const strokes: TimelineStroke[] = [];
    for (const stroke of [...written[b]!.strokes].reverse()) {
      const ends = stroke.notes.map((note) => Math.min(note.end, next[note.string]!));
      const known = cache?.cut.get(stroke);
      const isKnown = known && known.end === Math.min(stroke.end, end) && known.notes.every((note, n) => note.end === ends[n]);
      const cut = isKnown ? known : { ...stroke, end: Math.min(stroke.end, end), notes: stroke.notes.map((note, n) => ({ ...note, end: ends[n]! })) };
      cache?.cut.set(stroke, cut);
      strokes.push(cut);
      for (const string of [...stroke.crossed, ...stroke.clicked]) next[string] = stroke.start;
      for (const note of stroke.notes) next[note.string] = stroke.start;
    }
    strokes.reverse();
    return [{ strokes, notes: strokes.flatMap((stroke) => stroke.notes), issues: written[b]!.issues }, next];
  },
};

/** Whether what is written in a bar ends where it ended before. */
function sameEnds(old: BarMusic, now: BarMusic): boolean {
  return old.strokes.every((was, s) => {
    const stroke = now.strokes[s]!;
    return was.end === stroke.end && was.notes.every((note, n) => note.end === stroke.notes[n]!.end);
  });
}

function stepsOf(passage: Passage, bars: readonly BarSpan[], music: readonly BarMusic[], strings: number, end: Ticks, cache?: TimelineCache): Step[] {
  const ends = bars.map((span) => span.start + span.length);
  const places = fold(PLACES, { music, ends }, { keys: music, beside: [ends], start: [], cache: cache?.places });
  const endMs = msAt(bars.at(-1) as BarSpan, end, passage.feel);
  const until: number[] = new Array(bars.length);
  let next = endMs;
  for (let b = bars.length - 1; b >= 0; b--) {
    until[b] = next;
    const first = places[b]![0];
    if (first !== undefined) next = msAt(bars[b]!, first, passage.feel);
  }
  const laid = { bars, music, places, until, feel: passage.feel, cache };
  return inARow(fold(IN_BARS, laid, { keys: music, beside: [places, bars, until], start: new Array(strings).fill(null), cache: cache?.steps }));
}

/** Where something begins, ends or turns, bar by bar. Places that end something in a later bar are handed on. */
const PLACES: Stage<{ music: readonly BarMusic[]; ends: readonly Ticks[] }, readonly Ticks[], readonly Ticks[]> = {
  same: sameItems,
  work: (pending, b, { music, ends }) => {
    const ticks = new Set(pending);
    for (const stroke of music[b]!.strokes) {
      ticks.add(stroke.start);
      if (stroke.notes.length === 0) ticks.add(stroke.end);
    }
    for (const note of music[b]!.notes) {
      ticks.add(note.end);
      const turn = turnOf(note);
      if (turn !== null) ticks.add(turn);
    }
    const sorted = [...ticks].sort((x, y) => x - y);
    const end = ends[b]!;
    return [sorted.filter((tick) => tick < end), sorted.filter((tick) => tick >= end)];
  },
};

interface Laid {
  bars: readonly BarSpan[];
  music: readonly BarMusic[];
  places: readonly (readonly Ticks[])[];
  until: readonly number[];
  feel: Passage["feel"];
  cache: TimelineCache | undefined;
}

const IN_BARS: Stage<Laid, readonly (TimelineNote | null)[], readonly Step[]> = {
  same: sameItems,
  work: (before, b, { bars, music, places, until, feel, cache }) => barSteps(b, bars[b]!, music[b]!.strokes, places[b]!, before, until[b]!, feel, cache),
};

function barSteps(
  bar: number,
  span: BarSpan,
  strokes: readonly TimelineStroke[],
  places: readonly Ticks[],
  before: readonly (TimelineNote | null)[],
  untilMs: number,
  feel: Passage["feel"],
  cache?: TimelineCache,
): readonly [Step[], readonly (TimelineNote | null)[]] {
  const steps: Step[] = [];
  let sounding = before;
  let nextStroke = 0;
  for (let i = 0; i < places.length; i++) {
    const tick = places[i]!;
    const now = stillSounding(sounding, tick);
    const begins: boolean[] = new Array(now.length).fill(false);
    let stroke: TimelineStroke | null = null;
    if (strokes[nextStroke]?.start === tick) {
      stroke = strokes[nextStroke++]!;
      for (const note of stroke.notes) {
        now[note.string - 1] = note;
        begins[note.string - 1] = true;
      }
    }
    sounding = now;
    const beginsMs = msAt(span, tick, feel);
    const endsMs = i + 1 < places.length ? msAt(span, places[i + 1]!, feel) : untilMs;
    const atTicks = tick - span.start + span.offset;
    const step = { bar, atTicks, tick, ms: toThousandths(beginsMs), lengthMs: toThousandths(endsMs - beginsMs), stroke, sounding: now, begins };
    const known = cache?.stepAt.get(tick);
    const isKnown = known && sameStep(known, step);
    if (!isKnown) cache?.stepAt.set(tick, step);
    steps.push(isKnown ? known : step);
  }
  return [steps, sounding];
}

/** What goes on, string by string. */
function stillSounding(before: readonly (TimelineNote | null)[], tick: Ticks): (TimelineNote | null)[] {
  const now = [...before];
  for (let s = 0; s < now.length; s++) if (now[s] && now[s]!.end <= tick) now[s] = null;
  return now;
}

function sameStep(a: Step, b: Step): boolean {
  return (
    a.bar === b.bar &&
    a.atTicks === b.atTicks &&
    a.ms === b.ms &&
    a.lengthMs === b.lengthMs &&
    a.stroke === b.stroke &&
    sameItems(a.sounding, b.sounding) &&
    sameItems(a.begins, b.begins)
  );
}
