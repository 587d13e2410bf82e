import { useMemo, useRef } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import { stepsByBar } from "../../core/verdict/steps-by-bar.ts";
import { usePlan } from "../planner/use-plan.ts";
import { boxesOf, type StepBox } from "./layout.ts";

/** A passage with its plan as the score shows it: the plan of the moment before stands while the next is made, as long as the bars match. */
export function usePlanned(passage: Passage) {
  const state = usePlan(passage);
  const planned = state.of && state.of.bars.length === passage.bars.length ? state.plan : null;
  const drawn = useRef<StepBox[][]>([]);
  const steps = useMemo(() => {
    drawn.current = boxesOf(stepsByBar(planned, passage), drawn.current);
    return drawn.current;
  }, [planned, passage]);
  return { ...state, planned, steps };
}
