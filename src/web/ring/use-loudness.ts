import { useEffect, useState } from "react";
import type { Loudness } from "../../core/loudness/loudness.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { JobAnswer, JobRequest } from "../jobs/protocol.ts";

export interface LoudnessOverTime {
  /** Per step, per string. */
  steps: readonly (readonly Loudness[])[];
  stepsMs: readonly number[];
  endMs: number;
}

/** How loud every string is over a passage, worked out in a worker; null until it is known. */
export function useLoudness(passage: Passage): { loudness: LoudnessOverTime | null; failed: string | null } {
  const [state, setState] = useState<{ loudness: LoudnessOverTime | null; failed: string | null }>({ loudness: null, failed: null });
  useEffect(() => {
    const worker = new Worker(new URL("../jobs/worker.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data }: MessageEvent<JobAnswer>) => {
      if (data.kind === "loudness") setState({ loudness: data, failed: null });
      else if (data.kind === "failed") setState({ loudness: null, failed: data.says });
    };
    worker.onerror = (event) => setState({ loudness: null, failed: event.message || "the reckoning stopped" });
    worker.postMessage({ kind: "loudness", passage } satisfies JobRequest);
    return () => worker.terminate();
  }, [passage]);
  return state;
}
