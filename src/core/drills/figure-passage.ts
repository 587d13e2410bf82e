import { gripHolding } from "../edit/grips.ts";
import { figureOf, pasteFigure, placeAt } from "../edit/range.ts";
import { TICKS_PER_WHOLE, type Ticks } from "../music/ticks.ts";
import type { Bar, Passage } from "../passage/schema.ts";

/** A passage for the same hands without bars, pins and treatments of its own. */
export function emptyLike(passage: Passage, title: string, tempo = passage.tempo): Passage {
  const { pins: _, treatments: _treatments, bars: _bars, goalTempo: _goal, ...rest } = passage;
  return { ...rest, title, tags: [], notes: "", tempo, feel: passage.feel, bars: [] };
}

const EIGHTH = TICKS_PER_WHOLE / 8;

/** A meter whose bar holds so many ticks at least: whole quarters where that is possible. */
export function meterFor(length: Ticks): Bar["meter"] {
  const eighths = Math.max(2, Math.ceil(length / EIGHTH));
  return (eighths % 2 === 0 ? [eighths / 2, 4] : [eighths, 8]) as Bar["meter"];
}

/** A bar that holds what begins between two moments, with the grip that is held there already. */
export function barOf(passage: Passage, from: Ticks, to: Ticks): Bar {
  const place = placeAt(passage, from)!;
  const held = gripHolding(passage, place);
  const made: Passage = { ...passage, bars: [{ meter: meterFor(to - from), strokes: [] }] };
  pasteFigure(made, 0, figureOf(passage, from, to));
  const [bar] = made.bars as [Bar];
  if (held && !bar.grips?.some(({ at }) => at === "0")) bar.grips = [{ ...held, at: "0" }, ...(bar.grips ?? [])];
  return bar;
}
