import loadHighs from "highs";
import { describe, expect, it } from "vitest";
import { planStages } from "../../core/engine.ts";
import { PRICES } from "../../core/hands/prices.ts";
import { HANDS } from "../yardstick/figures.ts";
import { BOUNDS, SCALE } from "./bounds.ts";
import { pairsOf } from "./choices.ts";
import { differencesOf } from "./features.ts";
import { advantage, crossValidated, fittedPrices, NAMES, STARTS, thrownStarts } from "./fit.ts";
import { CHOICES } from "./pairs.ts";
import { pathThrough, sequenceOf } from "./sequences.ts";

/*
 * Which of two whole plans a good player takes is common practice, judged pair by pair (docs/preferences.md). The prices are what
 * the pairs ask for and nothing else.
 */

const groups = pairsOf(CHOICES);
const pairs = groups.flat();

it("there are a hundred pairs and more, ten of every hand's, forty that the planner lost once; no pair stands twice", () => {
  expect(pairs.length).toBeGreaterThanOrEqual(100);
  for (const hand of HANDS) expect(pairs.filter((pair) => pair.hand === hand).length, hand).toBeGreaterThanOrEqual(10);
  expect(pairs.filter(({ lost }) => lost).length).toBeGreaterThanOrEqual(40);
  const named = pairs.map(({ passage, takes, not }) => JSON.stringify([passage.title, takes, not]));
  expect(new Set(named).size).toBe(pairs.length);
});

describe("every passage planned", () => {
  it.each(groups.map((group) => [group[0]!.passage.title, group] as const))(
    "%s: what is not taken is no optimum, and costs more than what is taken",
    (_, group) => {
      const { problem, path } = planStages(group[0]!.passage);
      const optimum = JSON.stringify(sequenceOf(problem, path));
      for (const { takes, not, why } of group) {
        expect(JSON.stringify(not), why).not.toBe(optimum);
        const [taken, left] = [pathThrough(problem, takes).cost, pathThrough(problem, not).cost];
        // Prices decide: by what comes before them both are the same.
        expect([left.harm, left.rushed, left.stray], why).toEqual([taken.harm, taken.rushed, taken.stray]);
        expect(left.effort, why).toBeGreaterThan(taken.effort);
      }
    },
  );
});

it("the table of prices is what the pairs give, every price within its bounds; nine of ten pairs are ordered by the others", { timeout: 600000 }, async () => {
  const highs = await loadHighs();
  const differences = groups.flatMap(differencesOf);
  const fitted = fittedPrices(highs, differences);
  expect(PRICES).toEqual(fitted);
  expect(PRICES[SCALE]).toBe(BOUNDS[SCALE].start);
  for (const name of NAMES) {
    expect(PRICES[name], name).toBeGreaterThanOrEqual(BOUNDS[name].least - 0.05);
    expect(PRICES[name], name).toBeLessThanOrEqual(BOUNDS[name].most + 0.05);
  }
  expect(differences.filter((difference) => advantage(fitted, difference) <= 0)).toEqual([]);
  // From starts that know little as well, so that it is the pairs that say it.
  for (const starts of [STARTS, thrownStarts(1)]) expect(crossValidated(highs, differences, starts).length).toBeLessThanOrEqual(0.1 * pairs.length);
});
