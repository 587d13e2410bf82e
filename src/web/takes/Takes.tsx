import { FolderOpen, Play, Square } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import { Link, useParams } from "react-router";
import type { Passage } from "../../core/passage/schema.ts";
import type { Mistakes } from "../../core/perform/mistakes.ts";
import { againstOf } from "../../core/take/against.ts";
import type { Said } from "../../core/take/said.ts";
import type { JudgedTake, Samples } from "../jobs/jobs.ts";
import { useJob } from "../jobs/use-job.ts";
import { soundWords } from "../listen/sound-words.ts";
import { useListen } from "../listen/use-listen.ts";
import { Running } from "../parts/Running.tsx";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { movedTo } from "../store/edit-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { openSound } from "./open-sound.ts";
import { Recorder } from "./Recorder.tsx";
import { TakeChart } from "./TakeChart.tsx";
import { usePlayer } from "./use-player.ts";

/** A take of the passage as it was then; takes of this visit are kept as long as it lasts. */
interface Take {
  name: string;
  of: Passage;
  sound: Samples;
  judged: JudgedTake;
}

const PLAYED = {
  mistakes: { says: "with two mistakes", mistakes: { stray: 1, silent: 1 } },
  clean: { says: "without a mistake", mistakes: {} },
  uneven: { says: "unevenly, one stroke late", mistakes: { late: 1, jitter: 12 } },
  room: { says: "in a room, with noise and two mistakes", mistakes: { stray: 1, silent: 1, noise: 40, room: 0.3, jitter: 8 } },
} as const satisfies Record<string, { says: string; mistakes: Partial<Mistakes> }>;
type Played = keyof typeof PLAYED;
const PLAYED_OPTIONS: readonly { value: Played; says: string }[] = (Object.keys(PLAYED) as Played[]).map((value) => ({ value, says: PLAYED[value].says }));

/** A finding is heard from a little before it to a little after it, in ms. */
const AROUND_MS = [350, 600] as const;

/** What the hands really did: a recording is opened, or the stand-in plays, and what was otherwise than planned is said. */
export function Takes({ passage }: { passage: Passage }) {
  const [{ takes, chosen }, setTakes] = useState<{ takes: readonly Take[]; chosen: number }>({ takes: [], chosen: 0 });
  const [played, setPlayed] = useState<Played>("mistakes");
  const [doing, setDoing] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const { progress, failed, run, stop } = useJob();
  const add = (name: string, open: (jobs: Parameters<Parameters<typeof run>[0]>[0], tell: Parameters<Parameters<typeof run>[0]>[1]) => Promise<Samples>) => {
    setDoing(name);
    void run<Take>(
      async (jobs, tell) => {
        const sound = await open(jobs, tell);
        return { name, of: passage, sound, judged: (await jobs.take(sound, passage, tell)) as JudgedTake };
      },
      (take) => setTakes((known) => ({ takes: [...known.takes, take], chosen: known.takes.length })),
    );
  };
  const isEmpty = passage.bars.every(({ strokes }) => strokes.length === 0);
  const take = takes[chosen];
  return (
    <div className="mx-auto h-full max-w-6xl overflow-auto p-4 sm:p-6">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-3">
        <Recorder disabled={isEmpty} onTake={(sound) => add("your take", async () => sound)} />
        <button type="button" className="btn" disabled={isEmpty} onClick={() => file.current?.click()}>
          <FolderOpen size={18} aria-hidden /> Open a recording
        </button>
        <input
          ref={file}
          type="file"
          accept="audio/*,.wav"
          className="sr-only"
          tabIndex={-1}
          aria-label="A recording of this passage"
          onChange={(event) => {
            const opened = event.target.files?.[0];
            event.target.value = "";
            if (opened) add(opened.name, (jobs) => openSound(opened, jobs));
          }}
        />
        <span className="flex flex-wrap items-center gap-2">
          <button
            type="button"
            className="btn"
            disabled={isEmpty}
            onClick={() => add(`stand-in ${PLAYED[played].says}`, (jobs, tell) => jobs.perform(passage, PLAYED[played].mistakes, takes.length + 1, tell))}
          >
            <Play size={18} aria-hidden /> Let the stand-in play
          </button>
          <Select<Played> className="select w-auto" label="How the stand-in plays" value={played} options={PLAYED_OPTIONS} onChoose={(way) => setPlayed(way)} />
        </span>
        {progress && <Running progress={progress} says={`Listening to ${doing}`} onStop={stop} />}
      </div>
      <p className="quiet mt-2">
        Play it once, clean sound, one instrument alone, close to it. The recording stays on this machine and is forgotten when you leave this page.
      </p>
      {failed && <Trouble title={`${doing} could not be listened to`} says={`${failed}.`} />}
      {isEmpty && <p className="mt-8 text-lg">Nothing is written yet: there is nothing to compare a recording with.</p>}
      {!isEmpty && !take && !progress && (
        <div className="mt-10 max-w-2xl text-lg">
          <p className="mb-2 text-xl font-bold">What did your hands really do?</p>
          <p>
            Record this passage, or open a recording of it, and see which strings rang that should be still, which notes did not speak and which strokes came
            off their beat: each with the contact that was to prevent it. To see how that looks, let the stand-in play.
          </p>
        </div>
      )}
      {takes.length > 1 && (
        <fieldset className="mt-5 flex flex-wrap gap-2">
          <legend className="sr-only">Takes</legend>
          {takes.map(({ name }, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: takes are only added
            <label key={i} className={`btn btn-sm ${i === chosen ? "btn-active" : ""}`}>
              <input type="radio" className="sr-only" name="take" checked={i === chosen} onChange={() => setTakes({ takes, chosen: i })} />
              {i + 1}: {name}
            </label>
          ))}
        </fieldset>
      )}
      {take && <TakeView key={chosen} take={take} before={takes[chosen - 1] ?? null} number={chosen + 1} isOld={take.of !== passage} />}
    </div>
  );
}

function TakeView({ take: { of, name, sound, judged }, before, number, isOld }: { take: Take; before: Take | null; number: number; isOld: boolean }) {
  const { id = "" } = useParams();
  const player = usePlayer();
  const listen = useListen(of, 1);
  const [at, setAt] = useState<number | null>(null);
  const { result, says, said } = judged;
  const against = useMemo(() => (before && result.kind === "judged" ? againstOf(before.judged.result, result) : null), [before, result]);
  const lengthMs = (sound.samples.length / sound.sampleRate) * 1000;
  const button = (key: string, words: string, label: string, from: number, to: number, place: number | null = null) => (
    <button
      type="button"
      className={`btn btn-sm ${player.heard === key ? "btn-primary" : ""}`}
      aria-label={`${player.heard === key ? "Stop" : "Hear"} ${label}`}
      onClick={() => {
        listen.stop();
        setAt(place);
        if (player.heard === key) player.stop();
        else player.play(key, sound, from, to);
      }}
    >
      {player.heard === key ? <Square size={14} aria-hidden /> : <Play size={14} aria-hidden />} {words}
    </button>
  );
  return (
    <section className="mt-5" aria-label={`Take ${number}: ${name}`}>
      <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <p className="min-w-72 flex-1 text-xl" role="status" data-testid="take-says">
          {says}
        </p>
        {button("whole", "the whole take", "the whole take", 0, lengthMs)}
      </div>
      {isOld && <p className="mb-2">The passage was changed since: this is against what was written then.</p>}
      {against && (
        <p className="mb-3" data-testid="against">
          Against take {number - 1}: {against.gone.length === 0 ? "nothing is gone" : `${against.gone.length} of its mistakes gone`},{" "}
          {against.come.length === 0 ? "none new" : `${against.come.length} new`}.
        </p>
      )}
      {result.kind === "judged" && said && (
        <>
          <TakeChart passage={of} result={result} says={`${says} ${said.wrong.map(({ place, says: what }) => `${place}: ${what}`).join(" ")}`} chosen={at} />
          <ol className="mt-4 divide-y divide-base-300" aria-label="What was otherwise than planned">
            {said.wrong.map((one) => (
              <li key={`${one.place} ${one.says}`} className="flex flex-wrap items-center gap-x-4 gap-y-2 py-3">
                <p className="min-w-60 flex-1 text-lg">
                  <b>{one.place}</b> {one.says}
                </p>
                <span className="flex flex-wrap gap-2">
                  {button(`${one.place} ${one.says}`, "this place", `${one.place} of the take`, one.fromMs - AROUND_MS[0], one.toMs + AROUND_MS[1], one.fromMs)}
                  <button
                    type="button"
                    className="btn btn-sm"
                    aria-label={`Hear ${one.place} as planned`}
                    onClick={() => {
                      player.stop();
                      listen.play(one.finding!.step, true);
                    }}
                  >
                    <Play size={14} aria-hidden /> as planned
                  </button>
                  <OnBench id={id} one={one} />
                  <Link className="btn btn-ghost btn-sm" to={`/drills/${id}?bar=${one.bar}${one.finding?.string ? `&string=${one.finding.string}` : ""}`}>
                    Its drill
                  </Link>
                </span>
              </li>
            ))}
          </ol>
          {soundWords(listen.state, "again") && <p role="status">{soundWords(listen.state, "again")}</p>}
          <More title="What the plan itself lets ring" said={said.planned} />
          <More title="What cannot be told" said={said.untold} />
        </>
      )}
    </section>
  );
}

/** Goes to where a finding begins. */
function OnBench({ id, one: { place, bar, tick, finding } }: { id: string; one: Said }) {
  const dispatch = useDispatch<Dispatch>();
  return (
    <Link
      className="btn btn-ghost btn-sm"
      to={`/bench/${id}`}
      aria-label={`${place} on the Bench`}
      onClick={() => dispatch(movedTo({ bar: bar - 1, tick, string: finding?.string ?? 1 }))}
    >
      On the Bench
    </Link>
  );
}

function More({ title, said }: { title: string; said: readonly Said[] }) {
  if (said.length === 0) return null;
  return (
    <details className="mt-3">
      <summary className="cursor-pointer font-bold">
        {title}: {said.length}
      </summary>
      <ul className="mt-1">
        {said.map(({ place, says, fromMs }) => (
          <li key={`${place} ${says} ${fromMs}`}>
            <b>{place}</b> {says}
          </li>
        ))}
      </ul>
    </details>
  );
}
