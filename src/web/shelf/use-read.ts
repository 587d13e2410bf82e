import { proxy } from "comlink";
import { useEffect, useState } from "react";
import type { FileOptions, FileRead } from "../../core/formats/files.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import { type Progress, startJob } from "../jobs/use-job.ts";

export interface Reading {
  read: Parsed<FileRead> | null;
  isReading: boolean;
  /** How far it is, once that is known. */
  progress: Progress | null;
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
    const job = startJob();
    const onProgress = (done: number, of: number) => setState((before) => ({ ...before, progress: { done, of } }));
    job.result<Parsed<FileRead>>(job.jobs.read(bytes, { part, grid }, proxy(onProgress)) as Promise<Parsed<FileRead>>).then(
      (read) => setState({ ...NOTHING, read }),
      (error: Error) => setState({ ...NOTHING, read: { ok: false, faults: [{ place: "file", says: error.message }] } }),
    );
    return job.stop;
  }, [bytes, part, grid]);
  return state;
}
