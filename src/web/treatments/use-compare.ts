import { useEffect, useState } from "react";
import type { PlanDocument } from "../../core/document/plan.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { JobAnswer, JobRequest } from "../jobs/protocol.ts";

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
    const worker = new Worker(new URL("../jobs/worker.ts", import.meta.url), { type: "module" });
    setState(({ plans, levels }) => ({ plans: passages.map((_, i) => plans[i] ?? null), levels: passages.map((_, i) => levels[i] ?? 1), failed: null }));
    const change = (index: number, with_: (plan: PlanDocument | null) => PlanDocument | null) =>
      setState((before) => ({ ...before, plans: before.plans.map((plan, i) => (i === index ? with_(plan) : plan)) }));
    worker.onmessage = ({ data }: MessageEvent<JobAnswer>) => {
      if (data.kind === "compared") change(data.index, () => data.plan);
      else if (data.kind === "limits-of") change(data.index, (plan) => plan && { ...plan, limits: data.limits });
      else if (data.kind === "levels") {
        const quietest = Math.min(...data.levels.filter((level) => level !== null));
        setState((before) => ({ ...before, levels: data.levels.map((level) => (level === null ? 1 : quietest / level)) }));
      } else if (data.kind === "failed") setState((before) => ({ ...before, failed: data.says }));
    };
    worker.onerror = (event) => setState((before) => ({ ...before, failed: event.message || "the comparison stopped" }));
    worker.postMessage({ kind: "compare", passages, fromBar, toBar } satisfies JobRequest);
    return () => worker.terminate();
  }, [passages, fromBar, toBar]);
  return state;
}
