import type { PinPrice } from "../document/plan.ts";

/** What a pin costs: strings that ring with it, and without it. */
export function priceWords(price: PinPrice["price"], rings: ReadonlySet<number>, without: ReadonlySet<number>): string {
  const strings = (some: ReadonlySet<number>, others: ReadonlySet<number>) => {
    const only = [...some].filter((string) => !others.has(string)).sort((a, b) => a - b);
    return only.length === 0 ? "more" : `string ${only.join(" and ")}`;
  };
  if (price.harm > 0) return "It takes the palm off a note that should be muted.";
  if (price.rushed > 0) return "It leaves no time for a gesture.";
  if (price.stray > 0) return `It lets ${strings(rings, without)} ring.`;
  if (price.stray < 0) return `Without it ${strings(without, rings)} would ring.`;
  if (price.effort > 0) return `It costs ${price.effort < 10 ? "a little" : "some"} more effort.`;
  return "It costs nothing.";
}
