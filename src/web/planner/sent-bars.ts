import equal from "fast-deep-equal";
import type { Bar } from "../../core/passage/schema.ts";

/** A bar on its way to a worker: one that was sent with the passage before comes as its index there. */
export type SentBar = Bar | number;

export function barsToSend(sent: readonly Bar[], now: readonly Bar[]): SentBar[] {
  const known = new Map(sent.map((bar, b) => [bar, b]));
  return now.map((bar) => known.get(bar) ?? bar);
}

/** Bars, and strokes of a bar that was changed, are the same objects as before wherever they say the same: what is known of them is known by these. */
export function barsReceived(sent: readonly Bar[], bars: readonly SentBar[]): Bar[] {
  const kept = new Set(bars);
  return bars.map((bar, b) => {
    if (typeof bar === "number") return sent[bar]!;
    const before = kept.has(b) ? undefined : sent[b];
    return before ? withKnownStrokes(bar, before) : bar;
  });
}

function withKnownStrokes(bar: Bar, before: Bar): Bar {
  return { ...bar, strokes: bar.strokes.map((stroke) => before.strokes.find((known) => equal(known, stroke)) ?? stroke) };
}
