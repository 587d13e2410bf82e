import { type FoldCache, fold, type Stage } from "../caching/fold.ts";
import { barLength } from "../music/beats.ts";
import { TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import type { BarSpan } from "./types.ts";

/** Where every bar starts and how fast it runs. A pick-up starts at its first stroke. */
export function barSpans(passage: Timed, cache?: FoldCache<BarSpan | null, BarSpan>): BarSpan[] {
  return fold(SPANS, passage, { keys: passage.bars, start: null, cache });
}

type Timed = Pick<Passage, "bars" | "tempo" | "feel">;

const SPANS: Stage<Timed, BarSpan | null, BarSpan> = {
  same: (a, b) => a === b || (a !== null && b !== null && a.start + a.length === b.start + b.length && a.endMs === b.endMs && a.tempo === b.tempo),
  work: (before, b, passage) => {
    const bar = passage.bars[b]!;
    const full = barLength(bar.meter);
    const first = bar.pickup ? Math.min(full, ...bar.strokes.map((stroke) => ticksOf(stroke.at))) : 0;
    const offset = first === full ? 0 : first;
    const tempo = bar.tempo ?? before?.tempo ?? passage.tempo;
    const startMs = before?.endMs ?? 0;
    const span: BarSpan = {
      start: before ? before.start + before.length : 0,
      offset,
      length: full - offset,
      startMs,
      endMs: startMs + (full - swungTicks(offset, passage.feel, full)) * msPerTick(tempo),
      tempo,
    };
    return [span, span];
  },
};

/** Milliseconds a tick lasts at a tempo in quarter notes a minute. */
export function msPerTick(tempo: number): number {
  return 60000 / tempo / (TICKS_PER_WHOLE / 4);
}

/**
 * Where a written place sounds: in swing, the second half of each pair starts late, so that
 * long to short is `ratio`. Continuous and rising, so order never changes. What is left of a bar behind its last whole
 * pair (the last eighth of 7/8) has nothing to swing with and stays straight, so that the bar ends where it is written to.
 */
export function swungTicks(inBar: Ticks, feel: Passage["feel"], bar: Ticks): number {
  if (feel === "straight") return inBar;
  const pair = TICKS_PER_WHOLE / (feel.swing === "eighth" ? 4 : 8);
  const base = Math.floor(inBar / pair) * pair;
  if (base + pair > bar) return inBar;
  const phase = (inBar - base) / pair;
  const long = feel.ratio / (1 + feel.ratio);
  const warped = phase < 0.5 ? phase * 2 * long : long + (phase - 0.5) * 2 * (1 - long);
  return base + warped * pair;
}

/** Sounding time in ms of a tick. `span` is the bar the tick lies in. */
export function msAt(span: BarSpan, tick: Ticks, feel: Passage["feel"]): number {
  const inBar = tick - span.start + span.offset;
  const bar = span.offset + span.length;
  const from = swungTicks(span.offset, feel, bar);
  return span.startMs + (swungTicks(inBar, feel, bar) - from) * msPerTick(span.tempo);
}

/** Nobody needs more of a ms. What lies between two times is rounded by itself: so steps as long as each other are equally long. */
export function toThousandths(ms: number): number {
  return Math.round(ms * 1000) / 1000;
}
