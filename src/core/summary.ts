import { heardStrays, type PlanDocument, type StringState } from "./document/plan.ts";
import { type Posture, postureOf } from "./drawing/marks.ts";
import { planPassage } from "./engine.ts";
import type { Passage } from "./passage/schema.ts";

/** What the Shelf shows of a passage's plan. */
export interface PlanSummary {
  strays: number;
  issues: number;
  /** Both hands where the first stray ring begins, else at the first step that has them on the strings; null where they never are. */
  hands: Posture | null;
  /** The first bars in small: per step its place and share of the width, and every string's state. */
  miniature: { at: number; width: number; states: StringState[] }[];
}

/** Milliseconds of music that a miniature shows. */
const MINIATURE_MS = 8000;

export function summaryOf(passage: Passage): PlanSummary {
  const plan = planPassage(passage, { why: "nothing" });
  const last = plan.steps.at(-1);
  const shown = Math.min(MINIATURE_MS, last ? last.ms + last.lengthMs : 0);
  const round = (x: number) => Math.round(x * 10000) / 10000;
  return {
    strays: heardStrays(plan).length,
    issues: plan.issues.length,
    hands: handsOf(plan),
    miniature: plan.steps
      .filter((step) => step.ms < shown)
      .map((step) => ({
        at: round(step.ms / shown),
        width: round(Math.min(step.lengthMs, shown - step.ms) / shown),
        states: step.strings.map((s) => s.state),
      })),
  };
}

function handsOf({ steps }: PlanDocument): Posture | null {
  const shown =
    steps.find(({ strings }) => strings.some(({ state }) => state === "stray")) ??
    steps.find(({ strings }) => strings.some(({ touchedBy }) => touchedBy.length > 0));
  return shown ? postureOf(shown) : null;
}
