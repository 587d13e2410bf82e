import type { Bottleneck, Counts } from "../document/plan.ts";
import { GESTURES } from "../hands/gestures.ts";
import { HANDS } from "../hands/parts.ts";
import { isDown } from "../hands/postures.ts";
import { fractionOf } from "../music/ticks.ts";
import { movesBetween } from "../plan/costs.ts";
import { bitCount } from "../shapes/types.ts";
import type { Outcome, PlannedStages } from "./verdict.ts";

/** Moves that the written music forces and the hand has no time for. */
export function bottlenecksOf(planned: PlannedStages, outcomes: readonly Outcome[]): Bottleneck[] {
  const { timeline, problem, path } = planned;
  const found: Bottleneck[] = [];
  if (path.cost.rushed === 0) return found;
  for (let i = 1; i < outcomes.length; i++) {
    const step = timeline.steps[i]!;
    if (problem.stepOf[i] === problem.stepOf[i - 1]) continue;
    const stakes = problem.steps[problem.stepOf[i]!]!;
    for (const hand of HANDS)
      for (const { kind, needMs } of movesBetween(stakes, outcomes[i - 1]![hand].posture, outcomes[i]![hand].posture))
        if (needMs > stakes.haveMs)
          found.push({
            bar: step.bar + 1,
            at: fractionOf(step.atTicks),
            hand,
            move: kind === "settle" ? "settling" : GESTURES[kind].name,
            needMs,
            haveMs: Math.round(stakes.haveMs),
          });
  }
  return found;
}

/** Figures players compare. Strings stopped are counted per step and hand. */
export function countsOf(planned: PlannedStages, outcomes: readonly Outcome[]): Counts {
  let lifts = 0;
  let index = 0;
  let fretting = 0;
  let picking = 0;
  outcomes.forEach((outcome, i) => {
    fretting += bitCount(outcome.fretting.damps);
    picking += bitCount(outcome.picking.damps);
    const before = outcomes[i - 1];
    if (!before) return;
    // A hand that goes along with the pick lifts for nothing.
    const follows = before.picking.posture.at.kind === "follow" && outcome.picking.posture.at.kind === "follow";
    if (isDown(before.picking.posture) && !isDown(outcome.picking.posture) && !follows) lifts++;
    if ((before.fretting.posture.lean === 0) !== (outcome.fretting.posture.lean === 0)) index++;
  });
  const bars = planned.timeline.bars.length;
  const perBar = (n: number) => Math.round((n / bars) * 100) / 100;
  return { palmLiftsPerBar: perBar(lifts), indexChangesPerBar: perBar(index), stoppedByFretting: fretting, stoppedByPicking: picking };
}
