import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Passage, Stroke } from "../passage/schema.ts";
import { barLength, type Place } from "./place.ts";

/** A stretch of music cut out of a passage: strokes by how far they are from its beginning. */
export interface Figure {
  length: Ticks;
  strokes: readonly { offset: Ticks; stroke: Omit<Stroke, "at" | "id"> }[];
}

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

/** The strokes that begin from one place up to another, as a figure of their own. Their names stay behind. */
export function figureOf(passage: Passage, from: Ticks, to: Ticks): Figure {
  const strokes: { offset: Ticks; stroke: Omit<Stroke, "at" | "id"> }[] = [];
  let start = 0;
  for (const bar of passage.bars) {
    for (const stroke of bar.strokes) {
      const at = start + ticksOf(stroke.at);
      if (at >= from && at < to) strokes.push({ offset: at - from, stroke: unnamed(stroke) });
    }
    start += barLength(bar.meter);
  }
  return { length: to - from, strokes };
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
  const { tuning, frets } = passage.instrument;
  const fits = figure.strokes.every(
    ({ stroke }) => stroke.notes.every((note) => note.string <= tuning.length && note.fret <= frets) && (stroke.strings ?? []).every((s) => s <= tuning.length),
  );
  if (!fits || figure.length <= 0) return false;
  const end = at + figure.length;
  const meter = passage.bars.at(-1)!.meter;
  while (ticksAt(passage, { bar: passage.bars.length, tick: 0 }) < end) passage.bars.push({ meter: [meter[0], meter[1]], strokes: [] });
  clearRange(passage, at, end);
  for (const { offset, stroke } of figure.strokes) {
    const place = placeAt(passage, at + offset)!;
    const bar = passage.bars[place.bar]!;
    const length = Math.min(ticksOf(stroke.length), barLength(bar.meter) - place.tick);
    bar.strokes.push({ ...structuredClone(stroke), at: fractionOf(place.tick), length: fractionOf(length) });
    bar.strokes.sort((a, b) => ticksOf(a.at) - ticksOf(b.at));
  }
  return true;
}
