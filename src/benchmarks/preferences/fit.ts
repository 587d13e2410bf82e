import fc from "fast-check";
import type { Highs } from "highs";
import { PRICES, type Price } from "../../core/hands/prices.ts";
import { BOUNDS, SCALE } from "./bounds.ts";
import type { Difference } from "./features.ts";

export type Prices = Readonly<Record<Price, number>>;

export const NAMES = Object.keys(PRICES) as Price[];

/** Where prices start; among those that order the pairs the nearest are taken. */
export const STARTS = Object.fromEntries(NAMES.map((name) => [name, BOUNDS[name].start])) as Prices;

/** By so many tenths the plan that is taken has to be cheaper. */
const MARGIN = 0.5;

/** Prices are written to a tenth of a tenth. */
const DIGITS = 10;

/**
 * Prices for which what is taken is cheaper, pair by pair, as far as that can be had: the shortfalls summed are least, and among
 * such prices those nearest to where they start. A linear program; HiGHS solves it.
 */
export function fittedPrices(highs: Highs, differences: readonly Difference[], starts = STARTS): Prices {
  const near = NAMES.flatMap((name) => [` up${name}: off${name} - ${name} >= ${-starts[name]}`, ` down${name}: off${name} + ${name} >= ${starts[name]}`]);
  const short = differences.map((_, p) => `+ 1000 short${p}`);
  const off = NAMES.map((name) => `+ ${1 / starts[name]} off${name}`);
  const value = solved(highs, `Minimize\n obj: ${[...short, ...off].join("\n ")}`, [...ordered(differences, true), ...near])!;
  return Object.fromEntries(NAMES.map((name) => [name, Math.round(value(name) * DIGITS) / DIGITS])) as Prices;
}

/** How low and how high each price may be by itself, the others following, before some pair is lost. */
export function rangesOf(highs: Highs, differences: readonly Difference[]): Record<Price, { from: number; to: number }> {
  const rows = ordered(differences, false);
  const end = (name: Price, way: "Minimize" | "Maximize") => solved(highs, `${way}\n obj: ${name}`, rows)?.(name) ?? Number.NaN;
  return Object.fromEntries(NAMES.map((name) => [name, { from: end(name, "Minimize"), to: end(name, "Maximize") }])) as ReturnType<typeof rangesOf>;
}

/** Fits without every tenth pair in turn, and gives those that are not ordered by prices that never saw them. */
export function crossValidated(highs: Highs, differences: readonly Difference[], starts = STARTS, folds = 10): number[] {
  return Array.from({ length: folds }, (_, fold) => fold).flatMap((fold) => {
    const seen = differences.filter((_, p) => p % folds !== fold);
    const prices = fittedPrices(highs, seen, starts);
    return differences.flatMap((difference, p) => (p % folds === fold && advantage(prices, difference) <= 0 ? [p] : []));
  });
}

/** Starts that know little: every price but the scale thrown up or down by a factor of three at most, the same for the same seed. */
export function thrownStarts(seed: number): Prices {
  const throws = fc.sample(fc.double({ min: -1, max: 1, noNaN: true }), { seed, numRuns: NAMES.length });
  return Object.fromEntries(NAMES.map((name, k) => [name, name === SCALE ? STARTS[name] : STARTS[name] * 3 ** throws[k]!])) as Prices;
}

/** By how much what is not taken costs more, in tenths. */
export function advantage(prices: Prices, difference: Difference): number {
  return NAMES.reduce((sum, name) => sum + prices[name] * difference[name], 0);
}

function ordered(differences: readonly Difference[], mayFallShort: boolean): string[] {
  return differences.map((d, p) => {
    const terms = NAMES.filter((name) => Math.abs(d[name]) > 1e-9).map((name) => `${d[name] < 0 ? "-" : "+"} ${Math.abs(d[name])} ${name}`);
    return ` pair${p}: ${terms.join(" ")}${mayFallShort ? ` + short${p}` : ""} >= ${MARGIN}`;
  });
}

function solved(highs: Highs, objective: string, rows: readonly string[]): ((name: string) => number) | null {
  const bounds = NAMES.map((name) => {
    const { start, least, most } = BOUNDS[name];
    return name === SCALE ? ` ${name} = ${start}` : ` ${least} <= ${name} <= ${most}`;
  });
  const solution = highs.solve([objective, "Subject To", ...rows, "Bounds", ...bounds, "End"].join("\n"), { output_flag: false });
  if (solution.Status !== "Optimal") return null;
  return (name) => (solution.Columns[name] as { Primal: number }).Primal;
}
