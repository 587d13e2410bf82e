import { harmOf, moveCost, silenced, stateAfter, stateHandedOn, stayEffort } from "../plan/costs.ts";
import type { ChosenShapes, Cost } from "../plan/planner.ts";
import type { Problem } from "../plan/problem.ts";

/** The cost of a path, added up step by step. */
export function costOfPath(problem: Problem, chosen: readonly ChosenShapes[]): Cost {
  const cost: Cost = { harm: 0, rushed: 0, stray: 0, effort: 0, changes: 0 };
  let states: number[] = new Array(problem.strings).fill(0);
  problem.steps.forEach((step, k) => {
    const fretting = step.fretting[chosen[k]!.fretting]!;
    const picking = step.picking[chosen[k]!.picking]!;
    if (k > 0) {
      const before = problem.steps[k - 1]!;
      for (const hand of ["fretting", "picking"] as const) {
        const from = before[hand][chosen[k - 1]![hand]]!.posture;
        const move = moveCost(step, from, (hand === "fretting" ? fretting : picking).posture);
        if (move === null) throw new Error("a plan makes a move nobody can make");
        cost.rushed += move.rushedMs;
        cost.effort += move.effort;
        cost.changes += move.changes;
      }
    }
    const mask = silenced(step, fretting, picking);
    cost.harm += harmOf(step, fretting, picking);
    cost.effort += stayEffort(step, fretting, picking, mask);
    states = states.map((state, s) => {
      const stakes = step.strings[s]!;
      const now = (mask & (1 << s)) !== 0 ? 0 : stateAfter(stakes, state);
      cost.stray += stakes.cost[now]!;
      cost.effort += stakes.faint[now]!;
      return stateHandedOn(stakes, now);
    });
  });
  return cost;
}
