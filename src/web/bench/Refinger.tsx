import { useEffect } from "react";
import { useDispatch } from "react-redux";
import type { Passage } from "../../core/passage/schema.ts";
import { useJob } from "../jobs/use-job.ts";
import { Running } from "../parts/Running.tsx";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";

/** Seeks other fingers and places for the whole passage; shows how far it is and can be stopped. */
export function Refinger({ passage, onFound }: { passage: Passage; onFound(bars: Passage["bars"]): void }) {
  const dispatch = useDispatch<Dispatch>();
  const { progress, failed, run, stop } = useJob();
  // What is found for an older version would undo what was written meanwhile.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new passage ends the search
  useEffect(() => stop, [passage]);
  useEffect(() => {
    if (failed) dispatch(notify({ says: `Re-fingering failed: ${failed}` }));
  }, [failed, dispatch]);

  const start = () =>
    run(
      (jobs, onProgress) => jobs.refinger(passage, onProgress),
      ({ bars, changes, before, after }) => {
        if (changes.length === 0) return dispatch(notify({ says: "Re-fingered: no other finger or place does better." }));
        const count = `${changes.length} change${changes.length === 1 ? "" : "s"}`;
        dispatch(notify({ says: `${count}: stray rings ${before} before, ${after} now. Undo takes them back.` }));
        onFound(bars);
      },
    );

  if (progress === null)
    return (
      <button
        type="button"
        className="btn btn-ghost btn-sm max-sm:hidden"
        onClick={start}
        title="Look for fingers and places that ring less, over the whole passage"
      >
        re-finger all
      </button>
    );
  return <Running progress={progress} says="Re-fingering" onStop={stop} />;
}
