import { useState } from "react";
import type { WriteFileOptions } from "../../core/formats/files.ts";
import type { Extension } from "../../core/formats/written.ts";
import type { ExportedFile } from "../jobs/jobs.ts";
import { type Progress, useJob } from "../jobs/use-job.ts";
import { download } from "../parts/download.ts";

export type Exporting =
  | { kind: "idle" }
  | ({ kind: "writing" } & Progress)
  | { kind: "done"; name: string; remarks: ExportedFile["remarks"]; files: number }
  | { kind: "failed"; says: string };

/** Writes passages as files in a worker and hands them to the browser; can be stopped. */
export function useExport() {
  const { progress, failed, run, stop: stopJob } = useJob();
  const [done, setDone] = useState<Extract<Exporting, { kind: "done" }> | null>(null);
  const start = ({ ids, extension, ...options }: { ids: readonly string[]; extension: Extension } & WriteFileOptions) => {
    setDone(null);
    return run(
      (jobs, onProgress) => jobs.exportFiles(ids, extension, options, onProgress),
      ({ file, name, remarks }) => {
        download(file, name);
        setDone({ kind: "done", name, remarks, files: ids.length });
      },
    );
  };
  const stop = () => {
    setDone(null);
    stopJob();
  };
  const state: Exporting = progress ? { kind: "writing", ...progress } : failed ? { kind: "failed", says: failed } : (done ?? { kind: "idle" });
  return { state, start, stop };
}
