import type { Action, PlannedStep } from "../document/plan.ts";

/** What hands do besides the written notes: pressure, what lies on strings that must be quiet, and where a hand rests. */
const GESTURES: ReadonlySet<Action["does"]> = new Set([
  "press",
  "let-go",
  "lift",
  "lean",
  "rest",
  "lay",
  "thumb-over",
  "thumb-off",
  "hold",
  "palm",
  "plant",
  "park",
]);

/** What a hand does at a step beside what is written, as a key to compare by; null where it just plays. */
export function gestureAt({ actions }: Pick<PlannedStep, "actions">, hand: Action["hand"]): string | null {
  const done = actions.filter((action) => action.hand === hand && GESTURES.has(action.does));
  return done.length > 0 ? JSON.stringify(done) : null;
}
