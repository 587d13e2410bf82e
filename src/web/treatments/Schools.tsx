import { useState } from "react";
import { useDispatch } from "react-redux";
import type { Passage, Player } from "../../core/passage/schema.ts";
import type { SchoolFigures, SchoolQuestion } from "../../core/propose/schools.ts";
import { useJob } from "../jobs/use-job.ts";
import { Running } from "../parts/Running.tsx";
import { edit } from "../store/editing.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";

const WORDS: readonly { key: keyof SchoolFigures; one: string; many: string }[] = [
  { key: "strays", one: "stray ring", many: "stray rings" },
  { key: "rushed", one: "move without time", many: "moves without time" },
  { key: "gestures", one: "change a bar", many: "changes a bar" },
  { key: "palmLifts", one: "palm lift a bar", many: "palm lifts a bar" },
];

/** The figures in which the answers to a question differ. */
function figureWords(figures: SchoolFigures, tried: readonly { figures: SchoolFigures }[]): string {
  if (figures.issues > 0) return "cannot be played so";
  return WORDS.filter(({ key }) => tried.some((other) => other.figures[key] !== figures[key]))
    .map(({ key, one, many }) => `${figures[key]} ${figures[key] === 1 ? one : many}`)
    .join(", ");
}

/** Every way to play a passage, tried at a press: which suits it, and why. */
export function Schools({ passage, onCompare }: { passage: Passage; onCompare(player: Player): void }) {
  const dispatch = useDispatch<Dispatch>();
  const { progress, failed, run, stop } = useJob();
  const [found, setFound] = useState<{ of: Passage; questions: readonly SchoolQuestion[] } | null>(null);
  const take = (key: string, value: string, says: string) => {
    dispatch(edit({ kind: "set-head", head: { player: { ...passage.player, [key]: value } as Player } }));
    dispatch(notify({ says: `This passage is played so now: ${says}. Undo takes it back.` }));
  };
  // Of another version nothing is known.
  const questions = found?.of === passage ? found.questions : null;
  const deciding = questions?.filter(({ suits }) => suits !== null) ?? [];
  const same = questions?.filter(({ suits }) => suits === null) ?? [];
  return (
    <section aria-label="Ways of playing" className="mt-6 max-w-4xl">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-xl font-bold">Which ways of playing suit it?</h2>
        {progress ? (
          <Running progress={progress} says="Trying ways of playing" onStop={stop} />
        ) : (
          <button
            type="button"
            className="btn btn-sm"
            onClick={() =>
              run<SchoolQuestion[]>(
                (jobs, onProgress) => jobs.schools(passage, onProgress) as Promise<SchoolQuestion[]>,
                (result) => setFound({ of: passage, questions: result }),
              )
            }
          >
            Try them all
          </button>
        )}
      </div>
      {failed && <p role="alert">The search failed: {failed}</p>}
      {!questions && !progress && <p className="quiet">Every answer to every question of the Setup, planned for this passage.</p>}
      {questions && deciding.length === 0 && <p role="status">It makes no difference here: all come to the same.</p>}
      {deciding.map(({ key, asks, tried, suits, why }) => (
        <div key={key} className="mt-4">
          <h3>
            <b>{asks}</b> <span className="quiet">{why}</span>
          </h3>
          <ul className="mt-1 divide-y divide-base-300 rounded-lg border border-base-300">
            {tried.map(({ value, says, isChosen, figures }) => (
              <li key={value} className="flex flex-wrap items-center gap-x-4 gap-y-1 px-3 py-1.5 sm:flex-nowrap">
                <span className="min-w-0 flex-1 basis-56">
                  <span className={value === suits ? "font-bold" : ""}>{says}</span>
                  {value === suits && " · suits it"}
                  {isChosen && <span className="quiet"> · as now</span>}
                </span>
                <span className="quiet tabular-nums">{figureWords(figures, tried)}</span>
                {isChosen ? null : (
                  <button
                    type="button"
                    className="btn btn-ghost btn-sm whitespace-nowrap"
                    onClick={() => onCompare({ ...passage.player, [key]: value } as Player)}
                    aria-label={`Compare: ${says}`}
                  >
                    Compare
                  </button>
                )}
                {isChosen ? null : (
                  <button type="button" className="btn btn-sm whitespace-nowrap" onClick={() => take(key, value, says)} aria-label={`Play it so: ${says}`}>
                    Play it so
                  </button>
                )}
              </li>
            ))}
          </ul>
        </div>
      ))}
      {same.length > 0 && <p className="quiet mt-3">No difference here: {same.map(({ asks }) => asks.replace(/[?:]$/, "")).join("; ")}.</p>}
    </section>
  );
}
