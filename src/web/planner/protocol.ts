import equal from "fast-deep-equal";
import { commonEnds } from "../../core/caching/common-ends.ts";
import type { Limits, PinPrice, PlanDocument, PlannedStep, PlannedString, Remedy, WhyNot } from "../../core/document/plan.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { SentBar } from "./sent-bars.ts";

/** Messages between the page and the planning worker. The latest plan request wins. */
export type PlanRequest =
  /** Bars that are the same as in the request before come as their index in it. */
  | { kind: "plan" | "figures"; job: number; passage: Omit<Passage, "bars">; bars: SentBar[] }
  /** The figures asked for are of no use any more. */
  | { kind: "stop" }
  /** The figures wait, or need not wait any more. */
  | { kind: "hold"; isHeld: boolean }
  /** Why nothing else holds a string at a step of the newest plan. */
  | { kind: "why"; job: number; step: number; string: number };

export type PlanAnswer =
  | { kind: "planned"; job: number; plan: Omit<PlanDocument, "steps">; steps: ChangedSteps; tookMs: number }
  /** Figures that follow the plan; the next request cancels them. */
  | { kind: "pins"; job: number; pins: PinPrice[] }
  /** The tempo at which the search for what stays clean is, where it takes long. */
  | { kind: "searching"; job: number; tempo: number }
  | { kind: "limits"; job: number; limits: Limits }
  | { kind: "remedies"; job: number; remedies: Remedy[] }
  | { kind: "why"; job: number; step: number; string: number; whyNot: WhyNot[] }
  | { kind: "failed"; job: number; says: string };

/** A step on its way to the page; null is what the step said that stood there before. */
export interface SentStep {
  told: Omit<PlannedStep, "strings"> | null;
  strings: (PlannedString | null)[];
}

/** Steps as what differs from the ones sent before: all but the first and the last that say the same. */
export interface ChangedSteps {
  first: number;
  last: number;
  between: SentStep[];
}

/** Of most steps behind an edit no more is another than how loud one string would be; what came out the same need not be sent, nor drawn. */
export function stepsToSend(old: readonly PlannedStep[], now: readonly PlannedStep[]): ChangedSteps {
  const { prefix, suffix } = commonEnds(old, now, (a, b) => a === b || equal(a, b));
  const between = now.slice(prefix, now.length - suffix).map((step, i) => toSend(step, old[prefix + i]));
  return { first: prefix, last: suffix, between };
}

function toSend({ strings, ...told }: PlannedStep, before: PlannedStep | undefined): SentStep {
  if (!before) return { told, strings };
  const { strings: then, ...toldThen } = before;
  return { told: equal(told, toldThen) ? null : told, strings: strings.map((string, s) => (equal(string, then[s]) ? null : string)) };
}

export function stepsReceived(old: readonly PlannedStep[], { first, last, between }: ChangedSteps): PlannedStep[] {
  const steps = between.map(({ told, strings }, i): PlannedStep => {
    const before = old[first + i];
    return { ...(told ?? before!), strings: strings.map((string, s) => string ?? before!.strings[s]!) };
  });
  return [...old.slice(0, first), ...steps, ...old.slice(old.length - last)];
}
