import { TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import type { BarSpan } from "./types.ts";

/** Where every bar starts and how fast it runs. A pick-up starts at its first stroke. */
export function barSpans(passage: Pick<Passage, "bars" | "tempo">): BarSpan[] {
  const spans: BarSpan[] = [];
  let start = 0;
  let startMs = 0;
  let tempo = passage.tempo;
  for (const bar of passage.bars) {
    tempo = bar.tempo ?? tempo;
    const full = ticksOf(`${bar.meter[0]}/${bar.meter[1]}`);
    const offset = bar.pickup ? Math.min(full, ...bar.strokes.map((stroke) => ticksOf(stroke.at))) : 0;
    const length = full - (offset === full ? 0 : offset);
    spans.push({ start, offset: offset === full ? 0 : offset, length, startMs, tempo });
    start += length;
    startMs += length * msPerTick(tempo);
  }
  return spans;
}

/** Milliseconds a tick lasts at a tempo in quarter notes a minute. */
export function msPerTick(tempo: number): number {
  return 60000 / tempo / (TICKS_PER_WHOLE / 4);
}

/**
 * Where a written place sounds: in swing, the second half of each pair starts late, so that
 * long to short is `ratio`. Continuous and rising, so order never changes.
 */
export function swungTicks(inBar: Ticks, feel: Passage["feel"]): number {
  if (feel === "straight") return inBar;
  const pair = TICKS_PER_WHOLE / (feel.swing === "eighth" ? 4 : 8);
  const base = Math.floor(inBar / pair) * pair;
  const phase = (inBar - base) / pair;
  const long = feel.ratio / (1 + feel.ratio);
  const warped = phase < 0.5 ? phase * 2 * long : long + (phase - 0.5) * 2 * (1 - long);
  return base + warped * pair;
}

/** Sounding time in ms of a tick, thousandths kept. `bar` is the bar the tick lies in. */
export function msAt(span: BarSpan, tick: Ticks, feel: Passage["feel"]): number {
  const inBar = tick - span.start + span.offset;
  const from = swungTicks(span.offset, feel);
  const ms = span.startMs + (swungTicks(inBar, feel) - from) * msPerTick(span.tempo);
  return Math.round(ms * 1000) / 1000;
}
