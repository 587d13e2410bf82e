import { useCallback, useEffect, useRef, useState } from "react";
import type { JobAnswer, JobRequest } from "../jobs/protocol.ts";

type Exported = Extract<JobAnswer, { kind: "exported" }>;

export type Exporting =
  | { kind: "idle" }
  | { kind: "writing"; done: number; of: number }
  | { kind: "done"; name: string; remarks: Exported["remarks"]; files: number }
  | { kind: "failed"; says: string };

/** Writes passages as files in a worker and hands them to the browser; can be stopped. */
export function useExport() {
  const [state, setState] = useState<Exporting>({ kind: "idle" });
  const worker = useRef<Worker | null>(null);
  const stop = useCallback(() => {
    worker.current?.terminate();
    worker.current = null;
    setState({ kind: "idle" });
  }, []);
  useEffect(() => () => worker.current?.terminate(), []);

  const start = (request: Omit<Extract<JobRequest, { kind: "export" }>, "kind">) => {
    stop();
    const made = new Worker(new URL("../jobs/worker.ts", import.meta.url), { type: "module" });
    worker.current = made;
    setState({ kind: "writing", done: 0, of: request.ids.length });
    made.onmessage = ({ data }: MessageEvent<JobAnswer>) => {
      if (data.kind === "progress") setState({ kind: "writing", done: data.done, of: data.of });
      else if (data.kind === "failed") setState({ kind: "failed", says: data.says });
      else if (data.kind === "exported") {
        handOver(data);
        setState({ kind: "done", name: data.name, remarks: data.remarks, files: request.ids.length });
      }
    };
    made.onerror = (event) => setState({ kind: "failed", says: event.message || "the writing stopped" });
    made.postMessage({ kind: "export", ...request } satisfies JobRequest);
  };
  return { state, start, stop };
}

function handOver({ file, name }: Exported): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  // The browser has taken the file by then; the address is of no more use.
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
