import { lowerOf, type PlanDocument, type PlannedStep, type WhyNot } from "../../core/document/plan.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { type PlanAnswer, type PlanRequest, stepsReceived } from "./protocol.ts";
import { barsToSend } from "./sent-bars.ts";

/** The newest finished plan, the passage it belongs to, and how long it took in ms. */
export interface Finished {
  plan: PlanDocument | null;
  of: Passage | null;
  tookMs: number;
  job: number;
  /** The tempo at which the search for what stays clean is; null where it is over, or has not taken long yet. */
  searching: number | null;
  failure: { of: Passage; says: string } | null;
}

export const NOTHING_FINISHED: Finished = { plan: null, of: null, tookMs: 0, job: 0, searching: null, failure: null };

/** The slower figures are asked for when no edit has followed for so long, in ms. */
const SETTLED_MS = 150;

let jobs = 0;

/** Keeps one passage planned: a worker makes the plan, another one the figures that take longer. */
export class Planner {
  finished = NOTHING_FINISHED;
  /** The passage asked for last. */
  asked: Passage | null = null;
  private job = 0;
  private steps: PlannedStep[] = [];
  private settled: ReturnType<typeof setTimeout> | null = null;
  private readonly worker = startWorker();
  private readonly slower = startWorker();
  private slowerBars: Passage["bars"] = [];
  /** The job that the figures were last asked for. */
  private figuresOf = 0;
  private readonly listeners = new Set<() => void>();
  private readonly whyListeners = new Set<(answer: PlanAnswer & { kind: "why" }) => void>();

  constructor(private readonly onFinished: () => void) {
    this.worker.addEventListener("message", ({ data }: MessageEvent<PlanAnswer>) => this.hear(data));
    this.worker.addEventListener("error", (event) => this.fail(event.message || "the planner stopped"));
    this.slower.addEventListener("message", ({ data }: MessageEvent<PlanAnswer>) => this.hear(data));
  }

  /** Asks for the plan of a passage, unless it was the one asked for last. Answers to earlier questions count no more. */
  ask(passage: Passage): void {
    if (this.asked === passage) return;
    this.letFiguresBe();
    this.job = ++jobs;
    const { bars, ...rest } = passage;
    send(this.worker, { kind: "plan", job: this.job, passage: rest, bars: barsToSend(this.asked?.bars ?? [], bars) });
    this.asked = passage;
  }

  /** Asks why nothing else holds a string at a step of the newest plan. */
  askWhy(job: number, step: number, string: number, onAnswer: (whyNot: WhyNot[]) => void): () => void {
    const listener = (answer: PlanAnswer & { kind: "why" }) => {
      if (answer.job === job && answer.step === step && answer.string === string) onAnswer(answer.whyNot);
    };
    this.whyListeners.add(listener);
    send(this.worker, { kind: "why", job, step, string });
    return () => this.whyListeners.delete(listener);
  }

  /** Keeps the slower figures waiting, or lets them go on. */
  hold(isHeld: boolean): void {
    send(this.slower, { kind: "hold", isHeld });
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  close(): void {
    if (this.settled) clearTimeout(this.settled);
    this.worker.terminate();
    this.slower.terminate();
  }

  private hear(answer: PlanAnswer): void {
    // Steps are sent as what differs from the ones sent before, so an answer that comes too late still counts for them.
    if (answer.kind === "planned") this.steps = stepsReceived(this.steps, answer.steps);
    if (answer.kind === "why") for (const listener of this.whyListeners) listener(answer);
    if (answer.job !== this.job || !this.asked) return;
    const of = this.asked;
    if (answer.kind === "failed") this.fail(answer.says);
    else if (answer.kind === "planned") {
      this.settled = setTimeout(() => this.askFigures(of), SETTLED_MS);
      this.finish({ plan: { ...answer.plan, steps: this.steps }, of, tookMs: answer.tookMs, job: this.job, searching: null, failure: null });
    } else if (answer.kind === "searching") this.finish({ ...this.finished, searching: answer.tempo });
    else if (answer.kind === "limits") this.add({ limits: answer.limits, ceilingTempo: lowerOf(answer.limits) });
    else if (answer.kind === "remedies") this.add({ remedies: answer.remedies });
    else if (answer.kind === "pins") this.add({ pins: answer.pins });
  }

  private fail(says: string): void {
    if (this.asked) this.finish({ ...this.finished, failure: { of: this.asked, says } });
  }

  private add(more: Partial<PlanDocument>): void {
    if (this.finished.plan) this.finish({ ...this.finished, searching: null, plan: { ...this.finished.plan, ...more } });
  }

  private finish(finished: Finished): void {
    this.finished = finished;
    for (const listener of this.listeners) listener();
    this.onFinished();
  }

  /** The figures bear the number of the plan that they belong to. */
  private askFigures(passage: Passage): void {
    const { bars, ...rest } = passage;
    send(this.slower, { kind: "figures", job: this.job, passage: rest, bars: barsToSend(this.slowerBars, bars) });
    this.slowerBars = bars;
    this.figuresOf = this.job;
  }

  private letFiguresBe(): void {
    if (this.settled) clearTimeout(this.settled);
    if (this.figuresOf === this.job) send(this.slower, { kind: "stop" });
  }
}

function startWorker(): Worker {
  return new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
}

function send(worker: Worker, request: PlanRequest): void {
  worker.postMessage(request);
}
