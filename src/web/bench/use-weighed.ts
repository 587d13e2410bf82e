import { proxy } from "comlink";
import { useEffect, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { Weighed } from "../jobs/jobs.ts";
import { startJob } from "../jobs/use-job.ts";

export interface Weighing {
  /** Per version; null until it is known, or where there is no version. */
  figures: readonly (Weighed | null)[];
  failed: string | null;
}

/** What the hands have to do in several versions of some bars, worked out beside the page; other versions stop the work on these. */
export function useWeighed(passages: readonly (Passage | null)[]): Weighing {
  const [found, setFound] = useState<Weighing & { of: readonly (Passage | null)[] }>({ of: [], figures: [], failed: null });
  useEffect(() => {
    const known = passages.flatMap((passage, i) => (passage ? [{ passage, i }] : []));
    setFound({ of: passages, figures: passages.map(() => null), failed: null });
    if (known.length === 0) return;
    let isOn = true;
    const job = startJob();
    const onPart = (index: number, figures: Weighed) => setFound((before) => ({ ...before, figures: before.figures.with(known[index]!.i, figures) }));
    job
      .result(
        job.jobs.weigh(
          known.map(({ passage }) => passage),
          proxy((index: number, figures: Weighed) => isOn && onPart(index, figures)),
        ),
      )
      .catch((error: Error) => isOn && setFound((before) => ({ ...before, failed: error.message })));
    return () => {
      isOn = false;
      job.stop();
    };
  }, [passages]);
  return found.of === passages ? found : NOTHING_YET;
}

const NOTHING_YET: Weighing = { figures: [], failed: null };
