import { useCallback, useEffect, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { PlanDocument, WhyNot } from "../../core/verdict/document.ts";
import type { PlanAnswer, PlanRequest } from "./protocol.ts";

export interface PlanState {
  /** The newest finished plan and the passage it belongs to. */
  plan: PlanDocument | null;
  of: Passage | null;
  pending: boolean;
  failed: string | null;
}

/** Asks why nothing else holds a string at a step; returns how to stop listening. */
export type AskWhy = (step: number, string: number, onAnswer: (whyNot: WhyNot[]) => void) => () => void;

/** Keeps a passage planned: every change goes to the worker, the newest answer comes back. */
export function usePlan(passage: Passage | null): PlanState & { askWhy: AskWhy } {
  const [worker, setWorker] = useState<Worker | null>(null);
  const [job, setJob] = useState(0);
  const [state, setState] = useState<PlanState>({ plan: null, of: null, pending: true, failed: null });

  useEffect(() => {
    const made = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
    setWorker(made);
    return () => made.terminate();
  }, []);

  useEffect(() => {
    if (!worker || !passage) return;
    const own = ++jobs;
    setState((before) => ({ ...before, pending: true }));
    const onMessage = ({ data }: MessageEvent<PlanAnswer>) => {
      if (data.job !== own) return;
      if (data.kind === "ceiling") setState((before) => (before.plan ? { ...before, plan: { ...before.plan, ceilingTempo: data.ceilingTempo } } : before));
      else if (data.kind === "planned") {
        setState({ plan: data.plan, of: passage, pending: false, failed: null });
        setJob(own);
      } else if (data.kind === "failed") setState((before) => ({ ...before, pending: false, failed: data.says }));
    };
    const onError = (event: ErrorEvent) => setState((before) => ({ ...before, pending: false, failed: event.message || "the planner stopped" }));
    worker.addEventListener("message", onMessage);
    worker.addEventListener("error", onError);
    send(worker, { kind: "plan", job: own, passage });
    return () => {
      worker.removeEventListener("message", onMessage);
      worker.removeEventListener("error", onError);
    };
  }, [worker, passage]);

  const askWhy = useCallback<AskWhy>(
    (step, string, onAnswer) => {
      if (!worker) return () => {};
      const onMessage = ({ data }: MessageEvent<PlanAnswer>) => {
        if (data.kind === "why" && data.job === job && data.step === step && data.string === string) onAnswer(data.whyNot);
      };
      worker.addEventListener("message", onMessage);
      send(worker, { kind: "why", job, step, string });
      return () => worker.removeEventListener("message", onMessage);
    },
    [worker, job],
  );

  return { ...state, askWhy };
}

let jobs = 0;

function send(worker: Worker, request: PlanRequest): void {
  worker.postMessage(request);
}
