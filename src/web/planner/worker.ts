import { planPassage } from "../../core/engine.ts";
import { ShapeCache } from "../../core/shapes/shapes.ts";
import type { PlanAnswer, PlanRequest } from "./protocol.ts";

const cache = new ShapeCache();
let newest: PlanRequest | null = null;
let waiting = false;

self.onmessage = ({ data }: MessageEvent<PlanRequest>) => {
  newest = data;
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
  } catch (error) {
    post({ job, kind: "failed", says: (error as Error).message });
  }
}

function post(answer: PlanAnswer): void {
  self.postMessage(answer);
}
