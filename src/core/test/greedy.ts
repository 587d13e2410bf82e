import { harmOf, moveCost, silenced, stateAfter, stateHandedOn, stayEffort } from "../plan/costs.ts";
import type { Cost } from "../plan/planner.ts";
import type { Problem } from "../plan/problem.ts";

/** A walk that takes the cheapest pair of shapes at every step and never looks ahead. */
export function greedyCost(problem: Problem): Cost {
  const total: Cost = { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 };
  let states: number[] = new Array(problem.strings).fill(0);
  let at: { f: number; p: number } | null = null;
  problem.steps.forEach((step, k) => {
    const before = k > 0 ? problem.steps[k - 1]! : null;
    let best: { f: number; p: number; cost: Cost; states: number[] } | null = null;
    step.fretting.forEach((fretting, f) => {
      step.picking.forEach((picking, p) => {
        const cost: Cost = { harm: harmOf(step, fretting, picking), rushed: 0, stray: 0, effort: 0, changes: 0 };
        if (before && at)
          for (const side of ["fretting", "picking"] as const) {
            const from = before[side][side === "fretting" ? at.f : at.p]!.posture;
            const to = step[side][side === "fretting" ? f : p]!.posture;
            const move = moveCost(step, from, to);
            if (move === null) return;
            cost.rushed += move.rushedMs;
            cost.effort += move.effort;
            cost.changes += move.changes;
          }
        const mask = silenced(step, fretting, picking);
        const next = states.map((state, s) => ((mask & (1 << s)) !== 0 ? 0 : stateAfter(step.strings[s]!, state)));
        next.forEach((state, s) => {
          cost.stray += step.strings[s]!.cost[state]!;
          cost.effort += step.strings[s]!.faint[state]!;
        });
        cost.effort += stayEffort(step, fretting, picking, mask);
        if (best === null || compare(cost, best.cost) < 0) best = { f, p, cost, states: next };
      });
    });
    if (best === null) throw new Error("the walk is stuck");
    const chosen: { f: number; p: number; cost: Cost; states: number[] } = best;
    for (const level of ["harm", "rushed", "stray", "effort", "changes"] as const) total[level] += chosen.cost[level];
    states = chosen.states.map((state, s) => stateHandedOn(step.strings[s]!, state));
    at = chosen;
  });
  return total;
}

export function compare(a: Cost, b: Cost): number {
  return a.harm - b.harm || a.rushed - b.rushed || a.stray - b.stray || a.effort - b.effort || a.changes - b.changes;
}
