import { readFileSync, writeFileSync } from "node:fs";
import loadHighs from "highs";
import { PRICES, type Price } from "../../core/hands/prices.ts";
import { HANDS } from "../yardstick/figures.ts";
import { BOUNDS, SCALE } from "./bounds.ts";
import { pairsOf } from "./choices.ts";
import { differencesOf } from "./features.ts";
import { advantage, crossValidated, fittedPrices, NAMES, rangesOf, thrownStarts } from "./fit.ts";
import { CHOICES } from "./pairs.ts";

/** Finds the prices that the pairs ask for, says how sure they are, and writes them into the table. */

const TABLE = "src/core/hands/prices.ts";

const highs = await loadHighs();
const groups = pairsOf(CHOICES);
const pairs = groups.flat();
const differences = groups.flatMap(differencesOf);
const fitted = fittedPrices(highs, differences);
const say = (line: string) => process.stdout.write(`${line}\n`);

say(`${pairs.length} pairs, ${pairs.filter(({ lost }) => lost).length} of them lost at e0eb02e`);
for (const hand of HANDS) say(`  ${hand}: ${pairs.filter((pair) => pair.hand === hand).length}`);
const share = (missed: readonly number[]) => `${((100 * (pairs.length - missed.length)) / pairs.length).toFixed(1)}%`;
say(`Pairs left out by tenths and ordered all the same: ${share(crossValidated(highs, differences))} (aim 90%)`);
const thrown = [1, 2, 3, 4, 5].map((seed) => share(crossValidated(highs, differences, thrownStarts(seed))));
say(`The same from starts thrown by up to three times: ${thrown.join(", ")}`);
const unordered = pairs.filter((_, p) => advantage(fitted, differences[p]!) <= 0);
say(`Ordered by no prices: ${unordered.map(({ passage }) => passage.title).join("; ") || "none"}`);
say("\nFrom … to: as far as each price may go by itself, the others following, before a pair is lost.");
say(`${"price".padEnd(18)}${["start", "before", "now", "from", "to", "pairs"].map((word) => word.padStart(8)).join("")}`);
const ranges = rangesOf(highs, differences);
for (const name of NAMES) {
  const { from, to } = ranges[name];
  const used = differences.filter((d) => Math.abs(d[name]) > 1e-9).length;
  const figures = [BOUNDS[name].start, PRICES[name], fitted[name], from, to].map((value) => value.toFixed(2).padStart(8)).join("");
  say(`${name.padEnd(18)}${figures}${String(used).padStart(8)}${name === SCALE ? "  the scale" : ""}`);
}
writeFileSync(TABLE, NAMES.reduce(withPrice, readFileSync(TABLE, "utf8")));

function withPrice(text: string, name: Price): string {
  const line = new RegExp(`^( {2}${name}: )[0-9.]+(,)$`, "m");
  if (!line.test(text)) throw new Error(`${TABLE} has no line for ${name}`);
  return text.replace(line, `$1${fitted[name]}$2`);
}
