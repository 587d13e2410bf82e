import type { PinPrice } from "../document/plan.ts";
import type { Passage } from "../passage/schema.ts";
import { priceWords } from "../words/pins.ts";
import { unmetAt } from "./findings.ts";
import { outcomesOf, type PlannedStages, straysOf } from "./verdict.ts";

/** What every pin costs: the plan as it is against the plan without that pin. */
export function pinPricesOf(passage: Passage, planned: PlannedStages, plan: (passage: Passage) => PlannedStages): PinPrice[] {
  const pins = passage.pins ?? [];
  return pins.map((pin, p) => {
    const free = plan({ ...passage, pins: pins.filter((_, i) => i !== p) });
    const without = free.path.cost;
    const { cost } = planned.path;
    const price = {
      harm: cost.harm - without.harm,
      rushed: cost.rushed - without.rushed,
      stray: cost.stray - without.stray,
      effort: Math.round((cost.effort - without.effort) / 1000),
      changes: cost.changes - without.changes,
    };
    const met = unmetAt(pin, planned.timeline, planned.shapes) === undefined;
    return { path: `/pins/${p}`, met, price, says: priceWords(price, ringing(planned), ringing(free)) };
  });
}

/** Strings that ring astray and are heard. */
function ringing(planned: PlannedStages): Set<number> {
  return new Set(straysOf(planned, outcomesOf(planned)).map(({ string }) => string));
}
