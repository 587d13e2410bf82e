import { knownIn } from "../caching/known.ts";
import type { FrettingShape, PickingShape } from "../shapes/types.ts";
import type { PlanPath } from "./planner.ts";
import type { Problem, ProblemStep } from "./problem.ts";

/** Per step of the timeline: the step of the problem that it belongs to, and the shapes that the plan has both hands in. */
export interface Chosen {
  steps: readonly ProblemStep[];
  fretting: readonly FrettingShape[];
  picking: readonly PickingShape[];
}

const known = new WeakMap<PlanPath, Chosen>();

/** The same lists for every stage behind the plan, so that they are compared with those of the plan before once. */
export function chosenBy(path: PlanPath, problem: Problem): Chosen {
  return knownIn(known, path, () => {
    const steps = problem.stepOf.map((k) => problem.steps[k]!);
    return {
      steps,
      fretting: steps.map((step, i) => step.fretting[path.chosen[problem.stepOf[i]!]!.fretting]!),
      picking: steps.map((step, i) => step.picking[path.chosen[problem.stepOf[i]!]!.picking]!),
    };
  });
}
