import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Bar, Passage, Stroke } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import { barSpans, msAt } from "./clock.ts";
import { crossedStrings, strokeDirections } from "./strokes.ts";
import type { BarSpan, Issue, Step, Timeline, TimelineNote, TimelineStroke } from "./types.ts";

type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** Lays a passage out in time: a step begins at every notated onset and end, nowhere else. */
export function timelineOf(passage: Passage, settings: Settings): Timeline {
  const bars = barSpans(passage);
  const last = bars.at(-1) as BarSpan;
  const end = last.start + last.length;
  const strings = passage.instrument.tuning.length;
  const issues: Issue[] = [];
  const notes: Writable<TimelineNote>[] = [];
  const strokes: TimelineStroke[] = [];

  passage.bars.forEach((bar, b) => {
    const directions = strokeDirections(bar, settings, strings);
    const order = bar.strokes.map((_, s) => s).sort((x, y) => ticksOf(bar.strokes[x]!.at) - ticksOf(bar.strokes[y]!.at));
    for (const s of order) {
      const stroke = bar.strokes[s] as Stroke;
      const start = bars[b]!.start + ticksOf(stroke.at) - bars[b]!.offset;
      const index = strokes.length;
      const dead = stroke.as !== undefined && stroke.as !== "play";
      const own: number[] = [];
      const kept: { string: number; fret: number; finger: TimelineNote["finger"]; note: number }[] = [];
      const taken = new Set<number>();
      stroke.notes.forEach((note, n) => {
        const where = { path: `/bars/${b}/strokes/${s}/notes/${n}`, bar: b + 1, at: fractionOf(ticksOf(stroke.at)) };
        if (taken.has(note.string)) {
          issues.push({ code: "two-notes-one-string", ...where, says: `String ${note.string} cannot sound two notes at once; the second is left out.` });
          return;
        }
        taken.add(note.string);
        if (note.fret > passage.instrument.frets - passage.instrument.capo) {
          issues.push({
            code: "fret-beyond-neck",
            ...where,
            says: `Fret ${note.fret} lies beyond the neck's ${passage.instrument.frets} frets; the note is left out.`,
          });
          return;
        }
        if (dead) {
          kept.push({ string: note.string, fret: note.fret, finger: note.finger, note: n });
          return;
        }
        own.push(notes.length);
        notes.push({
          index: notes.length,
          bar: b,
          stroke: s,
          note: n,
          strokeIndex: index,
          string: note.string,
          fret: note.fret,
          finger: note.finger,
          start,
          end: Math.min(end, start + ticksOf(note.length ?? stroke.length)),
          tone: note.tone ?? "open",
          from: note.from ?? "stroke",
          by: note.by,
          bend: note.bend ?? 0,
          letRing: note.letRing ?? false,
          harmonic: note.harmonic ?? false,
        });
      });
      strokes.push({
        index,
        bar: b,
        stroke: s,
        start,
        end: Math.min(end, start + ticksOf(stroke.length)),
        kind: directions[s]!,
        as: stroke.as ?? "play",
        accent: stroke.accent ?? false,
        chord: stroke.chord,
        crossed: crossedStrings(stroke, directions[s]!),
        notes: own,
        kept,
      });
    }
  });

  endAtNextOnset(notes, strokes, strings);
  return { strings, bars, strokes, notes, steps: stepsOf(passage, bars, strokes, notes, strings, end), end, endMs: msAt(last, end, passage.feel), issues };
}

/** A string's next onset, played or dead, ends what sounded on it. */
function endAtNextOnset(notes: Writable<TimelineNote>[], strokes: readonly TimelineStroke[], strings: number): void {
  const next: Ticks[] = new Array(strings + 1).fill(Number.POSITIVE_INFINITY);
  for (let i = strokes.length - 1; i >= 0; i--) {
    const stroke = strokes[i]!;
    for (const n of stroke.notes) {
      const note = notes[n]!;
      note.end = Math.min(note.end, next[note.string]!);
    }
    for (const string of stroke.crossed) next[string] = stroke.start;
    for (const n of stroke.notes) next[notes[n]!.string] = stroke.start;
  }
}

function stepsOf(
  passage: Passage,
  bars: readonly BarSpan[],
  strokes: readonly TimelineStroke[],
  notes: readonly TimelineNote[],
  strings: number,
  end: Ticks,
): Step[] {
  const places = new Set<Ticks>();
  for (const stroke of strokes) {
    places.add(stroke.start);
    if (stroke.notes.length === 0) places.add(stroke.end);
  }
  for (const note of notes) places.add(note.end);
  const ticks = [...places].filter((tick) => tick < end).sort((a, b) => a - b);
  const steps: Step[] = [];
  const sounding: (TimelineNote | null)[] = new Array(strings).fill(null);
  let bar = 0;
  let nextStroke = 0;
  const msOf = (tick: Ticks) => {
    while (bar + 1 < bars.length && tick >= bars[bar + 1]!.start) bar++;
    return msAt(bars[bar]!, tick, passage.feel);
  };
  for (const [index, tick] of ticks.entries()) {
    const ms = msOf(tick);
    const span = bars[bar]!;
    const begins: boolean[] = new Array(strings).fill(false);
    for (let s = 0; s < strings; s++) if (sounding[s] && sounding[s]!.end <= tick) sounding[s] = null;
    let stroke: TimelineStroke | null = null;
    if (nextStroke < strokes.length && strokes[nextStroke]!.start === tick) {
      stroke = strokes[nextStroke++]!;
      for (const n of stroke.notes) {
        sounding[notes[n]!.string - 1] = notes[n]!;
        begins[notes[n]!.string - 1] = true;
      }
    }
    steps.push({ index, bar, atTicks: tick - span.start + span.offset, tick, ms, lengthMs: 0, stroke, sounding: [...sounding], begins });
  }
  const endMs = msAt(bars.at(-1) as BarSpan, end, passage.feel);
  steps.forEach((step, i) => {
    const until = i + 1 < steps.length ? steps[i + 1]!.ms : endMs;
    step.lengthMs = Math.round((until - step.ms) * 1000) / 1000;
  });
  return steps;
}

/** The meter's place as players count it: "2", "2 e", "2 &", "2 a"; finer places as a fraction of the beat. */
export function countOf(atTicks: Ticks, bar: Pick<Bar, "meter">): string {
  const beat = ticksOf(`1/${bar.meter[1]}`);
  const number = Math.floor(atTicks / beat) + 1;
  const rest = atTicks % beat;
  if (rest === 0) return `${number}`;
  const quarter = bar.meter[1] <= 4 ? rest / (beat / 4) : 2 * (rest / (beat / 2));
  if (quarter === 1) return `${number} e`;
  if (quarter === 2) return `${number} &`;
  if (quarter === 3) return `${number} a`;
  return `${number} + ${fractionOf(rest)}`;
}
