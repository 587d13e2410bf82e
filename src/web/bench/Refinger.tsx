import { useEffect, useMemo, useState } from "react";
import { useDispatch } from "react-redux";
import type { Passage } from "../../core/passage/schema.ts";
import { barsWords } from "../../core/refinger/refinger.ts";
import type { FoundFingering } from "../jobs/jobs.ts";
import { useJob } from "../jobs/use-job.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { Running } from "../parts/Running.tsx";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { useWeighed } from "./use-weighed.ts";

/** Seeks other fingers and places for the whole passage; shows how far it is and can be stopped. What it finds is taken bar by bar. */
export function Refinger({ passage, onFound }: { passage: Passage; onFound(bars: Passage["bars"]): void }) {
  const dispatch = useDispatch<Dispatch>();
  const { progress, failed, run, stop } = useJob();
  const [found, setFound] = useState<FoundFingering | null>(null);
  // What is found for an older version would undo what was written meanwhile.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new passage ends the search
  useEffect(() => {
    setFound(null);
    return stop;
  }, [passage]);
  useEffect(() => {
    if (failed) dispatch(notify({ says: `Re-fingering failed: ${failed}` }));
  }, [failed, dispatch]);

  const start = () =>
    run(
      (jobs, onProgress) => jobs.refinger(passage, onProgress),
      (result) => {
        if (result.changes.length === 0) dispatch(notify({ says: "Re-fingered: no other finger or place does better." }));
        else setFound(result);
      },
    );

  if (progress !== null) return <Running progress={progress} says="Re-fingering" onStop={stop} />;
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-sm max-sm:hidden"
        onClick={start}
        title="Look for fingers and places that ring less, over the whole passage"
      >
        re-finger all
      </button>
      {found && (
        <Changes
          passage={passage}
          found={found}
          onTake={(bars) => {
            setFound(null);
            onFound(bars);
          }}
          onClose={() => setFound(null)}
        />
      )}
    </>
  );
}

/** What was found, bar by bar, to be taken singly. */
function Changes({ passage, found, onTake, onClose }: { passage: Passage; found: FoundFingering; onTake(bars: Passage["bars"]): void; onClose(): void }) {
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const bars = useMemo(() => {
    const taken = new Set(found.changes.filter((_, i) => !left.has(i)).flatMap((change) => change.bars));
    return passage.bars.map((bar, b) => (taken.has(b + 1) ? found.bars[b]! : bar));
  }, [passage, found, left]);
  const versions = useMemo(() => [passage, { ...passage, bars }], [passage, bars]);
  const {
    figures: [was, is],
    failed,
  } = useWeighed(versions);
  const some = found.changes.length - left.size;
  return (
    <Dialog title="Other fingers and places" onClose={onClose} wide>
      <p role="status">
        {was && is
          ? `Stray rings: ${was.strays} as written, ${is.strays} with what is chosen. Gestures a bar: ${was.gestures} and ${is.gestures}.`
          : failed
            ? `What rings could not be counted: ${failed}`
            : "Counting what rings …"}
      </p>
      <ul className="my-4 divide-y divide-base-300 rounded-lg border border-base-300">
        {found.changes.map(({ bars: numbers, says }, i) => (
          <li key={numbers.join()} className="p-3">
            <label className="flex items-start gap-3">
              <input
                type="checkbox"
                className="checkbox mt-1"
                {...(i === 0 ? { "data-first": true } : {})}
                checked={!left.has(i)}
                onChange={(event) => setLeft(new Set(event.target.checked ? [...left].filter((k) => k !== i) : [...left, i]))}
              />
              <span>
                <b>{barsWords(numbers)}</b>
                {says.map((line) => (
                  <span key={line} className="block">
                    {line}
                  </span>
                ))}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <div className="flex items-center justify-end gap-3">
        <span className="quiet mr-auto">Bars that are the same music change alike. Undo takes it back.</span>
        <button type="button" className="btn btn-primary" disabled={some === 0} onClick={() => onTake(bars)}>
          {some === found.changes.length ? "Take it all" : "Take what is chosen"}
        </button>
      </div>
    </Dialog>
  );
}
