import type { PlanDocument, PlannedStep } from "../document/plan.ts";
import { barLength } from "../music/beats.ts";
import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";

/** A step as it shows in one bar. */
export interface StepInBar {
  /** Of the plan's steps. */
  index: number;
  step: PlannedStep;
  /** The step before it, to show what only goes on; the step itself where it goes on past a bar line. */
  before: PlannedStep | undefined;
  tick: Ticks;
  /** Where the step ends in this bar, at most the bar's end. */
  endTick: Ticks;
}

/** The plan's steps sorted into the bars of its passage. A step that goes on past its bar shows again in the next ones. */
export function stepsByBar(plan: PlanDocument | null, passage: Passage): StepInBar[][] {
  const bars: StepInBar[][] = passage.bars.map(() => []);
  if (!plan) return bars;
  plan.steps.forEach((step, index) => {
    const next = plan.steps[index + 1];
    for (let b = step.bar - 1; b < passage.bars.length; b++) {
      if (next && b > next.bar - 1) break;
      const tick = b === step.bar - 1 ? ticksOf(step.at) : 0;
      const endTick = next && next.bar - 1 === b ? ticksOf(next.at) : barLength(passage.bars[b]!.meter);
      if (endTick > tick) bars[b]!.push({ index, step, before: b === step.bar - 1 ? plan.steps[index - 1] : step, tick, endTick });
      if (next && next.bar - 1 === b) break;
    }
  });
  return bars;
}
