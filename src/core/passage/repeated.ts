import type { Passage } from "./schema.ts";

/** The passage several times over, as one; each time again with its pins. What makes other versions of it stays behind. */
export function repeated(passage: Passage, times: number): Passage {
  if (times === 1) return passage;
  const { treatments: _treatments, ...plain } = passage;
  const many = passage.bars.length;
  const again = passage.bars.map(({ pickup: _pickup, id: _id, ...bar }) => bar);
  const later = (place: { bar: number; at: string }, time: number) => ({ ...place, bar: place.bar + time * many });
  const pins = passage.pins?.flatMap((pin) => Array.from({ length: times }, (_, time) => ({ ...pin, from: later(pin.from, time), to: later(pin.to, time) })));
  return { ...plain, bars: [...passage.bars, ...Array.from({ length: times - 1 }, () => again).flat()], ...(pins ? { pins } : {}) };
}
