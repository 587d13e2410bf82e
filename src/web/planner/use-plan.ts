import { useEffect, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { PlanDocument } from "../../core/verdict/document.ts";
import type { PlanAnswer, PlanRequest } from "./protocol.ts";

export interface PlanState {
  /** The newest finished plan and the passage it belongs to. */
  plan: PlanDocument | null;
  of: Passage | null;
  pending: boolean;
  failed: string | null;
}

/** Keeps a passage planned: every change goes to the worker, the newest answer comes back. */
export function usePlan(passage: Passage | null): PlanState {
  const [worker, setWorker] = useState<Worker | null>(null);
  const [state, setState] = useState<PlanState>({ plan: null, of: null, pending: true, failed: null });

  useEffect(() => {
    const made = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
    setWorker(made);
    return () => made.terminate();
  }, []);

  useEffect(() => {
    if (!worker || !passage) return;
    const job = ++jobs;
    setState((before) => ({ ...before, pending: true }));
    const onMessage = ({ data }: MessageEvent<PlanAnswer>) => {
      if (data.job !== job) return;
      if (data.kind === "ceiling") setState((before) => (before.plan ? { ...before, plan: { ...before.plan, ceilingTempo: data.ceilingTempo } } : before));
      else if (data.kind === "planned") setState({ plan: data.plan, of: passage, pending: false, failed: null });
      else setState((before) => ({ ...before, pending: false, failed: data.says }));
    };
    const onError = (event: ErrorEvent) => setState((before) => ({ ...before, pending: false, failed: event.message || "the planner stopped" }));
    worker.addEventListener("message", onMessage);
    worker.addEventListener("error", onError);
    worker.postMessage({ job, passage } satisfies PlanRequest);
    return () => {
      worker.removeEventListener("message", onMessage);
      worker.removeEventListener("error", onError);
    };
  }, [worker, passage]);

  return state;
}

let jobs = 0;
