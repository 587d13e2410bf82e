import { useCallback, useEffect, useRef, useState } from "react";
import type { z } from "zod";
import { JOB_TYPE, jobLine, type Problem } from "../../api/wire.ts";
import type { Progress } from "./use-job.ts";

/** A long job of the server, as it goes. */
export type ServerJob<T> =
  | { state: "idle" }
  | { state: "running"; progress: Progress | null }
  | { state: "done"; result: T }
  /** As an answer of the API that went wrong; without a status where the server was not reached. */
  | { state: "failed"; error: { status: number; data: Problem } | { status: "FETCH_ERROR" } };

/** Sends a job to the server and reads how it goes line by line. Stopping closes the connection, which stops the server. */
export async function readJob<T>(path: string, init: RequestInit, schema: z.ZodType<T>, onProgress: (progress: Progress) => void): Promise<ServerJob<T>> {
  const failed = (data: Problem): ServerJob<T> => ({ state: "failed", error: { status: data.status, data } });
  const response = await fetch(`/api/${path}`, { ...init, headers: { ...init.headers, Accept: JOB_TYPE } });
  if (!response.ok || !response.body) return failed((await response.json()) as Problem);
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    const lines = `${rest}${part.value}`.split("\n");
    rest = lines.pop()!;
    for (const line of lines) {
      const said = jobLine.parse(JSON.parse(line));
      if ("problem" in said) return failed(said.problem);
      if ("result" in said) return { state: "done", result: schema.parse(said.result) };
      onProgress(said);
    }
  }
  // The line broke off before the end of the job.
  return { state: "failed", error: { status: "FETCH_ERROR" } };
}

/** One job of the server at a time; leaving stops it. */
export function useServerJob<T>(schema: z.ZodType<T>) {
  const [job, setJob] = useState<ServerJob<T>>({ state: "idle" });
  const running = useRef<AbortController | null>(null);
  const stop = useCallback(() => {
    running.current?.abort();
    running.current = null;
    setJob({ state: "idle" });
  }, []);
  useEffect(() => () => running.current?.abort(), []);
  const run = useCallback(
    async (path: string, init: RequestInit, onDone: (result: T) => void) => {
      running.current?.abort();
      const own = new AbortController();
      running.current = own;
      setJob({ state: "running", progress: null });
      const ended = await readJob(path, { ...init, signal: own.signal }, schema, (progress) => {
        if (running.current === own) setJob({ state: "running", progress });
      }).catch((): ServerJob<T> => ({ state: "failed", error: { status: "FETCH_ERROR" } }));
      if (running.current !== own) return;
      running.current = null;
      setJob(ended);
      if (ended.state === "done") onDone(ended.result);
    },
    [schema],
  );
  return { job, run, stop };
}
