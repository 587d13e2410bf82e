import type { Request, Response } from "express";
import { JOB_TYPE, type JobLine } from "../api/wire.ts";
import { problemOf } from "./problems.ts";
import type { JobOptions } from "./work/pool.ts";

/** A signal that falls when whoever asked has gone before the answer was whole. */
export function signalOf(response: Response): AbortSignal {
  const gone = new AbortController();
  response.on("close", () => {
    if (!response.writableFinished) gone.abort();
  });
  return gone.signal;
}

/**
 * Does a long job for a request. Whoever accepts lines is told how far it is and, at the end, what it came to; everybody else
 * waits for `answer`. It is stopped by closing the connection.
 */
export async function job<T>(request: Request, response: Response, work: (options: JobOptions) => Promise<T>, answer: (result: T) => void): Promise<void> {
  const signal = signalOf(response);
  if (!request.headers.accept?.includes(JOB_TYPE)) return answer(await work({ signal }));
  response.type(JOB_TYPE);
  response.flushHeaders();
  const say = (line: JobLine) => void (signal.aborted || response.write(`${JSON.stringify(line)}\n`));
  try {
    say({ result: await work({ signal, onProgress: (done, of) => say({ done, of }) }) });
  } catch (error) {
    if (!signal.aborted) request.log?.error({ err: error }, "a job failed");
    say({ problem: problemOf(error as Error) });
  }
  response.end();
}
