import { useEffect, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { LoudnessOverTime } from "../jobs/jobs.ts";
import { startJob } from "../jobs/use-job.ts";

/** How loud every string is over a passage, worked out in a worker; null until it is known. */
export function useLoudness(passage: Passage): { loudness: LoudnessOverTime | null; failed: string | null } {
  const [state, setState] = useState<{ loudness: LoudnessOverTime | null; failed: string | null }>({ loudness: null, failed: null });
  useEffect(() => {
    const job = startJob();
    job.result(job.jobs.loudness(passage)).then(
      (loudness) => setState({ loudness, failed: null }),
      (error: Error) => setState({ loudness: null, failed: error.message }),
    );
    return job.stop;
  }, [passage]);
  return state;
}
