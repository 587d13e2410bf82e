import { planStages } from "../../core/engine.ts";
import { PRICES, type Price } from "../../core/hands/prices.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { Pair } from "./choices.ts";
import { pathThrough, type Sequence } from "./sequences.ts";

/** How much more of everything that has a price is in the plan that is not taken than in the one that is. */
export type Difference = Readonly<Record<Price, number>>;

const NAMES = Object.keys(PRICES) as Price[];

/** Small, so that no posture is held another way for it. */
const STEP = 0.2;

/** For pairs of one passage. */
export function differencesOf(pairs: readonly Pair[]): Difference[] {
  const { passage } = pairs[0]!;
  const amounts = amountsOf(
    passage,
    pairs.flatMap(({ takes, not }) => [takes, not]),
  );
  return pairs.map((_, p) => {
    const [takes, not] = [amounts[2 * p]!, amounts[2 * p + 1]!];
    return Object.fromEntries(NAMES.map((name) => [name, not[name] - takes[name]])) as Record<Price, number>;
  });
}

/**
 * A sequence's effort is a sum of prices, each so many times: how often is found by making one price after the other dearer and costing
 * the same sequence again, so that nothing is counted a second way here. Per sequence, in the order given.
 */
function amountsOf(passage: Passage, sequences: readonly Sequence[]): Record<Price, number>[] {
  const efforts = () => {
    const { problem } = planStages(passage);
    return sequences.map((sequence) => pathThrough(problem, sequence).cost.effort);
  };
  const now = efforts();
  const amounts = sequences.map(() => ({ ...PRICES }));
  for (const name of NAMES) {
    const written = PRICES[name];
    try {
      PRICES[name] = written + STEP;
      for (const [s, effort] of efforts().entries()) amounts[s]![name] = (effort - now[s]!) / (1000 * STEP);
    } finally {
      PRICES[name] = written;
    }
  }
  return amounts;
}
