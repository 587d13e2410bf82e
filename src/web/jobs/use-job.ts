import { proxy, type Remote, wrap } from "comlink";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Jobs, OnProgress } from "./jobs.ts";

export interface Progress {
  done: number;
  of: number;
}

export interface RunningJob {
  jobs: Remote<Jobs>;
  /** The work's result; fails with its error, or when its worker breaks down. */
  result<T>(work: Promise<T>): Promise<T>;
  /** Work that is stopped answers nothing any more. */
  stop(): void;
}

/** A worker for one piece of work. Whoever starts it ends it. */
export function startJob(worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" })): RunningJob {
  const broken = new Promise<never>((_, reject) => {
    worker.onerror = (event) => reject(new Error(event.message || "the work stopped"));
  });
  // Who has no work running need not hear of it.
  broken.catch(() => {});
  return { jobs: wrap<Jobs>(worker), result: (work) => Promise.race([work, broken]), stop: () => worker.terminate() };
}

/** Work with a beginning that somebody asks for: how far it is, what went wrong, and how it is stopped. Leaving stops it. */
export function useJob() {
  const [progress, setProgress] = useState<Progress | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const running = useRef<RunningJob | null>(null);
  const stop = useCallback(() => {
    running.current?.stop();
    running.current = null;
    setProgress(null);
    setFailed(null);
  }, []);
  useEffect(() => stop, [stop]);

  /** Starts work in place of what is running; `onDone` is not called once it was stopped. */
  const run = useCallback(
    async <T>(work: (jobs: Remote<Jobs>, onProgress: OnProgress) => Promise<T>, onDone: (result: T) => void) => {
      stop();
      const own = startJob();
      running.current = own;
      setProgress({ done: 0, of: 0 });
      const isCurrent = () => running.current === own;
      try {
        const result = await own.result(
          work(
            own.jobs,
            proxy((done: number, of: number) => isCurrent() && setProgress({ done, of })),
          ),
        );
        if (!isCurrent()) return;
        stop();
        onDone(result);
      } catch (error) {
        if (!isCurrent()) return;
        stop();
        setFailed((error as Error).message);
      }
    },
    [stop],
  );
  return { progress, failed, run, stop };
}
