import type { Action, PlannedStep } from "../document/plan.ts";

/** Whether it is done besides the written notes: pressure, what lies on strings that must be quiet, and where a hand rests. */
const IS_GESTURE: Readonly<Record<Action["does"], boolean>> = {
  press: true,
  "let-go": true,
  lift: true,
  lean: true,
  rest: true,
  lay: true,
  "thumb-over": true,
  "thumb-off": true,
  hold: true,
  palm: true,
  plant: true,
  park: true,
  down: false,
  bend: false,
  "release-bend": false,
  vibrato: false,
  hammer: false,
  pull: false,
  slide: false,
  tap: false,
  stroke: false,
  pluck: false,
  follow: false,
  chuck: false,
  click: false,
  rake: false,
  brush: false,
};

/** What a hand does at a step beside what is written, as a key to compare by; null where it just plays. */
export function gestureAt({ actions }: Pick<PlannedStep, "actions">, hand: Action["hand"]): string | null {
  const done = actions.filter((action) => action.hand === hand && IS_GESTURE[action.does]);
  return done.length > 0 ? JSON.stringify(done) : null;
}
