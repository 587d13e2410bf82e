import { barLength } from "../music/beats.ts";
import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Passage, Stroke } from "./schema.ts";

/** A place in the passage: bar index from 0 and ticks from the bar's start. */
export interface Place {
  bar: number;
  tick: Ticks;
}

export function strokeAt(passage: Passage, place: Place): Stroke | undefined {
  return passage.bars[place.bar]?.strokes.find((stroke) => ticksOf(stroke.at) === place.tick);
}

/** Puts a stroke where its moment belongs among those of its bar. */
export function insertStroke(strokes: Stroke[], stroke: Stroke): void {
  const tick = ticksOf(stroke.at);
  const index = strokes.findIndex((s) => ticksOf(s.at) > tick);
  strokes.splice(index < 0 ? strokes.length : index, 0, stroke);
}

/** A new stroke lasts as wished, but not past the next one or the bar. */
export function roomFor(passage: Passage, place: Place, wished: Ticks): Ticks {
  const bar = passage.bars[place.bar]!;
  const next = bar.strokes.map((s) => ticksOf(s.at)).filter((tick) => tick > place.tick);
  return Math.min(wished, Math.min(barLength(bar.meter), ...next) - place.tick);
}
