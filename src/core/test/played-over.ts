import { planStages } from "../engine.ts";
import type { Passage } from "../passage/schema.ts";
import { type Mistakes, NO_MISTAKES } from "../perform/mistakes.ts";
import { perform } from "../perform/perform.ts";
import type { Due } from "../take/rounds.ts";

export const ROUND_RATE = 44_100;
/** The stand-in begins so late. */
const LEAD_MS = 300;

/** A passage played over and over by the stand-in, with mistakes in the whole of it, and when each time through begins and ends. */
export function playedOver(passage: Passage, times: number, mistakes: Partial<Mistakes>, seed = 3) {
  const planned = planStages(passage);
  const again = passage.bars.map(({ id: _id, ...bar }) => bar);
  const many: Passage = { ...passage, bars: [...passage.bars, ...Array.from({ length: times - 1 }, () => again as Passage["bars"]).flat()] };
  const { samples, labels } = perform(many, planStages(many), { ...NO_MISTAKES, ...mistakes }, seed, ROUND_RATE);
  const length = planned.timeline.endMs;
  const dues = Array.from({ length: times }, (_, k): Due => ({ fromMs: LEAD_MS + k * length, toMs: LEAD_MS + (k + 1) * length }));
  return { passage, planned, samples, labels, dues };
}
