import type { Action, PlanDocument } from "../../document/plan.ts";
import { HANDS } from "../../hands/parts.ts";
import { clauseOf } from "../../words/actions.ts";

/** What a hand does at a moment, in words over or under a note. */
export interface HandWords {
  bar: number;
  at: string;
  hand: "fretting" | "picking";
  says: string;
}

/** Whose words they are; stands once, at the first bar. */
export const PLAN_KEY = { fretting: "Fretting hand", picking: "Picking hand, besides its strokes" } as const;

/** Strokes and plucked strings have signs of their own in a score. */
const WRITTEN: ReadonlySet<Action["does"]> = new Set(["stroke", "pluck"]);

/** What each hand does, named where it does something: gestures, in the words of the plan. */
export function planWords({ steps }: PlanDocument): HandWords[] {
  return steps.flatMap(({ bar, at, actions }) =>
    HANDS.flatMap((hand) => {
      const says = clauseOf(actions.filter((action) => action.hand === hand && !WRITTEN.has(action.does)));
      return says === "" ? [] : [{ bar, at, hand, says }];
    }),
  );
}
