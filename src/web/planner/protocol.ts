import equal from "fast-deep-equal";
import { commonEnds } from "../../core/caching/fold.ts";
import type { Limits, PinPrice, PlanDocument, PlannedStep, Remedy, WhyNot } from "../../core/document/plan.ts";
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
  | { kind: "planned"; job: number; plan: Omit<PlanDocument, "steps">; steps: Changed<PlannedStep>; tookMs: number }
  /** Figures that follow the plan; the next request cancels them. */
  | { kind: "pins"; job: number; pins: PinPrice[] }
  /** The tempo at which the search for what stays clean is, where it takes long. */
  | { kind: "searching"; job: number; tempo: number }
  | { kind: "limits"; job: number; limits: Limits }
  | { kind: "remedies"; job: number; remedies: Remedy[] }
  | { kind: "why"; job: number; step: number; string: number; whyNot: WhyNot[] }
  | { kind: "failed"; job: number; says: string };

/** A list as what differs from the one sent before: all but its first and last items that say the same. */
export interface Changed<T> {
  first: number;
  last: number;
  between: T[];
}

export function changedFrom<T>(old: readonly T[], now: readonly T[]): Changed<T> {
  // Steps that were worked out again but came out the same need not be sent, nor drawn.
  const { prefix, suffix } = commonEnds(old, now, equal);
  return { first: prefix, last: suffix, between: now.slice(prefix, now.length - suffix) };
}

export function changeTo<T>(old: readonly T[], { first, last, between }: Changed<T>): T[] {
  return [...old.slice(0, first), ...between, ...old.slice(old.length - last)];
}
