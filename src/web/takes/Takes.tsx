import { FolderOpen, Play, Square } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import { Link, useParams } from "react-router";
import type { Passage } from "../../core/passage/schema.ts";
import { asText } from "../../core/passage/text.ts";
import type { Mistakes } from "../../core/perform/mistakes.ts";
import { type KeptTake, MOST_TAKES, type PracticeSession } from "../../core/practice/record.ts";
import { againstOf } from "../../core/practice/takes.ts";
import type { Said } from "../../core/take/said.ts";
import type { JudgedTake, Samples } from "../jobs/jobs.ts";
import { useJob } from "../jobs/use-job.ts";
import { soundWords } from "../listen/sound-words.ts";
import { useListen } from "../listen/use-listen.ts";
import { Running } from "../parts/Running.tsx";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { useLog } from "../parts/use-log.ts";
import { troubleOf, useTakesQuery } from "../store/api.ts";
import { movedTo } from "../store/edit-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { AROUND_MS } from "./around.ts";
import { dayOf, EarlierTakes } from "./EarlierTakes.tsx";
import { Figures } from "./Figures.tsx";
import { KeepSound } from "./KeepSound.tsx";
import { openSound } from "./open-sound.ts";
import { Recorder } from "./Recorder.tsx";
import { TakeChart } from "./TakeChart.tsx";
import { usePlayer } from "./use-player.ts";

/** A take of the passage as it was then. Its sound is here as long as this visit lasts; the figures of what somebody played go into the log. */
interface Take {
  name: string;
  of: Passage;
  sound: Samples;
  judged: JudgedTake;
  /** What the stand-in played is nobody's practice: the log knows nothing of it. */
  isOwn: boolean;
}

const PLAYED = {
  mistakes: { says: "with two mistakes", mistakes: { stray: 1, silent: 1 } },
  clean: { says: "without a mistake", mistakes: {} },
  uneven: { says: "unevenly, one stroke late", mistakes: { late: 1, jitter: 12 } },
  hands: { says: "with contacts late, light and left out", mistakes: { overlap: 1, light: 1, open: 1 } },
  short: { says: "with a note cut short and a chuck off its beat", mistakes: { hole: 1, chuck: 1 } },
  ups: { says: "with up-strokes late and soft", mistakes: { upMs: 15, upDb: 6 } },
  slow: { says: "slowing down", mistakes: { drift: -5 } },
  room: { says: "in a room, with noise and two mistakes", mistakes: { stray: 1, silent: 1, noise: 40, room: 0.3, jitter: 8 } },
} as const satisfies Record<string, { says: string; mistakes: Partial<Mistakes> }>;
type Played = keyof typeof PLAYED;
const PLAYED_OPTIONS: readonly { value: Played; says: string }[] = (Object.keys(PLAYED) as Played[]).map((value) => ({ value, says: PLAYED[value].says }));

/** What the hands really did: a recording is opened, or the stand-in plays, and what was otherwise than planned is said. */
export function Takes({ passage }: { passage: Passage }) {
  const [{ takes, chosen }, setTakes] = useState<{ takes: readonly Take[]; chosen: number }>({ takes: [], chosen: 0 });
  const [played, setPlayed] = useState<Played>("mistakes");
  const [doing, setDoing] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const { progress, failed, run, stop } = useJob();
  const { id: passageId = "" } = useParams();
  const { data: earlier = NO_TAKES, error: noEarlier } = useTakesQuery(passageId, { skip: passageId === "", refetchOnMountOrArgChange: true });
  const [isRoom, keep] = useTakeLog(passageId, passage.title);
  const add = (
    name: string,
    from: "microphone" | "file" | "stand-in",
    open: (jobs: Parameters<Parameters<typeof run>[0]>[0], tell: Parameters<Parameters<typeof run>[0]>[1]) => Promise<Samples>,
  ) => {
    setDoing(name);
    const about = { id: crypto.randomUUID(), at: new Date().toISOString(), file: from === "file" ? asText(name.slice(0, 255)) : null };
    void run<Take>(
      async (jobs, tell) => {
        const sound = await open(jobs, tell);
        return { name, of: passage, sound, judged: (await jobs.take(sound, passage, about, tell)) as JudgedTake, isOwn: from !== "stand-in" };
      },
      (take) => {
        setTakes((known) => ({ takes: [...known.takes, take], chosen: known.takes.length }));
        if (take.isOwn && take.judged.judged) keep(take.judged.judged.kept);
      },
    );
  };
  const isEmpty = passage.bars.every(({ strokes }) => strokes.length === 0);
  const take = takes[chosen];
  const here = new Set(takes.map(({ judged }) => judged.judged?.kept.id));
  return (
    <div className="mx-auto h-full max-w-6xl overflow-auto p-4 sm:p-6">
      <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-3">
        <Recorder passage={passage} disabled={isEmpty} onTake={(sound) => add("your take", "microphone", async () => sound)} />
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-3">
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
            if (opened) add(opened.name, "file", (jobs) => openSound(opened, jobs));
          }}
        />
        <span className="flex flex-wrap items-center gap-2">
          <button
            type="button"
            className="btn"
            disabled={isEmpty}
            onClick={() =>
              add(`stand-in ${PLAYED[played].says}`, "stand-in", (jobs, tell) => jobs.perform(passage, PLAYED[played].mistakes, takes.length + 1, tell))
            }
          >
            <Play size={18} aria-hidden /> Let the stand-in play
          </button>
          <Select<Played> className="select w-auto" label="How the stand-in plays" value={played} options={PLAYED_OPTIONS} onChoose={(way) => setPlayed(way)} />
        </span>
        {progress && <Running progress={progress} says={`Listening to ${doing}`} onStop={stop} />}
      </div>
      <p className="quiet mt-2">
        Play it once, or over and over without a stop; clean sound, one instrument alone, close to it. What is found goes into the log; the recording is
        forgotten unless you keep it, and never leaves this machine.
      </p>
      {!isRoom && <p role="alert">This browser has no room left: the figures of this take would be lost with the page.</p>}
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
      {take && (
        <TakeView
          key={chosen}
          take={take}
          before={chosen > 0 ? (takes[chosen - 1]!.judged.judged?.kept ?? null) : take.isOwn ? (earlier.find(({ id }) => !here.has(id)) ?? null) : null}
          number={chosen + 1}
          isOld={take.of !== passage}
        />
      )}
      {noEarlier && <Trouble {...troubleOf(noEarlier)} />}
      <EarlierTakes passage={passage} takes={earlier.filter(({ id }) => !here.has(id))} />
    </div>
  );
}

const NO_TAKES: readonly KeptTake[] = [];

/** Brings takes into the log, those of one visit as one session; says false where this browser has no room for it. */
function useTakeLog(passage: string, title: string): [isRoom: boolean, keep: (take: KeptTake) => void] {
  const log = useLog();
  const session = useRef<PracticeSession | null>(null);
  const [isRoom, setRoom] = useState(true);
  return [
    isRoom,
    (take) => {
      const { at } = take;
      const nothing = { minutes: 0, note: "", drills: [], tries: [], discomforts: [] };
      if (session.current?.takes.length === MOST_TAKES) session.current = null;
      session.current ??= { id: crypto.randomUUID(), passage, figure: null, title, startedAt: at, endedAt: at, ...nothing, takes: [] };
      session.current = { ...session.current, endedAt: new Date().toISOString(), takes: [...session.current.takes, take] };
      setRoom(log(session.current));
    },
  ];
}

function TakeView({
  take: { name, sound, judged: taken, isOwn },
  before,
  number,
  isOld,
}: {
  take: Take;
  before: KeptTake | null;
  number: number;
  isOld: boolean;
}) {
  const { id = "" } = useParams();
  const player = usePlayer();
  const listen = useListen(taken.of, 1);
  const [at, setAt] = useState<number | null>(null);
  const { result, says, judged } = taken;
  const against = useMemo(() => (before && judged ? againstOf(before, judged.kept) : null), [before, judged]);
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
        {isOwn && judged && <KeepSound id={judged.kept.id} sound={sound} />}
      </div>
      {isOld && <p className="mb-2">The passage was changed since: this is against what was written then.</p>}
      {against && (
        <p className="mb-3" data-testid="against">
          Against {number > 1 ? `take ${number - 1}` : `the take of ${dayOf(before!)}`}:{" "}
          {against.gone.length === 0 ? "nothing is gone" : `${against.gone.length} of its mistakes gone`},{" "}
          {against.come.length === 0 ? "none new" : `${against.come.length} new`}.
        </p>
      )}
      {result.kind === "judged" && judged && (
        <>
          <TakeChart
            passage={taken.of}
            times={taken.times}
            result={result}
            says={`${says} ${judged.said.wrong.map(({ place, says: what }) => `${place}: ${what}`).join(" ")}`}
            chosen={at}
          />
          <ol className="mt-4 divide-y divide-base-300" aria-label="What was otherwise than planned">
            {judged.said.wrong.map((one) => (
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
          <More title="What the plan itself lets ring" said={judged.said.planned} />
          <More title="What cannot be told" said={judged.said.untold} />
          <Figures result={result} said={[...judged.said.wrong, ...judged.said.planned]} />
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
