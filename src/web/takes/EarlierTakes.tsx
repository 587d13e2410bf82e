import { format } from "date-fns";
import { Play, Square, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { KeptTake } from "../../core/practice/record.ts";
import { wrongIn } from "../../core/practice/takes.ts";
import { countOf } from "../../core/timeline/counts.ts";
import type { Samples } from "../jobs/jobs.ts";
import { startJob } from "../jobs/use-job.ts";
import { megabytes } from "../parts/megabytes.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useRecordingsQuery, useRemoveRecordingMutation } from "../store/api.ts";
import { AROUND_MS } from "./around.ts";
import { openSound } from "./open-sound.ts";
import { usePlayer } from "./use-player.ts";

/** Takes of other days, as the log has them; those whose recording is kept can be heard. */
export function EarlierTakes({ passage, takes }: { passage: Passage; takes: readonly KeptTake[] }) {
  const { data: recordings } = useRecordingsQuery();
  const [remove, removing] = useRemoveRecordingMutation();
  const player = usePlayer();
  const sounds = useRef(new Map<string, Samples>());
  const [failed, setFailed] = useState<string | null>(null);
  if (takes.length === 0) return null;
  const hear = async (id: string, key: string, fromMs: number, toMs: number) => {
    if (player.heard === key) return player.stop();
    setFailed(null);
    try {
      const sound = sounds.current.get(id) ?? (await fetched(id));
      sounds.current.set(id, sound);
      player.play(key, sound, fromMs, toMs);
    } catch (error) {
      setFailed((error as Error).message);
    }
  };
  const button = (id: string, key: string, words: string, label: string, fromMs: number, toMs: number) => (
    <button
      type="button"
      className={`btn btn-sm ${player.heard === key ? "btn-primary" : ""}`}
      aria-label={`${player.heard === key ? "Stop" : "Hear"} ${label}`}
      onClick={() => void hear(id, key, fromMs, toMs)}
    >
      {player.heard === key ? <Square size={14} aria-hidden /> : <Play size={14} aria-hidden />} {words}
    </button>
  );
  return (
    <section className="mt-10" aria-label="Earlier takes">
      <h2 className="mb-1 text-xl font-bold">Earlier takes</h2>
      {removing.error && <Trouble {...troubleOf(removing.error)} />}
      {failed && <Trouble title="The recording cannot be heard" says={failed} />}
      <ul className="divide-y divide-base-300">
        {takes.map((take) => {
          const { id, file, says, findings, seconds } = take;
          const own = recordings?.find((one) => one.id === id);
          const wrong = wrongIn(take).length;
          return (
            <li key={id} className="py-2">
              <details>
                <summary className="cursor-pointer">
                  <b>{dayOf(take)}</b>
                  {file && <span className="quiet"> · {file}</span>} <span className="quiet">· {wrongWords(wrong)}</span>
                </summary>
                <p className="mt-2 text-lg">{says}</p>
                {own && (
                  <p className="mt-2 flex flex-wrap gap-2">
                    {button(id, id, "the whole take", `the take of ${dayOf(take)}`, 0, 1000 * seconds)}
                    <button type="button" className="btn btn-ghost btn-sm" onClick={() => void remove(id)}>
                      <Trash2 size={14} aria-hidden /> Delete the recording ({megabytes(own.bytes)})
                    </button>
                  </p>
                )}
                <ol className="mt-1 divide-y divide-base-300">
                  {findings
                    .filter(({ planned }) => !planned)
                    .map(({ bar, tick, fromMs, toMs, says: what }, i) => (
                      // biome-ignore lint/suspicious/noArrayIndexKey: what was found stays as it is
                      <li key={i} className="flex flex-wrap items-center gap-x-4 py-1.5">
                        <span className="min-w-60 flex-1">
                          <b>{placeWords(passage, bar, tick)}</b> {what}
                        </span>
                        {own && button(id, `${id} ${i}`, "this place", `bar ${bar} of the take of ${dayOf(take)}`, fromMs - AROUND_MS[0], toMs + AROUND_MS[1])}
                      </li>
                    ))}
                </ol>
              </details>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** Where it was in the passage; a bar that is not there any more has its number alone. */
function placeWords({ bars }: Passage, bar: number, tick: number): string {
  const now = bars[bar - 1];
  return now ? `Bar ${bar}, ${countOf(tick, now)}` : `Bar ${bar}`;
}

/** When a take was. */
export function dayOf({ at }: Pick<KeptTake, "at">): string {
  return format(new Date(at), "d MMMM, HH:mm");
}

function wrongWords(wrong: number): string {
  return wrong === 0 ? "only what was meant" : `${wrong} mistake${wrong === 1 ? "" : "s"}`;
}

/** A kept recording; fails with why it is not to be had. */
async function fetched(id: string): Promise<Samples> {
  const response = await fetch(`/api/recordings/${id}`);
  if (!response.ok) throw new Error(response.status === 404 ? "It is not there any more." : `The server answered ${response.status}.`);
  const job = startJob();
  try {
    return await job.result(openSound(new File([await response.blob()], `${id}.wav`), job.jobs));
  } finally {
    job.stop();
  }
}
