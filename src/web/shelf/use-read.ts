import { useEffect, useState } from "react";
import type { FileRead } from "../../core/formats/files.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import type { JobAnswer, JobRequest } from "../jobs/protocol.ts";

/** A file read in a worker: null while there is none or it is being read. Another file, or leaving, stops the reading. */
export function useRead(bytes: Uint8Array | null, part: number | null): { read: Parsed<FileRead> | null; isReading: boolean } {
  const [state, setState] = useState<{ read: Parsed<FileRead> | null; isReading: boolean }>({ read: null, isReading: false });
  useEffect(() => {
    if (!bytes || bytes.length === 0) {
      setState({ read: null, isReading: false });
      return;
    }
    setState((before) => ({ ...before, isReading: true }));
    const worker = new Worker(new URL("../jobs/worker.ts", import.meta.url), { type: "module" });
    const fail = (says: string) => setState({ read: { ok: false, faults: [{ place: "file", says }] }, isReading: false });
    worker.onmessage = ({ data }: MessageEvent<JobAnswer>) => {
      if (data.kind === "read") setState({ read: data.read, isReading: false });
      else if (data.kind === "failed") fail(data.says);
    };
    worker.onerror = (event) => fail(event.message || "the reading stopped");
    worker.postMessage({ kind: "read", bytes, part } satisfies JobRequest);
    return () => worker.terminate();
  }, [bytes, part]);
  return state;
}
