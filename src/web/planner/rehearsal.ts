import type { Passage } from "../../core/passage/schema.ts";

/** From so many on an edit takes no longer than any later one: what plans is compiled for good. */
const TRIES = 24;

/** Versions of a passage that lack one stroke each, here and there; the last is the passage itself. None at all where there is no stroke. */
export function* rehearsal(passage: Passage): Generator<Passage, void> {
  const places = passage.bars.flatMap(({ strokes }, bar) => strokes.map((_, stroke) => ({ bar, stroke })));
  if (places.length === 0) return;
  for (let k = 0; k < TRIES; k++) {
    const { bar, stroke } = places[Math.floor((k * places.length) / TRIES)]!;
    const bars = [...passage.bars];
    bars[bar] = { ...bars[bar]!, strokes: bars[bar]!.strokes.filter((_, s) => s !== stroke) };
    yield { ...passage, bars };
  }
  yield passage;
}
