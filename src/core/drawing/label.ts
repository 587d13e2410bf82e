import type { PlannedStep } from "../document/plan.ts";
import { HANDS, SIDE } from "../hands/parts.ts";
import { liesWords, ofFinger, runs } from "../words/contacts.ts";
import { type Mark, postureOf } from "./marks.ts";

/** What a drawing of the hands shows, for those who do not see it. */
export function handsLabel(step: PlannedStep): string {
  const said = HANDS.flatMap((hand) => handPhrases(step, hand));
  return said.length > 0 ? `Both hands: ${said.join("; ")}` : "Both hands are off the strings";
}

/** How everything of one hand lies at a step, what presses first: "index over 1 to 3", "ring on 5 at fret 7". */
export function handPhrases(step: PlannedStep, hand: "fretting" | "picking"): string[] {
  const marks = postureOf(step).marks.filter((mark) => SIDE[mark.hand] === hand);
  const presses = ({ part }: Mark) => (part === "press" ? 0 : 1);
  return [...marks].sort((a, b) => presses(a) - presses(b)).map(phrase);
}

function phrase(mark: Mark): string {
  const who = mark.finger === undefined ? "" : ofFinger(mark.finger);
  const on = runs(mark.strings);
  return mark.part === "press" ? `${who} on ${on} at fret ${mark.fret}` : liesWords(mark);
}
