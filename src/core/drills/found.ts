import type { Action, PlanDocument, PlannedStep, PlannedString, TouchedBy } from "../document/plan.ts";
import { ticksAt } from "../edit/range.ts";
import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Passage, Stroke } from "../passage/schema.ts";

/** A step of the plan where it lies in the passage. */
export interface At {
  index: number;
  step: PlannedStep;
  from: Ticks;
  to: Ticks;
  /** What is written at its beginning, if a stroke begins there. */
  stroke: Stroke | undefined;
}

export interface Found {
  plan: PlanDocument;
  passage: Passage;
  steps: readonly At[];
  bars: number;
}

export function foundIn(plan: PlanDocument, passage: Passage): Found {
  const places = plan.steps.map((step) => ticksAt(passage, { bar: step.bar - 1, tick: ticksOf(step.at) }));
  const end = ticksAt(passage, { bar: passage.bars.length, tick: 0 });
  const steps = plan.steps.map((step, index): At => {
    const stroke = passage.bars[step.bar - 1]!.strokes.find((one) => ticksOf(one.at) === ticksOf(step.at));
    return { index, step, from: places[index]!, to: places[index + 1] ?? end, stroke };
  });
  return { plan, passage, steps, bars: passage.bars.length };
}

/** How far over what is heard a string would ring by itself. */
export function excess({ undampedDb }: PlannedString): number {
  return Math.max(0, undampedDb ?? 0);
}

/** Contacts that keep a string still; a finger that presses it plays. */
export function keepers({ touchedBy }: PlannedString): readonly TouchedBy[] {
  return touchedBy.filter(({ part }) => part !== "press");
}

/** What the contacts of some kind keep from ringing, in dB a bar. */
export function keptBy({ steps, bars }: Found, is: (touch: TouchedBy, at: At) => boolean): number {
  const sum = steps.reduce(
    (all, at) => all + at.step.strings.reduce((own, string) => own + (keepers(string).some((touch) => is(touch, at)) ? excess(string) : 0), 0),
    0,
  );
  return sum / bars;
}

export function does({ step }: At, hand: Action["hand"], ...what: Action["does"][]): readonly Action[] {
  return step.actions.filter((action) => action.hand === hand && what.includes(action.does));
}

export function isSounding({ state }: PlannedString): boolean {
  return state === "ring" || state === "muffled";
}
