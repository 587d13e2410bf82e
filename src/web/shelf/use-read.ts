import { useEffect, useState } from "react";
import type { FileOptions, FileRead } from "../../core/formats/files.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import type { JobAnswer, JobRequest } from "../jobs/protocol.ts";

export interface Reading {
  read: Parsed<FileRead> | null;
  isReading: boolean;
  /** How far it is, once that can be told. */
  progress: { done: number; of: number } | null;
}

const NOTHING: Reading = { read: null, isReading: false, progress: null };

/** A file read in a worker. Another file, or leaving, stops the reading. */
export function useRead(bytes: Uint8Array | null, { part, grid }: FileOptions): Reading {
  const [state, setState] = useState<Reading>(NOTHING);
  useEffect(() => {
    if (!bytes || bytes.length === 0) {
      setState(NOTHING);
      return;
    }
    setState((before) => ({ ...before, isReading: true, progress: null }));
    const worker = new Worker(new URL("../jobs/worker.ts", import.meta.url), { type: "module" });
    const fail = (says: string) => setState({ ...NOTHING, read: { ok: false, faults: [{ place: "file", says }] } });
    worker.onmessage = ({ data }: MessageEvent<JobAnswer>) => {
      if (data.kind === "read") setState({ ...NOTHING, read: data.read });
      else if (data.kind === "progress") setState((before) => ({ ...before, progress: { done: data.done, of: data.of } }));
      else if (data.kind === "failed") fail(data.says);
    };
    worker.onerror = (event) => fail(event.message || "the reading stopped");
    worker.postMessage({ kind: "read", bytes, part, grid } satisfies JobRequest);
    return () => worker.terminate();
  }, [bytes, part, grid]);
  return state;
}
