import { Check, HeartPulse, Pause, Play, RotateCcw, SkipForward, X } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { PlanDocument } from "../../core/document/plan.ts";
import { neededAt, type Rung } from "../../core/drills/ladder.ts";
import type { Drill, DrillContact } from "../../core/drills/types.ts";
import { ticksAt } from "../../core/edit/range.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import { outcomeWords } from "../../core/practice/outcomes.ts";
import type { PracticeSession } from "../../core/practice/record.ts";
import type { Judgement } from "../../core/take/rounds.ts";
import { countOf } from "../../core/timeline/counts.ts";
import { useJob } from "../jobs/use-job.ts";
import { HandSentences } from "../parts/HandSentences.tsx";
import { HandsPicture } from "../parts/HandsPicture.tsx";
import { useAwake } from "../parts/use-awake.ts";
import type { TrainerChoices } from "./choices.ts";
import { canBeHeard } from "./ears.ts";
import { HurtDialog } from "./HurtDialog.tsx";
import { dropSession, keepSession } from "./kept-session.ts";
import { cameOf, drillOn, endOf, hurt, hurtAt, isWorthKeeping, nextDrill, overruled, playedOf, recordOf, type Session, tried, wentOn } from "./session.ts";
import { useClicks } from "./use-clicks.ts";

/** Keys of a pedal, and what a hand reaches. */
const CLEAN = new Set(["Enter", "PageDown", "ArrowRight", "c"]);
const NOT_CLEAN = new Set(["Backspace", "PageUp", "ArrowLeft", "x"]);

/** A session, drill by drill, to the click: what both hands do now, large; each time through is said to be clean or not. */
export function Trainer({
  keptAs,
  begin,
  choices,
  onKeep,
  onBan,
  onClose,
}: {
  keptAs: string;
  /** A session at its beginning, or where it was left. */
  begin: Session;
  choices: TrainerChoices;
  /** Brings what was practised so far into the log; false where there was no room to keep it. */
  onKeep(session: PracticeSession): boolean;
  /** Plans the passage without a contact; null where there is no passage to plan. */
  onBan: ((contact: DrillContact) => void) | null;
  onClose(): void;
}) {
  const ref = useRef<HTMLDialogElement>(null);
  const [session, setSession] = useState(begin);
  const [isOn, setOn] = useState(false);
  const [isKept, setKept] = useState(true);
  const [isHurt, setHurt] = useState(false);
  const drill = drillOn(session);
  const { plan, failed } = usePlanOf(drill);
  const [heard, setHeard] = useState<LastHeard | null>(null);
  const latest = useRef(session);
  latest.current = session;
  const { tick, trouble } = useClicks(drill, session.rung.tempo, isOn, choices, ({ drill: of, tempo, judgement }) => {
    const now = latest.current;
    // What was still at the tempo of before, or of the drill of before, is no try.
    if (of !== drillOn(now) || tempo !== now.rung.tempo) return;
    if (judgement.kind === "unclear") return setHeard({ judgement, rung: null, tries: now.tries.length });
    const next = tried(now, judgement.kind === "clean", new Date(), "microphone");
    latest.current = next;
    setSession(next);
    setHeard({ judgement, rung: now.rung, tries: next.tries.length });
  });
  useAwake();
  // Every try is kept at once, the time when it is paused or left.
  const keep = useCallback(() => {
    const now = latest.current;
    const isRoom = !isWorthKeeping(now) || onKeep(recordOf(now, new Date()));
    if (!drillOn(now)) dropSession(keptAs);
    setKept(drillOn(now) ? keepSession(keptAs, now) && isRoom : isRoom);
  }, [keptAs, onKeep]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: these say when
  useEffect(keep, [keep, session.tries, session.at, session.discomforts, session.note, isOn]);
  useEffect(() => {
    addEventListener("pagehide", keep);
    return () => {
      removeEventListener("pagehide", keep);
      keep();
    };
  }, [keep]);
  useEffect(() => {
    const dialog = ref.current;
    if (dialog && !dialog.open) dialog.showModal();
    dialog?.focus();
  }, []);
  // The clock of a drill runs while it is played.
  useEffect(() => {
    if (!isOn) return;
    const timer = setInterval(() => setSession((now) => wentOn(now, 1)), 1000);
    return () => clearInterval(timer);
  }, [isOn]);

  const end = endOf(session);
  const judge = (clean: boolean) => {
    if (!drill) return;
    const last = session.tries.at(-1);
    // What was judged last by the microphone, and nothing since: the player knows better, or says the same.
    const isAbout = heard?.rung && heard.tries === session.tries.length && last;
    if (!isAbout) return setSession(tried(session, clean, new Date()));
    if (last.clean !== clean) setSession(overruled(session, heard.rung!));
  };
  const goOn = () => {
    setHeard(null);
    setSession(nextDrill(session));
  };
  const left = drill ? Math.max(0, 60 * drill.ends.orMinutes - playedOf(session)) : 0;
  const stopForPain = () => {
    setOn(false);
    setSession(hurt(session, new Date()));
    setHurt(true);
  };
  const endNow = () => {
    setHurt(false);
    setSession({ ...session, at: session.drills.length });
  };
  return (
    <dialog
      ref={ref}
      tabIndex={-1}
      className="m-0 h-full max-h-none w-full max-w-none bg-base-100 text-base-content"
      aria-label="Practice"
      onClose={onClose}
      onKeyDown={(event) => {
        event.stopPropagation();
        const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
        const onButton = event.target instanceof HTMLButtonElement;
        if (onButton && (key === "Enter" || key === " ")) return;
        if (!drill) return;
        if (key === " ") setOn(!isOn);
        else if (CLEAN.has(key)) judge(true);
        else if (NOT_CLEAN.has(key)) judge(false);
        else if (key === "n") goOn();
        else if (key === "h") stopForPain();
        else return;
        event.preventDefault();
      }}
    >
      <div className="flex h-full flex-col gap-3 p-3 sm:p-6">
        <header className="flex flex-wrap items-center gap-x-6 gap-y-1">
          <b className="mr-auto text-xl sm:text-3xl">{drill ? `${session.at + 1} of ${session.drills.length}: ${drill.title}` : "Done"}</b>
          {drill && (
            <button type="button" className="btn btn-ghost" onClick={stopForPain}>
              <HeartPulse aria-hidden /> It hurts
            </button>
          )}
          <button type="button" className="btn btn-ghost" onClick={() => ref.current?.close()}>
            <X aria-hidden /> Leave
          </button>
        </header>
        {drill ? (
          <>
            <div className="flex flex-wrap items-baseline gap-x-8 gap-y-1">
              <p className="text-5xl leading-none font-bold tabular-nums sm:text-8xl" data-testid="tempo">
                {session.rung.tempo}
              </p>
              <p className="text-xl sm:text-3xl">
                <span className="quiet">goal</span> {drill.tempo.goal} · <b className="tabular-nums">{session.rung.clean}</b> of{" "}
                {neededAt(drill.tempo, session.rung.tempo)} clean · <span className="tabular-nums">{minutesWords(left)}</span> left
              </p>
              <p className="w-full text-lg sm:text-2xl" role="status">
                {end === "goal" ? "The goal is clean: on to the next (N)." : end === "time" ? "The minutes are over: on to the next (N)." : drill.does}
              </p>
              <p className="w-full text-base sm:text-xl" role="status" data-testid="heard">
                {heardWords(drill, choices.listens, heard?.tries === session.tries.length ? heard : null, session.tries.at(-1)?.clean ?? false) ?? (
                  <>
                    <b>Listen for:</b> {drill.listensFor}
                  </>
                )}
              </p>
              {trouble && <p role="alert">{trouble}</p>}
              {failed && <p role="alert">The hands' plan could not be made: {failed}. The click goes on.</p>}
              {!isKept && <p role="alert">This browser has no room left: a reload would lose this session.</p>}
            </div>
            <Now plan={plan} drill={drill} tick={tick} />
            <div className="grid grid-cols-2 gap-3 sm:grid-cols-[2fr_2fr_1fr_1fr]">
              <button type="button" className="btn btn-primary h-20 text-2xl sm:h-24 sm:text-4xl" onClick={() => judge(true)}>
                <Check size={32} aria-hidden /> Clean
              </button>
              <button type="button" className="btn h-20 text-2xl sm:h-24 sm:text-4xl" onClick={() => judge(false)}>
                <RotateCcw size={32} aria-hidden /> Not clean
              </button>
              <button type="button" className="btn h-16 text-xl sm:h-24" onClick={() => setOn(!isOn)} aria-pressed={isOn}>
                {isOn ? <Pause aria-hidden /> : <Play aria-hidden />} {isOn ? "Pause" : "Go"}
              </button>
              <button type="button" className="btn h-16 text-xl sm:h-24" onClick={goOn}>
                <SkipForward aria-hidden /> Next
              </button>
            </div>
            <p className="quiet hidden text-center sm:block">
              Space goes and pauses · Enter or pedal forward: clean · Backspace or pedal back: not clean · N next · H hurts · Esc leaves
            </p>
          </>
        ) : (
          <Summary session={session} onNote={(note) => setSession({ ...session, note })} />
        )}
      </div>
      {isHurt && (
        <HurtDialog
          where={session.discomforts.at(-1)?.where ?? null}
          contact={onBan && drill ? (drill.focus.contact ?? drill.sounds.fails.without ?? null) : null}
          onWhere={(where) => setSession(hurtAt(session, where))}
          onLeaveOut={() => {
            setHurt(false);
            goOn();
          }}
          onBan={(contact) => {
            onBan?.(contact);
            endNow();
          }}
          onEnd={endNow}
          onClose={() => setHurt(false)}
        />
      )}
    </dialog>
  );
}

/** A time through that the microphone judged: how, where the ladder stood before, and how many tries there were with it. */
interface LastHeard {
  judgement: Judgement;
  rung: Rung | null;
  tries: number;
}

/** What was heard of the last time through; null where nothing is to be said of it. */
function heardWords(drill: Drill, isListening: boolean, heard: LastHeard | null, isClean: boolean): string | null {
  if (!isListening) return null;
  if (!canBeHeard(drill)) return `Listen for: ${drill.listensFor} The microphone cannot judge this one: say yourself whether it was clean.`;
  if (!heard) return null;
  const { judgement } = heard;
  if (judgement.kind === "unclear") return `${judgement.says} Say yourself whether it was clean.`;
  if (isClean) return judgement.kind === "clean" ? "Heard: clean." : "Clean, you say.";
  if (judgement.kind === "clean") return "Not clean, you say.";
  const more = judgement.says.length > 1 ? ` And ${judgement.says.length - 1} more.` : "";
  return `Heard: ${judgement.says[0]}${more} If it was clean all the same, press Clean.`;
}

/** What both hands do at a moment of the drill, and what comes then. */
function Now({ plan, drill, tick }: { plan: PlanDocument | null; drill: Drill; tick: number | null }) {
  const places = useMemo(() => plan?.steps.map((step) => ticksAt(drill.passage, { bar: step.bar - 1, tick: ticksOf(step.at) })) ?? [], [plan, drill]);
  if (!plan || plan.steps.length === 0) return <div className="min-h-0 flex-1" />;
  const at = Math.max(
    0,
    places.findLastIndex((from) => from <= (tick ?? 0)),
  );
  const step = plan.steps[at]!;
  const next = plan.steps[at + 1] ?? plan.steps[0]!;
  const bar = drill.passage.bars[step.bar - 1]!;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what may scroll must be reachable by keys
    <section className="grid min-h-0 flex-1 content-start gap-4 overflow-auto lg:grid-cols-[2fr_1fr]" tabIndex={0} aria-label="What the hands do">
      <section aria-label="Now">
        <h2 className="text-2xl font-bold tabular-nums sm:text-4xl">
          bar {step.bar}, {countOf(ticksOf(step.at), bar)}
        </h2>
        <HandsPicture step={step} className="w-full max-w-2xl" />
        <HandSentences step={step} isFirst={at === 0} atGlance className="gap-1.5 text-xl leading-snug sm:text-2xl" />
      </section>
      <section aria-label="Then" className="max-lg:hidden">
        <h2 className="quiet text-2xl font-bold">then</h2>
        <HandsPicture step={next} className="w-full max-w-md" />
        <HandSentences step={next} isFirst={false} atGlance className="gap-2 text-xl leading-snug" />
      </section>
    </section>
  );
}

function Summary({ session, onNote }: { session: Session; onNote(note: string): void }) {
  const worst = session.discomforts.length > 0;
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <ul className="max-w-4xl divide-y divide-base-300 text-xl" aria-label="What came of it">
        {cameOf(session).map((outcome) => (
          <li key={outcome.drill.id} className="flex flex-wrap gap-x-6 py-3">
            <b className="mr-auto">{outcome.drill.title}</b>
            <span>{outcomeWords(outcome)}</span>
          </li>
        ))}
      </ul>
      <label className="mt-5 block max-w-4xl text-lg">
        Note for the log
        <textarea className="textarea mt-1 w-full text-lg" rows={3} maxLength={4000} value={session.note} onChange={({ target }) => onNote(target.value)} />
      </label>
      <p className="mt-5 max-w-4xl text-lg">
        {worst
          ? "It hurt today: rest until it does not any more. Pain, numbness or tingling that lasts is for a doctor."
          : "Shake the hands out. What aches gets a rest, not another round."}
      </p>
    </div>
  );
}

function minutesWords(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;
}

/** The plan of a drill's passage; null until it is there. */
function usePlanOf(drill: Drill | null): { plan: PlanDocument | null; failed: string | null } {
  const { run, failed } = useJob();
  const [found, setFound] = useState<{ of: Drill; plan: PlanDocument } | null>(null);
  useEffect(() => {
    if (drill)
      void run<PlanDocument>(
        (jobs) => jobs.plan({ ...drill.passage, tempo: drill.tempo.start }) as Promise<PlanDocument>,
        (plan) => setFound({ of: drill, plan }),
      );
  }, [drill, run]);
  return { plan: found !== null && found.of === drill ? found.plan : null, failed };
}
