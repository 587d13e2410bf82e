import type { Limit, Limits } from "../document/plan.ts";
import { ceilingSearch, HIGHEST_CEILING } from "./ceiling.ts";

/** What a tempo is too fast for. */
export interface Judged {
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
export function limitOf(tempo: number | null, says: { none: string; first(tempo: number): Omit<Limit, "tempo"> }): Limit | null {
  if (tempo === null) return null;
  if (tempo >= HIGHEST_CEILING) return { tempo, says: says.none };
  return { tempo, ...says.first(tempo) };
}

/** The highest tempo for both: what a player practises towards. Null where one of them has none. */
export function lowerOf({ hands, clean }: Limits): number | null {
  return hands && clean ? Math.min(hands.tempo, clean.tempo) : null;
}
