import type { Passage } from "./schema.ts";

/** The passage at another tempo; bars with tempos of their own keep their proportion. */
export function atTempo(passage: Passage, tempo: number): Passage {
  const factor = tempo / passage.tempo;
  return { ...passage, tempo, bars: passage.bars.map((bar) => (bar.tempo === undefined ? bar : { ...bar, tempo: bar.tempo * factor })) };
}
