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

interface Finished {
  plan: PlanDocument | null;
  of: Passage | null;
  tookMs: number;
  job: number;
  failure: { of: Passage; says: string } | null;
}

/** Keeps a passage planned: every change goes to the worker, the newest answer comes back. */
export function usePlan(passage: Passage | null): PlanState & { askWhy: AskWhy } {
  const [worker, setWorker] = useState<PlanWorker | null>(null);
  const [figures, setFigures] = useState<PlanWorker | null>(null);
  const [{ job, failure, ...finished }, setFinished] = useState<Finished>({ plan: null, of: null, tookMs: 0, job: 0, failure: null });

  useEffect(() => {
    const [planner, slower] = [startWorker(), startWorker()];
    const pair = { planner, slower };
    pairs.add(pair);
    setWorker(planner);
    setFigures(slower);
    return () => {
      pairs.delete(pair);
      planner.terminate();
      slower.terminate();
    };
  }, []);

  useEffect(() => {
    if (!worker || !figures || !passage) return;
    const own = worker.ask("plan", passage);
    const add = (more: Partial<PlanDocument>) => setFinished((before) => (before.plan ? { ...before, plan: { ...before.plan, ...more } } : before));
    let settled: ReturnType<typeof setTimeout> | null = null;
    let ownFigures = -1;
    const fail = (says: string) => setFinished((before) => ({ ...before, failure: { of: passage, says } }));
    const onAnswer = (answer: PlanAnswer) => {
      if (answer.job === ownFigures) {
        if (answer.kind === "ceiling") add({ ceilingTempo: answer.ceilingTempo });
        else if (answer.kind === "remedies") add({ remedies: answer.remedies });
        else if (answer.kind === "pins") add({ pins: answer.pins });
      } else if (answer.job !== own) return;
      else if (answer.kind === "failed") fail(answer.says);
      else if (answer.kind === "planned") {
        setFinished({ plan: { ...answer.plan, steps: worker.steps }, of: passage, tookMs: answer.tookMs, job: own, failure: null });
        settled = setTimeout(() => {
          ownFigures = figures.ask("figures", passage);
        }, SETTLED_MS);
      }
    };
    const onError = (event: ErrorEvent) => fail(event.message || "the planner stopped");
    const stops = [worker.listen(onAnswer, onError), figures.listen(onAnswer)];
    // It may have been asked ahead, and have answered already.
    if (worker.answer?.job === own) onAnswer(worker.answer);
    return () => {
      for (const stop of stops) stop();
      if (settled) clearTimeout(settled);
      figures.stop();
    };
  }, [worker, figures, passage]);

  const askWhy = useCallback<AskWhy>(
    (step, string, onAnswer) => {
      if (!worker) return () => {};
      const stop = worker.listen((answer) => {
        if (answer.kind === "why" && answer.job === job && answer.step === step && answer.string === string) onAnswer(answer.whyNot, answer.contacts);
      });
      worker.askWhy(job, step, string);
      return stop;
    },
    [worker, job],
  );

  const failed = failure && failure.of === passage ? failure.says : null;
  return { ...finished, failed, pending: !failed && (finished.of === null || finished.of !== passage), askWhy };
}

/** Has a changed passage planned before the page has drawn the change, wherever the one before it is kept planned. */
export function planAhead(before: Passage, now: Passage): void {
  for (const { planner, slower } of pairs) {
    if (planner.asked !== before) continue;
    planner.ask("plan", now);
    slower.stop();
  }
}

const pairs = new Set<{ planner: PlanWorker; slower: PlanWorker }>();

/** The slower figures are asked for when no edit has followed for so long, in ms. */
const SETTLED_MS = 150;

let jobs = 0;

/** The worker with what both ends know: the passage sent last and the steps told last. */
interface PlanWorker {
  readonly asked: Passage | null;
  readonly steps: PlannedStep[];
  /** The newest plan, or why there is none. */
  readonly answer: PlanAnswer | null;
  /** Asks for a passage and names the job; a plan of the passage asked last is not asked again. */
  ask(kind: "plan" | "figures", passage: Passage): number;
  askWhy(job: number, step: number, string: number): void;
  stop(): void;
  listen(onAnswer: (answer: PlanAnswer) => void, onError?: (event: ErrorEvent) => void): () => void;
  terminate(): void;
}

function startWorker(): PlanWorker {
  const worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  const send = (request: PlanRequest) => worker.postMessage(request);
  let asked: Passage | null = null;
  let job = 0;
  let steps: PlannedStep[] = [];
  let answer: PlanAnswer | null = null;
  // Listens first, so that the steps are up to date for whoever is told next, even when nobody waits for this answer any more.
  worker.addEventListener("message", ({ data }: MessageEvent<PlanAnswer>) => {
    if (data.kind === "planned") steps = changeTo(steps, data.steps);
    if (data.kind === "planned" || data.kind === "failed") answer = data;
  });
  return {
    get asked() {
      return asked;
    },
    get steps() {
      return steps;
    },
    get answer() {
      return answer;
    },
    ask: (kind, passage) => {
      if (kind === "plan" && asked === passage) return job;
      const { bars, ...rest } = passage;
      job = ++jobs;
      send({ kind, job, passage: rest, bars: barsToSend(asked?.bars ?? [], bars) });
      asked = passage;
      return job;
    },
    askWhy: (job, step, string) => send({ kind: "why", job, step, string }),
    stop: () => send({ kind: "stop" }),
    listen: (onAnswer, onError = () => {}) => {
      const onMessage = ({ data }: MessageEvent<PlanAnswer>) => onAnswer(data);
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
