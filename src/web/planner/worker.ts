import { type Limits, lowerOf, type PlannedStep } from "../../core/document/plan.ts";
import { documentOf, limits, planStages, pricesOf, remedies } from "../../core/engine.ts";
import { EngineCache } from "../../core/engine-cache.ts";
import type { Bar, Passage } from "../../core/passage/schema.ts";
import { type PlannedStages, whyOf } from "../../core/verdict/verdict.ts";
import { type PlanAnswer, type PlanRequest, stepsToSend } from "./protocol.ts";
import { barsReceived } from "./sent-bars.ts";

const cache = new EngineCache();
const slowerCache = new EngineCache();
let bars: readonly Bar[] = [];
let newest: { kind: "plan" | "figures"; job: number; passage: Passage } | null = null;
let waiting = false;
let current = 0;
let planned: PlannedStages | null = null;
let sent: readonly PlannedStep[] = [];
/** What is put off while the figures are held; null while they are not. */
let putOff: (() => void)[] | null = null;

self.onmessage = ({ data }: MessageEvent<PlanRequest>) => {
  if (data.kind === "why") {
    const here = sent[data.step]?.strings[data.string - 1];
    if (data.job === current && planned && here) post({ ...data, whyNot: whyOf(planned, data.step, here) });
    return;
  }
  if (data.kind === "stop") {
    newest = null;
    current = 0;
    return;
  }
  if (data.kind === "hold") {
    const due = putOff ?? [];
    putOff = data.isHeld ? due : null;
    if (!data.isHeld) due.forEach(later);
    return;
  }
  bars = barsReceived(bars, data.bars);
  newest = { kind: data.kind, job: data.job, passage: { ...data.passage, bars: [...bars] } };
  current = data.job;
  planned = null;
  if (waiting) return;
  waiting = true;
  // Requests that piled up while a plan was made are dropped but for the newest.
  later(planNewest);
};

/** Lets messages in first. */
function later(work: () => void): void {
  if (putOff) putOff.push(work);
  else setTimeout(() => (putOff ? putOff.push(work) : work()), 0);
}

function planNewest(): void {
  waiting = false;
  if (!newest) return;
  const { kind, job, passage } = newest;
  newest = null;
  if (kind === "figures") {
    slowerFigures(job, passage, planStages(passage, cache));
    return;
  }
  const start = performance.now();
  try {
    const stages = planStages(passage, cache);
    const { steps, ...plan } = documentOf(passage, stages, { cache });
    planned = stages;
    post({ kind: "planned", job, plan, steps: stepsToSend(sent, steps), tookMs: performance.now() - start });
    sent = steps;
  } catch (error) {
    post({ kind: "failed", job, says: (error as Error).message });
  }
}

/**
 * Prices of pins, the ceiling tempo and remedies: one plan at a time, so that a newer request gets its turn in between. A
 * worker of its own does this: a plan of a long passage at another tempo would keep the next edit waiting.
 */
function slowerFigures(job: number, passage: Passage, stages: PlannedStages): void {
  const remediesAfter = (ceiling: number | null) =>
    inTurns(job, remedies(passage, stages, ceiling, slowerCache), (found) => post({ kind: "remedies", job, remedies: found }));
  later(() => {
    if (job !== current) return;
    if (passage.pins?.length) post({ kind: "pins", job, pins: pricesOf(passage, stages, slowerCache) });
    const onLimits = (found: Limits) => {
      post({ kind: "limits", job, limits: found });
      remediesAfter(lowerOf(found));
    };
    inTurns(job, limits(passage, slowerCache), onLimits, tellingHowFar(job));
  });
}

/** Goes on with a search as long as its job is the newest. */
function inTurns<S, T>(job: number, search: Generator<S, T, void>, onFound: (found: T) => void, onStep: (step: S) => void = () => {}): void {
  if (job !== current) return;
  const step = search.next();
  if (step.done) onFound(step.value);
  else {
    onStep(step.value);
    later(() => inTurns(job, search, onFound, onStep));
  }
}

/** A search that takes longer than that says now and then at which tempo it is, in ms. */
const LONG_MS = 1000;
const NOW_AND_THEN_MS = 250;

function tellingHowFar(job: number): (tempo: number) => void {
  let due = performance.now() + LONG_MS;
  return (tempo) => {
    if (performance.now() < due) return;
    due = performance.now() + NOW_AND_THEN_MS;
    post({ kind: "searching", job, tempo });
  };
}

function post(answer: PlanAnswer): void {
  self.postMessage(answer);
}
