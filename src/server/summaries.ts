import { createHash } from "node:crypto";
import { Worker } from "node:worker_threads";
import type { Limits } from "../core/document/plan.ts";
import type { Passage } from "../core/passage/schema.ts";
import type { PlanSummary } from "../core/summary.ts";
import { canonical } from "./canonical.ts";
import type { FigureKind, FigureOf } from "./summary-worker.ts";

/** Raised when plans come out differently, so that remembered summaries are made anew. */
const ENGINE_VERSION = 3;
const MOST_REMEMBERED = 5000;

type Answer = { job: number; figure: unknown } | { job: number; error: string };

/** Plans passages for the Shelf in a worker thread, remembered by everything the plan depends on. */
export class Summaries {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, { resolve(figure: unknown): void; reject(error: Error): void }>();
  private readonly known = new Map<string, Promise<unknown>>();
  private jobs = 0;

  of(passage: Passage): Promise<PlanSummary> {
    return this.figure("summary", passage);
  }

  /** Up to which tempo the hands keep up, and up to which nothing rings astray. */
  limitsOf(passage: Passage): Promise<Limits> {
    return this.figure("limits", passage);
  }

  private figure<K extends FigureKind>(kind: K, passage: Passage): Promise<FigureOf<K>> {
    const key = createHash("sha256")
      .update(`${ENGINE_VERSION}${kind}${canonical(passage)}`)
      .digest("hex");
    const known = this.known.get(key);
    if (known) return known as Promise<FigureOf<K>>;
    const made = this.ask(kind, passage) as Promise<FigureOf<K>>;
    this.known.set(key, made);
    made.catch(() => this.known.delete(key));
    if (this.known.size > MOST_REMEMBERED) this.known.delete(this.known.keys().next().value as string);
    return made;
  }

  async close(): Promise<void> {
    await this.worker?.terminate();
  }

  private ask(kind: FigureKind, passage: Passage): Promise<unknown> {
    const worker = this.worker ?? this.start();
    const job = ++this.jobs;
    return new Promise((resolve, reject) => {
      this.waiting.set(job, { resolve, reject });
      worker.postMessage({ job, kind, passage });
    });
  }

  private start(): Worker {
    const worker = new Worker(new URL("./summary-worker.mjs", import.meta.url));
    worker.unref();
    worker.on("message", (answer: Answer) => {
      const waiting = this.waiting.get(answer.job);
      this.waiting.delete(answer.job);
      if ("error" in answer) waiting?.reject(new Error(answer.error));
      else waiting?.resolve(answer.figure);
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
