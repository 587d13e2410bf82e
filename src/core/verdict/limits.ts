import type { Limit, Limits } from "../document/plan.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import { countOf } from "../timeline/counts.ts";
import { FIRST_BEYOND, NO_LIMIT } from "../words/limits.ts";
import { ceilingSearch, HIGHEST_CEILING } from "./ceiling.ts";
import { bottlenecksOf } from "./figures.ts";
import { outcomesOf, type PlannedStages, straysOf } from "./verdict.ts";

/** What a tempo is too fast for. */
interface Judged {
  /** A gesture that the notes force has no time. */
  isRushed: boolean;
  /** Something rings astray that is heard. */
  rings: boolean;
}

/** The tempos up to which the hands keep up, and up to which nothing rings astray; each tempo is judged once. Yields after every plan. */
export function* limitsSearch(judge: (tempo: number) => Judged): Generator<number, { hands: number | null; clean: number | null }, void> {
  const known = new Map<number, Judged>();
  const at = (tempo: number) => {
    const judged = known.get(tempo) ?? judge(tempo);
    known.set(tempo, judged);
    return judged;
  };
  const hands = yield* ceilingSearch((tempo) => !at(tempo).isRushed);
  const clean = yield* ceilingSearch((tempo) => !at(tempo).rings);
  return { hands, clean };
}

/** A limit with what comes first beyond it; nothing comes beyond the highest tempo that is tried. */
function limitOf(tempo: number | null, says: { none: string; first(tempo: number): Omit<Limit, "tempo"> }): Limit | null {
  if (tempo === null) return null;
  if (tempo >= HIGHEST_CEILING) return { tempo, says: says.none };
  return { tempo, ...says.first(tempo) };
}

/** Both limits of tempo, and what comes first beyond them, as a search that yields after every plan it makes. */
export function* limitsOf(passage: Passage, planAt: (tempo: number) => PlannedStages): Generator<number, Limits, void> {
  const { hands, clean } = yield* limitsSearch((tempo) => {
    const { cost } = planAt(tempo).path;
    return { isRushed: cost.rushed > 0, rings: cost.stray > 0 };
  });
  const count = (bar: number, at: string) => countOf(ticksOf(at), passage.bars[bar - 1]!);
  return {
    hands: limitOf(hands, {
      none: NO_LIMIT.hands,
      first: (tempo) => {
        const planned = planAt(tempo + 1);
        const { bar, at, move } = bottlenecksOf(planned, outcomesOf(planned))[0]!;
        return { bar, at, says: FIRST_BEYOND.hands(tempo, move, bar, count(bar, at)) };
      },
    }),
    clean: limitOf(clean, {
      none: NO_LIMIT.clean,
      first: (tempo) => {
        const planned = planAt(tempo + 1);
        const { string, fromBar, fromAt } = straysOf(planned, outcomesOf(planned))[0]!;
        return { bar: fromBar, at: fromAt, says: FIRST_BEYOND.clean(tempo, string, fromBar, count(fromBar, fromAt)) };
      },
    }),
  };
}

/** The highest tempo for both: what a player practises towards. Null where one of them has none. */
export function lowerOf({ hands, clean }: Limits): number | null {
  return hands && clean ? Math.min(hands.tempo, clean.tempo) : null;
}
