import { ceilingTempo, planPassage } from "../../core/engine.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { ShapeCache } from "../../core/shapes/shapes.ts";
import type { PlanAnswer, PlanRequest } from "./protocol.ts";

const cache = new ShapeCache();
const ceilingCache = new ShapeCache();
let newest: PlanRequest | null = null;
let waiting = false;
let current = 0;

self.onmessage = ({ data }: MessageEvent<PlanRequest>) => {
  newest = data;
  current = data.job;
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
    const plan = planPassage(passage, { cache });
    post({ job, kind: "planned", plan, tookMs: performance.now() - start });
    if (job === current) searchCeiling(job, passage);
  } catch (error) {
    post({ job, kind: "failed", says: (error as Error).message });
  }
}

/** One plan at a time, so that the next edit gets its turn in between. */
function searchCeiling(job: number, passage: Passage): void {
  const search = ceilingTempo(passage, ceilingCache);
  const next = () => {
    if (job !== current) return;
    const step = search.next();
    if (step.done) post({ job, kind: "ceiling", ceilingTempo: step.value });
    else setTimeout(next, 0);
  };
  setTimeout(next, 0);
}

function post(answer: PlanAnswer): void {
  self.postMessage(answer);
}
