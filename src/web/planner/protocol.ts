import type { Passage } from "../../core/passage/schema.ts";
import type { PlanDocument, WhyNot } from "../../core/verdict/document.ts";

/** Messages between the page and the planning worker. The latest plan request wins. */
export type PlanRequest =
  | { kind: "plan"; job: number; passage: Passage }
  /** Why nothing else holds a string at a step of the newest plan. */
  | { kind: "why"; job: number; step: number; string: number };

export type PlanAnswer =
  | { kind: "planned"; job: number; plan: PlanDocument; tookMs: number }
  /** Follows the plan when the search is done; the next request cancels it. */
  | { kind: "ceiling"; job: number; ceilingTempo: number | null }
  | { kind: "why"; job: number; step: number; string: number; whyNot: WhyNot[] }
  | { kind: "failed"; job: number; says: string };
