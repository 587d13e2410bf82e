import { fractionOf } from "../music/ticks.ts";
import type { Settings } from "../passage/settings.ts";
import { bitCount } from "../plan/costs.ts";
import { frettingMoves, type Move, pickingMoves } from "../plan/moves.ts";
import type { Bottleneck, Counts } from "./document.ts";
import type { Outcome, Planned } from "./verdict.ts";

const MOVE_NAMES: Readonly<Record<Move["kind"], string>> = {
  palmLand: "palm landing",
  palmLift: "palm lift",
  palmShift: "palm shift",
  release: "release",
  repress: "re-press",
  indexFlatten: "index flattening",
  indexArch: "index arching",
  lay: "laying the hand across",
  restore: "restoring the chord",
  spare: "placing a spare finger",
  thumbTravel: "thumb travel",
  thumbTravelNext: "thumb travel",
  settle: "settling",
};

/** Moves that the written music forces and the hand has no time for. */
export function bottlenecksOf(planned: Planned, outcomes: readonly Outcome[], settings: Settings): Bottleneck[] {
  const { timeline, problem, path } = planned;
  const found: Bottleneck[] = [];
  if (path.cost.rushed === 0) return found;
  for (let i = 1; i < outcomes.length; i++) {
    const step = timeline.steps[i]!;
    if (problem.stepOf[i] === problem.stepOf[i - 1]) continue;
    const stakes = problem.steps[problem.stepOf[i]!]!;
    const moves: Record<"fretting" | "picking", readonly Move[]> = {
      fretting: frettingMoves(outcomes[i - 1]!.fretting.pose, outcomes[i]!.fretting.pose, stakes, settings) ?? [],
      picking: pickingMoves(outcomes[i - 1]!.picking.pose, outcomes[i]!.picking.pose, stakes.pickingIdleMs, settings),
    };
    for (const hand of ["fretting", "picking"] as const)
      for (const move of moves[hand])
        if (move.needMs > stakes.haveMs)
          found.push({
            bar: step.bar + 1,
            at: fractionOf(step.atTicks),
            hand,
            move: MOVE_NAMES[move.kind],
            needMs: move.needMs,
            haveMs: Math.round(stakes.haveMs),
          });
  }
  return found;
}

/** Figures players compare. Strings stopped are counted per step and hand. */
export function countsOf(planned: Planned, outcomes: readonly Outcome[]): Counts {
  let lifts = 0;
  let index = 0;
  let fretting = 0;
  let picking = 0;
  outcomes.forEach((outcome, i) => {
    fretting += bitCount(outcome.fretting.damps);
    picking += bitCount(outcome.picking.damps);
    const before = outcomes[i - 1];
    if (!before) return;
    const palmDown = (o: Outcome) => o.picking.pose.palm > 0 || o.picking.pose.heel;
    if (palmDown(before) && !palmDown(outcome)) lifts++;
    if (before.fretting.pose.indexLaid !== outcome.fretting.pose.indexLaid) index++;
  });
  const bars = planned.timeline.bars.length;
  const perBar = (n: number) => Math.round((n / bars) * 100) / 100;
  return { palmLiftsPerBar: perBar(lifts), indexChangesPerBar: perBar(index), stoppedByFretting: fretting, stoppedByPicking: picking };
}
