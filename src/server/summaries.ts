import { createHash } from "node:crypto";
import { Worker } from "node:worker_threads";
import type { Passage } from "../core/passage/schema.ts";
import type { PlanSummary } from "../core/summary.ts";
import { canonical } from "./library.ts";

/** Raised when plans come out differently, so that remembered summaries are made anew. */
const ENGINE_VERSION = 1;
const MOST_REMEMBERED = 5000;

interface Answer {
  job: number;
  summary?: PlanSummary;
  error?: string;
}

/** Plans passages for the Shelf in a worker thread, remembered by everything the plan depends on. */
export class Summaries {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, { resolve(summary: PlanSummary): void; reject(error: Error): void }>();
  private readonly known = new Map<string, Promise<PlanSummary>>();
  private jobs = 0;

  of(passage: Passage): Promise<PlanSummary> {
    const key = createHash("sha256")
      .update(`${ENGINE_VERSION}${canonical(passage)}`)
      .digest("hex");
    const known = this.known.get(key);
    if (known) return known;
    const made = this.ask(passage);
    this.known.set(key, made);
    made.catch(() => this.known.delete(key));
    if (this.known.size > MOST_REMEMBERED) this.known.delete(this.known.keys().next().value as string);
    return made;
  }

  async close(): Promise<void> {
    await this.worker?.terminate();
  }

  private ask(passage: Passage): Promise<PlanSummary> {
    const worker = this.worker ?? this.start();
    const job = ++this.jobs;
    return new Promise((resolve, reject) => {
      this.waiting.set(job, { resolve, reject });
      worker.postMessage({ job, passage });
    });
  }

  private start(): Worker {
    const worker = new Worker(new URL("./summary-worker.mjs", import.meta.url));
    worker.unref();
    worker.on("message", ({ job, summary, error }: Answer) => {
      const waiting = this.waiting.get(job);
      this.waiting.delete(job);
      if (summary) waiting?.resolve(summary);
      else waiting?.reject(new Error(error));
    });
    const fail = (error: Error) => {
      this.worker = null;
      for (const waiting of this.waiting.values()) waiting.reject(error);
      this.waiting.clear();
    };
    worker.on("error", fail);
    worker.on("exit", () => fail(new Error("the planning worker ended")));
    this.worker = worker;
    return worker;
  }
}
