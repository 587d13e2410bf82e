import { endOfDay } from "date-fns";
import { Play, Square } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import { useParams, useSearchParams } from "react-router";
import type { Gift } from "../../api/wire.ts";
import type { Drill, DrillPlan, Try } from "../../core/drills/types.ts";
import type { Passage, Pin } from "../../core/passage/schema.ts";
import { useJob } from "../jobs/use-job.ts";
import { ChooseMicrophone } from "../microphone/ChooseMicrophone.tsx";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { useLog } from "../parts/use-log.ts";
import { Waiting } from "../parts/Waiting.tsx";
import { useGiftsQuery, useMeQuery, useStandingsQuery } from "../store/api.ts";
import { edit } from "../store/editing.ts";
import type { Dispatch } from "../store/root.ts";
import { Asked } from "./Asked.tsx";
import { BACKING_WORDS, CLICK_WORDS, keptChoices, type TrainerChoices } from "./choices.ts";
import { type ClickCheck, checkClicks } from "./click-check.ts";
import { keptSession } from "./kept-session.ts";
import { PracticePage } from "./PracticePage.tsx";
import { begun, type Practised, type Session } from "./session.ts";
import { Trainer } from "./Trainer.tsx";
import { useHear } from "./use-hear.ts";

const MINUTES = [5, 10, 20, 40] as const;

/** What to practise of a passage, made from its plan; a session is chosen by its minutes and begun here. */
export function Drills({ passage, figure = null }: { passage: Passage; figure?: string | null }) {
  const [minutes, setMinutes] = useState<number>(20);
  const [plan, setPlan] = useState<{ of: Passage; plan: DrillPlan } | null>(null);
  const [choices, setChoices] = useState<TrainerChoices>(keptChoices);
  const { id = `free-${figure}` } = useParams();
  const dispatch = useDispatch<Dispatch>();
  const log = useLog();
  const [training, setTraining] = useState<Session | null>(null);
  const [kept, setKept] = useState(() => keptSession(id));
  const { progress, failed, run } = useJob();
  const hear = useHear();
  const of: Practised = { passage: figure === null ? id : null, figure, title: passage.title };
  const gift = useGift(of.passage);
  const practised = usePractised(of, gift, training !== null);
  useEffect(() => {
    if (practised)
      void run<DrillPlan>(
        (jobs) => jobs.drills(passage, practised.history, minutes, { resting: practised.resting, asked: practised.asked }) as Promise<DrillPlan>,
        (found) => setPlan({ of: passage, plan: found }),
      );
  }, [passage, minutes, practised, run]);
  const shown = plan?.of === passage && plan.plan.minutes === minutes ? plan.plan : null;
  const wanted = useWanted(shown?.drills ?? []);
  const change = (made: Partial<TrainerChoices>) => {
    const next = { ...choices, ...made };
    setChoices(next);
    localStorage.setItem("rest-hand:trainer", JSON.stringify(next));
  };
  return (
    <div className="mx-auto h-full max-w-5xl overflow-auto p-4 sm:p-6 print:h-auto print:overflow-visible print:p-0">
      <div className="print:hidden">
        <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
          <fieldset className="flex flex-wrap items-center gap-2">
            <legend className="sr-only">Minutes of a session</legend>
            <span className="text-lg font-bold">Practise</span>
            {MINUTES.map((many) => (
              <label key={many} className={`btn btn-sm ${minutes === many ? "btn-primary" : ""}`}>
                <input type="radio" className="sr-only" name="minutes" checked={minutes === many} onChange={() => setMinutes(many)} />
                {many} min
              </label>
            ))}
          </fieldset>
          {kept && (
            <button
              type="button"
              className="btn btn-lg ml-auto max-sm:w-full"
              onClick={() => {
                hear.stop();
                setTraining(kept);
              }}
            >
              Go on: {kept.at + 1} of {kept.drills.length}
            </button>
          )}
          <button
            type="button"
            className={`btn btn-primary btn-lg max-sm:w-full ${kept ? "" : "ml-auto"}`}
            disabled={!shown || shown.drills.length === 0}
            onClick={() => {
              hear.stop();
              if (shown) setTraining(begun(shown, of, crypto.randomUUID(), new Date()));
            }}
          >
            <Play size={20} aria-hidden /> Start
          </button>
        </div>
        <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
          <label className="flex items-center gap-2">
            click
            <Select
              className="select select-sm w-auto"
              label="What is clicked"
              value={choices.click}
              options={CLICK_WORDS}
              onChoose={(click) => change({ click })}
            />
          </label>
          <label className="flex items-center gap-2">
            under it
            <Select
              className="select select-sm w-auto"
              label="What sounds under the click"
              value={choices.backing}
              options={BACKING_WORDS}
              onChoose={(backing) => change({ backing })}
            />
          </label>
          <label className="flex items-center gap-2">
            heard
            <Select
              className="select select-sm w-auto"
              label="Bars that fall silent"
              value={`${choices.heard} ${choices.silent}`}
              options={[
                { value: "1 0", says: "always" },
                { value: "2 2", says: "two bars on, two off" },
                { value: "3 1", says: "three bars on, one off" },
                { value: "1 3", says: "one bar on, three off" },
              ]}
              onChoose={(value) => {
                const [heard, silent] = value.split(" ").map(Number) as [number, number];
                change({ heard, silent });
              }}
            />
          </label>
          <label className="flex items-center gap-2">
            <input type="checkbox" className="checkbox checkbox-sm" checked={choices.listens} onChange={({ target }) => change({ listens: target.checked })} />
            the microphone judges
          </label>
          <label className="flex items-center gap-2">
            loudness of the click
            <input
              type="range"
              className="range range-sm w-32"
              min={0}
              max={1}
              step={0.05}
              value={choices.volume}
              onChange={({ target }) => change({ volume: Number(target.value) })}
            />
          </label>
        </div>
        {choices.listens && (
          <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
            <ChooseMicrophone />
            <p className="quiet w-full">
              Wear headphones: a click that the microphone hears is taken for a stroke. One instrument, clean sound, close to it; nothing is recorded or kept.
              Measure the delay once, so that what you play is held against the click as you hear it.
            </p>
          </div>
        )}
        <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
          <CheckOfClicks />
          <button type="button" className="btn btn-sm ml-auto" disabled={!shown} onClick={() => print()}>
            Print a practice page
          </button>
        </div>
        {gift && <Asked gift={gift} />}
        {failed && (
          <Trouble title="The drills could not be made">
            <p>{failed}</p>
          </Trouble>
        )}
        {!shown && progress && <Waiting says="Making drills out of the plan" />}
        {shown && shown.drills.length === 0 && (
          <p className="mt-8 text-lg">Nothing is played yet: write something on the Bench, and there is something to practise.</p>
        )}
        {shown && shown.drills.length > 0 && (
          <ol className="mt-5 space-y-3" aria-label="Drills of this session">
            {shown.drills.map((drill, i) => (
              <DrillCard
                key={drill.id}
                drill={drill}
                isWanted={drill.id === wanted}
                askedBy={gift?.drills.some(({ id: asked }) => asked === drill.id) ? gift.by : null}
                number={i + 1}
                heard={hear.heard}
                onHear={(which) => hear.hear(drill, which)}
                onStop={hear.stop}
              />
            ))}
          </ol>
        )}
        {hear.says && <p role="status">{hear.says}</p>}
        <p className="quiet mt-6 text-sm">
          Stop before a blister forms. Pain, numbness or tingling: stop, rest, and ask a doctor if it lasts. Bends, barres and the thumb over the edge get a
          third of a session at most.
        </p>
      </div>
      {training && (
        <Trainer
          keptAs={id}
          begin={training}
          choices={choices}
          onKeep={log}
          onBan={figure === null ? (contact) => dispatch(edit({ kind: "ban-contact", contact: contact as Pin["contact"] })) : null}
          onClose={() => {
            setTraining(null);
            setKept(keptSession(id));
          }}
        />
      )}
      {shown && <PracticePage title={passage.title} plan={shown} />}
    </div>
  );
}

/** So long a check is, in seconds: longer than any session. */
const CHECKED_S = 20 * 60;

/** A metronome that listens to this one. */
function CheckOfClicks() {
  const [check, setCheck] = useState<ClickCheck | "running" | "failed" | null>(null);
  const says =
    check === "running"
      ? "Listening to twenty minutes of clicks …"
      : check === "failed"
        ? "This browser cannot render sound to be checked."
        : check && `${check.clicks} clicks: the worst is ${check.worstMs.toFixed(2)} ms off the beat, the last one ${Math.abs(check.driftMs).toFixed(2)} ms.`;
  return (
    <p className="quiet flex flex-wrap items-center gap-x-3 text-sm">
      <button
        type="button"
        className="link"
        disabled={check === "running"}
        onClick={() => {
          setCheck("running");
          checkClicks(CHECKED_S).then(setCheck, () => setCheck("failed"));
        }}
      >
        Check the click
      </button>
      <span role="status">{says}</span>
    </p>
  );
}

/** What a session is made with besides the plan: the last tries, what rests today, and what a teacher asks for. */
interface Before {
  history: Try[];
  resting: string[];
  asked: string[];
}

/** What a teacher gave this passage with; null where none did, undefined until that is known. */
function useGift(passage: string | null): Gift | null | undefined {
  const { data: me } = useMeQuery();
  const { data, isError } = useGiftsQuery(undefined, { skip: !me?.person });
  if (!me?.person || isError) return null;
  return data && (data.find((gift) => gift.passage === passage) ?? null);
}

/** What was practised so far. It stays as it is while somebody is at it; null until it is there. */
function usePractised({ passage, figure }: Practised, gift: Gift | null | undefined, isBusy: boolean): Before | null {
  const { data, isError } = useStandingsQuery();
  const kept = useRef<Before | null>(null);
  const now = useMemo(() => {
    // A server that is away keeps nobody from practising.
    if (gift === undefined) return null;
    const asked = gift?.drills.map(({ id }) => id) ?? [];
    if (!data) return isError ? { history: [], resting: [], asked } : null;
    const own = data.find((one) => one.passage === passage && one.figure === figure)?.drills ?? [];
    const tonight = endOfDay(new Date()).getTime();
    return { history: own.flatMap(({ lately }) => lately), resting: own.filter(({ due }) => due > tonight).map(({ id }) => id), asked };
  }, [data, isError, passage, figure, gift]);
  if (!isBusy || kept.current === null) kept.current = now;
  return kept.current;
}

/** The drill that is for a place, asked for in the address: of its string, if one has it, else of its bar. */
function useWanted(drills: readonly Drill[]): string | null {
  const [asked] = useSearchParams();
  const [bar, string] = [Number(asked.get("bar")), Number(asked.get("string"))];
  if (!bar) return null;
  const there = drills.filter(({ focus }) => focus.fromBar <= bar && bar <= focus.toBar);
  return (there.find(({ focus }) => focus.strings.includes(string)) ?? there[0])?.id ?? null;
}

function DrillCard({
  drill,
  isWanted,
  askedBy,
  number,
  heard,
  onHear,
  onStop,
}: {
  drill: Drill;
  isWanted: boolean;
  /** The teacher who asks for it. */
  askedBy: string | null;
  number: number;
  heard: string | null;
  onHear(which: "right" | "fails"): void;
  onStop(): void;
}) {
  const button = (which: "right" | "fails", says: string) => {
    const isOn = heard === `${drill.id} ${which}`;
    return (
      <button
        type="button"
        className={`btn btn-sm ${isOn ? "btn-primary" : ""}`}
        onClick={() => (isOn ? onStop() : onHear(which))}
        aria-label={`${isOn ? "Stop" : "Hear"} ${drill.title}, ${says}`}
      >
        {isOn ? <Square size={14} aria-hidden /> : <Play size={14} aria-hidden />} {says}
      </button>
    );
  };
  return (
    <li
      ref={isWanted ? scrolledTo : null}
      aria-current={isWanted || undefined}
      className={`rounded-lg border p-4 ${isWanted ? "border-2 border-base-content" : "border-base-300"}`}
    >
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-lg font-bold">
          {number}. {drill.title}
        </h2>
        <span className="quiet">because {askedBy === null ? drill.why : `${askedBy} asks for it, and ${drill.why}`}</span>
        <span className="ml-auto whitespace-nowrap tabular-nums">
          <b>{drill.minutes} min</b>, from {drill.tempo.start} to {drill.tempo.goal}
        </span>
      </div>
      <p className="mt-1">{drill.does}</p>
      <p>
        <b>Listen for:</b> {drill.listensFor}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {drill.strokes === "silent" ? (
          <span className="quiet">without strokes: there is nothing to hear</span>
        ) : (
          <>
            {button("right", "as it should sound")}
            {button("fails", failWords(drill))}
          </>
        )}
      </div>
    </li>
  );
}

const scrolledTo = (card: HTMLElement | null) => card?.scrollIntoView({ block: "center" });

/** What is heard of a drill that fails. */
function failWords({ hand, sounds: { fails } }: Drill): string {
  if (fails.without) return "when this fails";
  return fails.damping === "none" ? "when nothing is kept" : `when the ${hand} hand keeps nothing`;
}
