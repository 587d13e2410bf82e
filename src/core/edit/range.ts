import { notesOfChordShape } from "../chords/chord-shape.ts";
import { barLength, beatsOf, beatTicks } from "../music/beats.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import { settleClicks } from "../passage/clicks.ts";
import { insertStroke, type Place, roomFor } from "../passage/place.ts";
import type { Note, Passage, Stroke, WrittenGrip } from "../passage/schema.ts";
import { lastFret } from "../passage/settings.ts";
import { asText } from "../passage/text.ts";
import { setTone } from "../passage/tones.ts";
import { gripAt, setGrip } from "./grips.ts";
import type { Edit, Figure } from "./types.ts";

export type { Figure };

/** Ticks from the passage's beginning; bars count in full. */
export function ticksAt(passage: Passage, { bar, tick }: Place): Ticks {
  return passage.bars.slice(0, bar).reduce((sum, b) => sum + barLength(b.meter), 0) + tick;
}

/** The place so many ticks after the beginning; null past the end. */
export function placeAt(passage: Passage, ticks: Ticks): Place | null {
  let left = ticks;
  for (const [bar, { meter }] of passage.bars.entries()) {
    const length = barLength(meter);
    if (left < length) return { bar, tick: left };
    left -= length;
  }
  return null;
}

/** The strokes and grips that begin from one place up to another, as a figure of their own. Their names stay behind. */
export function figureOf(passage: Passage, from: Ticks, to: Ticks): Figure {
  const strokes: { offset: Ticks; stroke: Omit<Stroke, "at" | "id"> }[] = [];
  const grips: { offset: Ticks; grip: Omit<WrittenGrip, "at"> }[] = [];
  let start = 0;
  for (const bar of passage.bars) {
    for (const { at: written, ...grip } of bar.grips ?? []) {
      const at = start + ticksOf(written);
      if (at >= from && at < to) grips.push({ offset: at - from, grip });
    }
    for (const stroke of bar.strokes) {
      const at = start + ticksOf(stroke.at);
      if (at >= from && at < to) strokes.push({ offset: at - from, stroke: unnamed(stroke) });
    }
    start += barLength(bar.meter);
  }
  return { length: to - from, strokes, ...(grips.length > 0 ? { grips } : {}) };
}

function unnamed(stroke: Stroke): Omit<Stroke, "at" | "id"> {
  const { at: _at, id: _id, notes, ...rest } = stroke;
  return { ...rest, notes: notes.map(({ id: _name, ...note }) => note) };
}

/** Takes away every stroke that begins from one place up to another. False when there is none. */
export function clearRange(passage: Passage, from: Ticks, to: Ticks): boolean {
  let start = 0;
  let done = false;
  for (const bar of passage.bars) {
    const left = bar.strokes.filter((stroke) => {
      const at = start + ticksOf(stroke.at);
      return at < from || at >= to;
    });
    if (left.length < bar.strokes.length) {
      bar.strokes = left;
      done = true;
    }
    start += barLength(bar.meter);
  }
  return done;
}

/**
 * Writes a figure from a place on, in place of what begins there; bars of the last meter are added when it needs them. A
 * stroke that would reach over its bar's end is kept to it. False, with nothing changed, when it needs a string or fret
 * that this instrument has not.
 */
export function pasteFigure(passage: Passage, at: Ticks, figure: Figure): boolean {
  const { tuning } = passage.instrument;
  const last = lastFret(passage.instrument);
  const grips = figure.grips ?? [];
  const isOnNeck = ({ string, fret }: { string: number; fret: number }) => string <= tuning.length && fret <= last;
  const fits =
    grips.every(({ grip }) => grip.notes.every(isOnNeck)) &&
    figure.strokes.every(({ stroke }) => stroke.notes.every(isOnNeck) && (stroke.strings ?? []).every((s) => s <= tuning.length));
  if (!fits || figure.length <= 0) return false;
  const end = at + figure.length;
  const meter = passage.bars.at(-1)!.meter;
  while (ticksAt(passage, { bar: passage.bars.length, tick: 0 }) < end) passage.bars.push({ meter: [meter[0], meter[1]], strokes: [] });
  clearRange(passage, at, end);
  for (const { offset, stroke } of figure.strokes) {
    const place = placeAt(passage, at + offset)!;
    const bar = passage.bars[place.bar]!;
    const length = Math.min(ticksOf(stroke.length), barLength(bar.meter) - place.tick);
    insertStroke(bar.strokes, { ...structuredClone(stroke), at: fractionOf(place.tick), length: fractionOf(length) });
  }
  for (const { offset, grip } of grips) {
    const place = placeAt(passage, at + offset)!;
    setGrip(passage, { kind: "set-grip", place, grip: { ...structuredClone(grip), at: fractionOf(place.tick) } });
  }
  return true;
}

/** The strokes that begin from one place up to another. */
function strokesIn(passage: Passage, from: Ticks, to: Ticks): Stroke[] {
  let start = 0;
  return passage.bars.flatMap((bar) => {
    const found = bar.strokes.filter((stroke) => start + ticksOf(stroke.at) >= from && start + ticksOf(stroke.at) < to);
    start += barLength(bar.meter);
    return found;
  });
}

export function paintTone(passage: Passage, { from, to, tone }: Extract<Edit, { kind: "paint-tone" }>): boolean {
  const changed = strokesIn(passage, from, to).flatMap((stroke) => stroke.notes.filter((note) => setTone(note, tone)));
  return changed.length > 0;
}

export function setChord(passage: Passage, { from, to, length, name, shape }: Extract<Edit, { kind: "set-chord" }>): boolean {
  const { tuning } = passage.instrument;
  const last = lastFret(passage.instrument);
  const notes: Note[] = notesOfChordShape(shape);
  if (to <= from || shape.length !== tuning.length || notes.length === 0 || notes.some((note) => note.fret > last)) return false;
  const place = placeAt(passage, from);
  const strokes = strokesIn(passage, from, to);
  if (strokes.length === 0) {
    if (!place) return false;
    const stroke: Stroke = { at: fractionOf(place.tick), length: fractionOf(roomFor(passage, place, length)), notes: [] };
    insertStroke(passage.bars[place.bar]!.strokes, stroke);
    strokes.push(stroke);
  }
  // A grip that begins here is this chord from now on.
  const begun = place && gripAt(passage, place);
  if (begun && begun.notes.length > 0)
    setGrip(passage, {
      kind: "set-grip",
      place,
      grip: { at: begun.at, ...(name === null ? {} : { chord: asText(name.slice(0, 40)) }), notes: notes.map((note) => ({ ...note })) },
    });
  for (const stroke of strokes) {
    const tone = stroke.notes.length > 0 && stroke.notes.every((note) => note.tone === stroke.notes[0]!.tone) ? stroke.notes[0]!.tone : undefined;
    stroke.notes = notes.map((note) => ({ ...note, ...(tone ? { tone } : {}) }));
    if ((stroke.as ?? "play") === "play") delete stroke.strings;
    settleClicks(stroke);
    if (name === null) delete stroke.chord;
    else stroke.chord = asText(name.slice(0, 40));
  }
  return true;
}

export function writeChords(passage: Passage, { bar: first, chords }: Extract<Edit, { kind: "write-chords" }>): boolean {
  const { tuning } = passage.instrument;
  const last = lastFret(passage.instrument);
  const fits = chords.flat().every(({ shape }) => shape.length === tuning.length && shape.every((fret) => fret === null || fret <= last));
  if (!fits || chords.length === 0 || first < 0 || first > passage.bars.length) return false;
  const model = passage.bars[first] ?? passage.bars.at(-1)!;
  chords.forEach((own, i) => {
    const bar = passage.bars[first + i] ?? { meter: [model.meter[0], model.meter[1]] as typeof model.meter, strokes: [] };
    passage.bars[first + i] = bar;
    const beat = beatTicks(bar.meter);
    const share = Math.max(1, Math.round(beatsOf(bar.meter) / own.length)) * beat;
    const length = barLength(bar.meter);
    bar.strokes = own.flatMap(({ name, shape }, k): Stroke[] => {
      if (k * share >= length) return [];
      const end = k === own.length - 1 ? length : Math.min(length, (k + 1) * share);
      return [{ at: fractionOf(k * share), length: fractionOf(end - k * share), chord: asText(name.slice(0, 40)), notes: notesOfChordShape(shape) }];
    });
  });
  return true;
}
