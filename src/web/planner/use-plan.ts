import { useCallback, useEffect, useState, useSyncExternalStore } from "react";
import type { PlanDocument, WhyNot } from "../../core/document/plan.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { NOTHING_FINISHED, Planner } from "./planner.ts";
import { drawNow, waitForPlan } from "./shown.ts";

export interface PlanState {
  /** The newest finished plan and the passage it belongs to. */
  plan: PlanDocument | null;
  of: Passage | null;
  /** Its number, and how long the worker planned, in ms. */
  job: number;
  tookMs: number;
  /** Where the search for the tempo up to which all is clean is, when it takes long. */
  searching: number | null;
  pending: boolean;
  failed: string | null;
}

/** Asks why nothing else holds a string at a step; returns how to stop listening. */
export type AskWhy = (step: number, string: number, onAnswer: (whyNot: WhyNot[]) => void) => () => void;

/** Keeps a passage planned: every change goes to the worker, the newest answer comes back. */
export function usePlan(passage: Passage): PlanState & { askWhy: AskWhy } {
  const [planner, setPlanner] = useState<Planner | null>(null);
  useEffect(() => {
    const own = new Planner(drawNow);
    planners.add(own);
    setPlanner(own);
    return () => {
      planners.delete(own);
      own.close();
    };
  }, []);
  useEffect(() => planner?.ask(passage), [planner, passage]);

  const { failure, job, ...finished } = useSyncExternalStore(planner?.subscribe ?? NEVER, () => planner?.finished ?? NOTHING_FINISHED);
  const askWhy = useCallback<AskWhy>((step, string, onAnswer) => planner?.askWhy(job, step, string, onAnswer) ?? NOTHING, [planner, job]);
  const failed = failure && failure.of === passage ? failure.says : null;
  return { ...finished, job, failed, pending: !failed && finished.of !== passage, askWhy };
}

/** Has a changed passage planned before the page has drawn the change, wherever the one before it is kept planned. */
export function planAhead(before: Passage, now: Passage): void {
  for (const planner of planners) {
    if (planner.asked !== before) continue;
    planner.ask(now);
    waitForPlan(before, now);
  }
}

/** To be called at every scroll: meanwhile the slower figures wait, which would take the processor from the drawing. */
export function scrolled(): void {
  if (goOn) clearTimeout(goOn);
  else for (const planner of planners) planner.hold(true);
  goOn = setTimeout(() => {
    goOn = null;
    for (const planner of planners) planner.hold(false);
  }, SCROLLED_MS);
}

/** Scrolling is over when it has stood still for so long, in ms. */
const SCROLLED_MS = 300;
let goOn: ReturnType<typeof setTimeout> | null = null;

const planners = new Set<Planner>();

const NOTHING = () => {};
const NEVER = () => NOTHING;
