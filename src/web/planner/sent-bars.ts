import type { Bar } from "../../core/passage/schema.ts";

/** A bar on its way to a worker: one that was sent with the passage before comes as its index there. */
export type SentBar = Bar | number;

export function barsToSend<T>(sent: readonly T[], now: readonly T[]): (T | number)[] {
  const known = new Map(sent.map((bar, b) => [bar, b]));
  return now.map((bar) => known.get(bar) ?? bar);
}

export function barsReceived<T extends object>(sent: readonly T[], bars: readonly (T | number)[]): T[] {
  return bars.map((bar) => (typeof bar === "number" ? sent[bar]! : bar));
}
