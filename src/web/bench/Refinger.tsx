import { useEffect, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import type { Passage } from "../../core/passage/schema.ts";
import type { JobAnswer, JobRequest } from "../jobs/protocol.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";

/** Seeks other fingers and places for the whole passage; shows how far it is and can be stopped. */
export function Refinger({ passage, onFound }: { passage: Passage; onFound(bars: Passage["bars"]): void }) {
  const dispatch = useDispatch<Dispatch>();
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  const worker = useRef<Worker | null>(null);

  const stop = () => {
    worker.current?.terminate();
    worker.current = null;
    setProgress(null);
  };
  // What is found for an older version would undo what was written meanwhile.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new passage ends the search
  useEffect(() => stop, [passage]);

  const start = () => {
    const made = new Worker(new URL("../jobs/worker.ts", import.meta.url), { type: "module" });
    worker.current = made;
    setProgress({ done: 0, of: 0 });
    const end = (says: string) => {
      stop();
      dispatch(notify({ says }));
    };
    made.onerror = (event) => end(`Re-fingering failed: ${event.message}`);
    made.onmessage = ({ data }: MessageEvent<JobAnswer>) => {
      if (data.kind === "progress") setProgress({ done: data.done, of: data.of });
      else if (data.kind === "failed") end(`Re-fingering failed: ${data.says}`);
      else if (data.kind === "refingered") {
        if (data.changes.length === 0) return end("Re-fingered: no other finger or place does better.");
        end(
          `${data.changes.length} change${data.changes.length === 1 ? "" : "s"}: stray rings ${data.before} before, ${data.after} now. Undo takes them back.`,
        );
        onFound(data.bars);
      }
    };
    made.postMessage({ kind: "refinger", passage } satisfies JobRequest);
  };

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
  return (
    <span className="flex items-center gap-2" role="status">
      <progress className="progress w-24" value={progress.of > 0 ? progress.done : undefined} max={Math.max(1, progress.of)} aria-label="Re-fingering" />
      <button type="button" className="btn btn-sm" onClick={stop}>
        Stop
      </button>
    </span>
  );
}
