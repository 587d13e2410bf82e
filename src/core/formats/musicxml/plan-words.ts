import { SIDE } from "../../hands/parts.ts";
import type { PlanDocument, PlannedStep } from "../../verdict/document.ts";

/** What a hand does from a moment on, as short as there is room for over a note. */
export interface HandWords {
  bar: number;
  at: string;
  hand: "fretting" | "picking";
  says: string;
}

const HANDS = ["fretting", "picking"] as const;

/** How the words are to be read; stands once, at the first bar. T is the thumb over the neck, W a wrap around it. */
export const PLAN_KEY = {
  fretting: "Fretting hand damps, finger: strings",
  picking: "Picking hand damps, by: strings",
} as const;

/** Which strings each hand damps, told where it changes: "1: 3-5, 3: 6" for finger 1 on strings 3 to 5 and finger 3 on string 6; "off" once nothing is. */
export function planWords({ steps }: PlanDocument): HandWords[] {
  const last = { fretting: "", picking: "" };
  return steps.flatMap((step) =>
    HANDS.flatMap((hand) => {
      const holds = wordsAt(step, hand);
      const changed = holds !== last[hand];
      last[hand] = holds;
      return changed ? [{ bar: step.bar, at: step.at, hand, says: holds || "off" }] : [];
    }),
  );
}

function wordsAt(step: PlannedStep, hand: "fretting" | "picking"): string {
  const held = new Map<string, number[]>();
  for (const { string, touchedBy } of step.strings)
    for (const touch of touchedBy) {
      if (SIDE[touch.hand] !== hand || touch.part === "press") continue;
      const by = touch.hand === "aid" ? "W" : String(touch.finger ?? touch.part.split("-")[0]);
      held.set(by, [...(held.get(by) ?? []), string]);
    }
  return [...held]
    .sort(([a], [b]) => a.localeCompare(b))
    .map(([by, strings]) => `${by}: ${ranges(strings)}`)
    .join(", ");
}

/** "1-3, 6" as "1-3 6": strings in order, neighbours together. */
function ranges(strings: readonly number[]): string {
  const sorted = [...new Set(strings)].sort((a, b) => a - b);
  const runs: number[][] = [];
  for (const string of sorted) {
    const run = runs.at(-1);
    if (run && run.at(-1) === string - 1) run.push(string);
    else runs.push([string]);
  }
  return runs.map((run) => (run.length === 1 ? `${run[0]}` : `${run[0]}-${run.at(-1)}`)).join(" ");
}
