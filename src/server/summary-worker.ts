import { parentPort } from "node:worker_threads";
import type { Passage } from "../core/passage/schema.ts";
import { summaryOf } from "../core/summary.ts";

parentPort!.on("message", ({ job, passage }: { job: number; passage: Passage }) => {
  try {
    parentPort!.postMessage({ job, summary: summaryOf(passage) });
  } catch (error) {
    parentPort!.postMessage({ job, error: (error as Error).message });
  }
});
