import { proxy } from "comlink";
import { useEffect, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { Weighed } from "../jobs/jobs.ts";
import { startJob } from "../jobs/use-job.ts";

/** What the hands have to do in several versions of some bars, worked out beside the page; other versions stop the work on these. */
export function useWeighed(passages: readonly (Passage | null)[]): readonly (Weighed | null)[] {
  const [found, setFound] = useState<{ of: readonly (Passage | null)[]; figures: readonly (Weighed | null)[] }>({ of: [], figures: [] });
  useEffect(() => {
    const known = passages.flatMap((passage, i) => (passage ? [{ passage, i }] : []));
    if (known.length === 0) return;
    const job = startJob();
    const onPart = (index: number, figures: Weighed) =>
      setFound((before) => ({
        of: passages,
        figures: passages.map((_, i) => (i === known[index]!.i ? figures : before.of === passages ? (before.figures[i] ?? null) : null)),
      }));
    job
      .result(
        job.jobs.weigh(
          known.map(({ passage }) => passage),
          proxy(onPart),
        ),
      )
      // A shape without its figures can still be taken.
      .catch(() => {});
    return job.stop;
  }, [passages]);
  return found.of === passages ? found.figures : [];
}
