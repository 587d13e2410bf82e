import type { Passage } from "../../core/passage/schema.ts";
import type { PlanDocument } from "../../core/verdict/document.ts";

/** Messages between the page and the planning worker. The latest request wins. */
export interface PlanRequest {
  job: number;
  passage: Passage;
}

export type PlanAnswer =
  /** Follows the plan when the search is done; the next request cancels it. */
  | { job: number; kind: "ceiling"; ceilingTempo: number | null }
  | { job: number; kind: "planned"; plan: PlanDocument; tookMs: number }
  | { job: number; kind: "failed"; says: string };
