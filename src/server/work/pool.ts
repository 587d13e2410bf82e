import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";
import { MessageChannel } from "node:worker_threads";
import { Piscina } from "piscina";
import type { OnProgress } from "../../core/formats/imported.ts";
import { threadFile } from "../places.ts";
import type { Ordered, TaskInput, TaskName, TaskResult } from "./tasks.ts";
import { workedMs } from "./thread-time.ts";

/** Work of one request: so many ms of a thread's own time at most, and so much heap. A machine that is busy otherwise counts for nothing, up to a point. */
const LONGEST_MS = 5_000;
const LONGEST_ON_THE_WALL = 12;
/** How often it is looked, in ms. */
const LOOK_EVERY_MS = 100;
const LARGEST_HEAP_MB = 400;
/** Threads; one stays at least, so that what comes next finds it warm. */
const THREADS = { most: 3, one: 1, idleMs: 30_000 };
/** Work from so many ms on leaves a thread larger than it was. */
const HEAVY_MS = 1_000;
/** More than that waiting is refused. */
const MOST_WAITING = 200;

export interface WorkOptions {
  /** Ends the work: whoever asked has gone, or wants no more of it. */
  signal?: AbortSignal | undefined;
  onProgress?: OnProgress | undefined;
  /** Other than that of a request, for jobs that show how far they are. */
  longestMs?: number;
}

/** A job: it says how far it is, and can be stopped until its last step. */
export type JobOptions = Pick<WorkOptions, "signal" | "onProgress">;

/** V8 gives back what it does not need when it is asked to; by itself it keeps it until it is short of memory. */
function collectGarbage(): void {
  setFlagsFromString("--expose-gc");
  (runInNewContext("gc") as () => void)();
}

/** Why work was ended before it was done, in words for whoever asked. */
export class WorkEnded extends Error {
  constructor(
    readonly why: "too much" | "stopped" | "busy",
    says: string,
  ) {
    super(says);
  }
}

/** Threads for everything whose length depends on what somebody sent. What takes too long or too much memory is ended, and costs nobody else. */
export class WorkPool {
  private threads: Piscina<Ordered, unknown>;
  private running = 0;
  /** Whether threads have grown by what they did: then fresh ones take their place once there is nothing to do. */
  private hasGrown = false;
  private rest: NodeJS.Timeout | undefined;

  /** `stay` threads are kept when there is nothing to do: as many as there may be where many people come, since one takes seconds to warm up. */
  constructor(
    private readonly heapMb = LARGEST_HEAP_MB,
    private readonly stay: "one" | "all" = "one",
  ) {
    this.threads = this.freshThreads();
  }

  private freshThreads(): Piscina<Ordered, unknown> {
    return new Piscina({
      filename: threadFile("work"),
      minThreads: this.stay === "all" ? THREADS.most : THREADS.one,
      maxThreads: THREADS.most,
      idleTimeout: THREADS.idleMs,
      resourceLimits: { maxOldGenerationSizeMb: this.heapMb },
    });
  }

  /** Does a task in a thread of its own. Throws WorkEnded where it was ended; a task's own fault is thrown as it is. */
  async run<K extends TaskName>(name: K, input: TaskInput<K>, { signal, onProgress, longestMs = LONGEST_MS }: WorkOptions = {}): Promise<TaskResult<K>> {
    if (this.threads.queueSize >= MOST_WAITING) throw new WorkEnded("busy", "There is too much to do here just now. Try again in a moment.");
    const ending = new AbortController();
    let why: "too much" | "stopped" = "stopped";
    const stop = () => ending.abort();
    if (signal?.aborted) stop();
    signal?.addEventListener("abort", stop);
    const { port1, port2 } = new MessageChannel();
    let clock: NodeJS.Timeout | undefined;
    port1.on("message", (message: { begun: string | null } | { done: number; of: number }) => {
      if ("done" in message) return onProgress?.(message.done, message.of);
      // Waiting for a free thread is not its work.
      const [worked, seen] = [workedMs(message.begun), performance.now()];
      clock = setInterval(
        () => {
          if (workedMs(message.begun) - worked < longestMs && performance.now() - seen < longestMs * LONGEST_ON_THE_WALL) return;
          why = "too much";
          ending.abort();
        },
        Math.min(longestMs, LOOK_EVERY_MS),
      );
    });
    clearTimeout(this.rest);
    this.running++;
    const begun = performance.now();
    try {
      return (await this.threads.run({ name, input, port: port2 }, { signal: ending.signal, transferList: [port2] })) as TaskResult<K>;
    } catch (error) {
      throw this.endedBy(error as NodeJS.ErrnoException, why, longestMs);
    } finally {
      clearInterval(clock);
      signal?.removeEventListener("abort", stop);
      port1.close();
      this.running--;
      this.hasGrown ||= performance.now() - begun > HEAVY_MS;
      if (this.running === 0 && this.hasGrown) this.rest = setTimeout(() => this.renew(), THREADS.idleMs).unref();
    }
  }

  /** How much waits for a thread. */
  get waiting(): number {
    return this.threads.queueSize;
  }

  /** After heavy work, when nobody waits: fresh threads, and what this thread has grown by goes back as well. */
  private renew(): void {
    collectGarbage();
    const grown = this.threads;
    this.threads = this.freshThreads();
    this.hasGrown = false;
    void grown.destroy();
  }

  close(): Promise<void> {
    clearTimeout(this.rest);
    return this.threads.destroy();
  }

  /** A thread is ended by its own asker, by its clock, or with the server. */
  private endedBy(error: NodeJS.ErrnoException, why: "too much" | "stopped", longestMs: number): Error {
    if (error.message === "Terminating worker thread") return new WorkEnded("stopped", "The server is ending.");
    if (error.name === "AbortError")
      return why === "stopped" ? new WorkEnded("stopped", "It was stopped.") : new WorkEnded("too much", `This takes more than ${longestMs / 1000} s of work.`);
    if (error.code === "ERR_WORKER_OUT_OF_MEMORY") return new WorkEnded("too much", `This takes more than ${this.heapMb} MB of memory.`);
    return error;
  }
}
