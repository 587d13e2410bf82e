import { ceilingTempo, documentOf, planStages } from "../../core/engine.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { PlanMemory } from "../../core/plan/memory.ts";
import { ShapeCache } from "../../core/shapes/shapes.ts";
import { type Planned, whyOf } from "../../core/verdict/verdict.ts";
import type { PlanAnswer, PlanRequest } from "./protocol.ts";

const cache = new ShapeCache();
const memory = new PlanMemory();
const ceilingCache = new ShapeCache();
let newest: Extract<PlanRequest, { kind: "plan" }> | null = null;
let waiting = false;
let current = 0;
let planned: Planned | null = null;

self.onmessage = ({ data }: MessageEvent<PlanRequest>) => {
  if (data.kind === "why") {
    if (data.job === current && planned) post({ ...data, whyNot: whyOf(planned, data.step, data.string) });
    return;
  }
  newest = data;
  current = data.job;
  planned = null;
  if (waiting) return;
  waiting = true;
  // Requests that piled up while a plan was made are dropped but for the newest.
  setTimeout(planNewest, 0);
};

function planNewest(): void {
  waiting = false;
  if (!newest) return;
  const { job, passage } = newest;
  newest = null;
  const start = performance.now();
  try {
    const stages = planStages(passage, settingsOf(passage), cache, memory);
    const plan = documentOf(passage, stages, "nothing");
    planned = stages;
    post({ kind: "planned", job, plan, tookMs: performance.now() - start });
    if (job === current) searchCeiling(job, passage);
  } catch (error) {
    post({ kind: "failed", job, says: (error as Error).message });
  }
}

/** One plan at a time, so that the next edit gets its turn in between. */
function searchCeiling(job: number, passage: Passage): void {
  const search = ceilingTempo(passage, ceilingCache);
  const next = () => {
    if (job !== current) return;
    const step = search.next();
    if (step.done) post({ kind: "ceiling", job, ceilingTempo: step.value });
    else setTimeout(next, 0);
  };
  setTimeout(next, 0);
}

function post(answer: PlanAnswer): void {
  self.postMessage(answer);
}
