import { proxy } from "comlink";
import { useEffect, useState } from "react";
import type { PlanDocument } from "../../core/document/plan.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { ComparedPart } from "../jobs/jobs.ts";
import { startJob } from "../jobs/use-job.ts";

export interface Compared {
  /** Per version; null until it is planned. */
  plans: readonly (PlanDocument | null)[];
  /** Per version the share of the volume at which it is as loud as the quietest; 1 until that is known. */
  levels: readonly number[];
  failed: string | null;
}

/** Plans of several versions of a passage, made in a worker; another set of versions stops the work on the one before. */
export function useCompare(passages: readonly Passage[], fromBar: number, toBar: number): Compared {
  const [state, setState] = useState<Compared>({ plans: [], levels: [], failed: null });
  useEffect(() => {
    const job = startJob();
    setState(({ plans, levels }) => ({ plans: passages.map((_, i) => plans[i] ?? null), levels: passages.map((_, i) => levels[i] ?? 1), failed: null }));
    const onPart = (part: ComparedPart) => setState((before) => withPart(before, part));
    job.result(job.jobs.compare(passages, fromBar, toBar, proxy(onPart))).catch((error: Error) => setState((before) => ({ ...before, failed: error.message })));
    return job.stop;
  }, [passages, fromBar, toBar]);
  return state;
}

/** What is compared, with one part more. */
export function withPart(before: Compared, part: ComparedPart): Compared {
  if (part.kind === "levels") {
    const quietest = Math.min(...part.levels.filter((level) => level !== null));
    return { ...before, levels: part.levels.map((level) => (level === null ? 1 : 10 ** ((quietest - level) / 20))) };
  }
  const changed = (plan: PlanDocument | null) => (part.kind === "plan" ? part.plan : plan && { ...plan, limits: part.limits });
  return { ...before, plans: before.plans.map((plan, i) => (i === part.index ? changed(plan) : plan)) };
}
