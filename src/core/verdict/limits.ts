import type { Limit, Limits } from "../document/plan.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import { countOf } from "../timeline/counts.ts";
import { FIRST_BEYOND, NO_LIMIT } from "../words/limits.ts";
import { ceilingSearch, HIGHEST_CEILING } from "./ceiling.ts";
import { handsLimitOf } from "./keeping-up.ts";
import { outcomesOf, type PlannedStages, straysOf } from "./verdict.ts";

/**
 * Both limits of tempo, and what comes first beyond them: what the hands can do out of one plan, what stays clean by planning at
 * other tempos, as a search that yields after every plan it makes.
 */
export function* limitsOf(passage: Passage, planAt: (tempo: number) => PlannedStages): Generator<number, Limits, void> {
  const hands = handsLimitOf(passage, planAt(passage.tempo));
  yield passage.tempo;
  const tempo = yield* ceilingSearch((tempo) => planAt(tempo).path.cost.stray === 0);
  return { hands, clean: tempo === null ? null : cleanLimitOf(passage, tempo, planAt) };
}

/** The limit of what stays clean, with what rings first beyond it; nothing comes beyond the highest tempo that is tried. */
function cleanLimitOf(passage: Passage, tempo: number, planAt: (tempo: number) => PlannedStages): Limit {
  if (tempo >= HIGHEST_CEILING) return { tempo, says: NO_LIMIT.clean };
  const planned = planAt(tempo + 1);
  const { string, fromBar, fromAt } = straysOf(planned, outcomesOf(planned))[0]!;
  return { tempo, bar: fromBar, at: fromAt, says: FIRST_BEYOND.clean(tempo, string, fromBar, countOf(ticksOf(fromAt), passage.bars[fromBar - 1]!)) };
}
