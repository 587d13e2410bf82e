import { useCallback, useEffect, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { Contact } from "../../core/shapes/types.ts";
import type { PlanDocument, PlannedStep, WhyNot } from "../../core/verdict/document.ts";
import { barsToSend, changeTo, type PlanAnswer, type PlanRequest } from "./protocol.ts";

export interface PlanState {
  /** The newest finished plan and the passage it belongs to. */
  plan: PlanDocument | null;
  of: Passage | null;
  /** How long the worker planned, in ms. */
  tookMs: number;
  pending: boolean;
  failed: string | null;
}

/** Asks why nothing else holds a string at a step; returns how to stop listening. */
export type AskWhy = (step: number, string: number, onAnswer: (whyNot: WhyNot[], contacts: readonly Contact[]) => void) => () => void;

/** Keeps a passage planned: every change goes to the worker, the newest answer comes back. */
export function usePlan(passage: Passage | null): PlanState & { askWhy: AskWhy } {
  const [worker, setWorker] = useState<PlanWorker | null>(null);
  const [figures, setFigures] = useState<PlanWorker | null>(null);
  const [job, setJob] = useState(0);
  const [state, setState] = useState<PlanState>({ plan: null, of: null, tookMs: 0, pending: true, failed: null });

  useEffect(() => {
    const [planner, slower] = [startWorker(), startWorker()];
    setWorker(planner);
    setFigures(slower);
    return () => {
      planner.terminate();
      slower.terminate();
    };
  }, []);

  useEffect(() => {
    if (!worker || !figures || !passage) return;
    const own = ++jobs;
    setState((before) => ({ ...before, pending: true }));
    const add = (figures: Partial<PlanDocument>) => setState((before) => (before.plan ? { ...before, plan: { ...before.plan, ...figures } } : before));
    let settled: ReturnType<typeof setTimeout> | null = null;
    const askFigures = () => {
      const { bars, ...rest } = passage;
      figures.send({ kind: "figures", job: own, passage: rest, bars: barsToSend(figures.bars, bars) });
      figures.bars = bars;
    };
    const onMessage = ({ data }: MessageEvent<PlanAnswer>) => {
      if (data.job !== own) return;
      if (data.kind === "ceiling") add({ ceilingTempo: data.ceilingTempo });
      else if (data.kind === "remedies") add({ remedies: data.remedies });
      else if (data.kind === "pins") add({ pins: data.pins });
      else if (data.kind === "planned") {
        setState({ plan: { ...data.plan, steps: worker.steps }, of: passage, tookMs: data.tookMs, pending: false, failed: null });
        setJob(own);
        settled = setTimeout(askFigures, SETTLED_MS);
      } else if (data.kind === "failed") setState((before) => ({ ...before, pending: false, failed: data.says }));
    };
    const onError = (event: ErrorEvent) => setState((before) => ({ ...before, pending: false, failed: event.message || "the planner stopped" }));
    const stops = [worker.listen(onMessage, onError), figures.listen(onMessage)];
    const { bars, ...rest } = passage;
    worker.send({ kind: "plan", job: own, passage: rest, bars: barsToSend(worker.bars, bars) });
    worker.bars = bars;
    return () => {
      for (const stop of stops) stop();
      if (settled) clearTimeout(settled);
    };
  }, [worker, figures, passage]);

  const askWhy = useCallback<AskWhy>(
    (step, string, onAnswer) => {
      if (!worker) return () => {};
      const onMessage = ({ data }: MessageEvent<PlanAnswer>) => {
        if (data.kind === "why" && data.job === job && data.step === step && data.string === string) onAnswer(data.whyNot, data.contacts);
      };
      const stop = worker.listen(onMessage);
      worker.send({ kind: "why", job, step, string });
      return stop;
    },
    [worker, job],
  );

  return { ...state, askWhy };
}

/** The slower figures are asked for when no edit has followed for so long, in ms. */
const SETTLED_MS = 150;

let jobs = 0;

/** The worker with what both ends know: the bars sent last and the steps told last. */
interface PlanWorker {
  bars: Passage["bars"];
  readonly steps: PlannedStep[];
  send(request: PlanRequest): void;
  listen(onMessage: (event: MessageEvent<PlanAnswer>) => void, onError?: (event: ErrorEvent) => void): () => void;
  terminate(): void;
}

function startWorker(): PlanWorker {
  const worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  let steps: PlannedStep[] = [];
  // Listens first, so that the steps are up to date for whoever is told next, even when nobody waits for this answer any more.
  worker.addEventListener("message", ({ data }: MessageEvent<PlanAnswer>) => {
    if (data.kind === "planned") steps = changeTo(steps, data.steps);
  });
  return {
    bars: [],
    get steps() {
      return steps;
    },
    send: (request) => worker.postMessage(request),
    listen: (onMessage, onError = () => {}) => {
      worker.addEventListener("message", onMessage);
      worker.addEventListener("error", onError);
      return () => {
        worker.removeEventListener("message", onMessage);
        worker.removeEventListener("error", onError);
      };
    },
    terminate: () => worker.terminate(),
  };
}
