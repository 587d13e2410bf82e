import equal from "fast-deep-equal";
import { useEffect, useState } from "react";
import { AUDIBLE_DB } from "../../core/acoustics/constants.ts";
import { heardStrays, type Limit, type PlanDocument, type PlannedStep, type Stray, type TouchedBy, type WhyNot } from "../../core/document/plan.ts";
import { kindOf } from "../../core/hands/parts.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Patch } from "../../core/passage/patch.ts";
import type { Gain, Passage, Pin } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { countOf } from "../../core/timeline/counts.ts";
import { CAUSE_WORDS } from "../../core/words/causes.ts";
import { touchWords } from "../../core/words/contacts.ts";
import { NEVER } from "../../core/words/limits.ts";
import { loudnessWords } from "../../core/words/loudness.ts";
import { stateWords } from "../../core/words/strings.ts";
import { tooFastBy } from "../../core/words/time.ts";
import { HandSentences } from "../parts/HandSentences.tsx";
import { HandsPicture } from "../parts/HandsPicture.tsx";
import { AT_REST_MS } from "../parts/use-at-rest.ts";
import type { AskWhy } from "../planner/use-plan.ts";
import type { StepBox } from "../score/layout.ts";

/** The selected step: a picture of both hands, what each hand does, and all about the string at the cursor. */
export function StepPanel({
  passage,
  plan,
  selected,
  string,
  askWhy,
  onRemedy,
  onPin,
  onLimit,
}: {
  passage: Passage;
  plan: PlanDocument | null;
  selected: StepBox | null;
  string: number;
  askWhy: AskWhy;
  onRemedy(patch: Patch): void;
  onPin(pin: Pin): void;
  /** To what gives out first beyond a limit. */
  onLimit(limit: Limit): void;
}) {
  if (!plan) return <p className="quiet p-6 text-lg">Planning …</p>;
  if (!selected)
    return (
      <p className="p-6 text-lg">
        {plan.steps.length === 0
          ? "Nothing is written yet. Move with the arrow keys and type a fret: the plan appears as you go."
          : "Nothing has been played yet at this place."}
      </p>
    );
  const step = plan.steps[selected.index]!;
  const { gain } = settingsOf(passage);
  const bar = passage.bars[step.bar - 1];
  const here = step.strings[string - 1]!;
  const next = plan.steps[selected.index + 1];
  const pinOf = (want: Pin["want"], touch: TouchedBy | WhyNot): Pin => ({
    want,
    string,
    from: { bar: step.bar, at: step.at },
    to: next ? { bar: next.bar, at: next.at } : endOf(passage),
    contact: { ...kindOf(touch), ...(touch.finger === undefined ? {} : { finger: touch.finger }) },
  });
  const count = bar ? countOf(ticksOf(step.at), bar) : step.at;
  const bottlenecks = plan.bottlenecks.filter((neck) => neck.bar === step.bar && neck.at === step.at);
  const issues = plan.issues.filter((issue) => issue.bar === step.bar && issue.at === step.at);
  return (
    <div className="grid gap-x-8 gap-y-4 px-5 py-3 md:grid-cols-[minmax(20rem,1.7fr)_minmax(13rem,1fr)_minmax(16rem,1.4fr)]">
      <HandsPicture step={step} selected={string} className="max-w-2xl" />
      <section aria-label="What the hands do" className="text-lg leading-snug">
        <h2 className="mb-1 text-xl font-bold">
          Bar {step.bar}, {count}
        </h2>
        <HandSentences step={step} isFirst={selected.index === 0} className="gap-2" />
        {bottlenecks.map((neck) => (
          <p key={neck.move + neck.hand} className="mt-2">
            <b>Rushed:</b> the {neck.move} is too fast by {tooFastBy(neck.needMs, neck.haveMs)}.
          </p>
        ))}
        {issues.map((issue) => (
          <p key={issue.code + issue.path} className="mt-2 font-semibold">
            {issue.says}
          </p>
        ))}
      </section>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keys */}
      <section aria-label={`String ${string}`} tabIndex={0} className="max-h-56 overflow-auto">
        <h2 className="mb-1 text-xl font-bold" style={here.state === "stray" ? { color: "var(--stray)" } : {}} data-testid="string-state">
          String {string}: {stateWords(here)}
          {here.strayDb !== null && (
            <>
              , <Loudness db={here.strayDb} gain={gain} />
            </>
          )}
        </h2>
        <ul>
          {here.touchedBy.map((touch) => (
            <li key={touch.part + touch.hand + (touch.finger ?? "")} className="flex flex-wrap items-center gap-2">
              {touchWords(touch)}
              {touch.part !== "press" && <PinButtons touch={touch} pinOf={pinOf} pins={passage.pins ?? []} onPin={onPin} />}
            </li>
          ))}
        </ul>
        {here.causes.length > 0 && (
          <p className="mt-1">
            {here.state === "stray" ? "It rings because " : "Left alone it would ring: "}
            {here.causes.map((cause) => CAUSE_WORDS[cause]).join("; ")}
            {here.undampedDb !== null && here.undampedDb > 0 && here.state !== "stray" && (
              <>
                , <Loudness db={here.undampedDb} gain={gain} />
              </>
            )}
            .
          </p>
        )}
        {here.state === "stray" && <Remedies plan={plan} step={step} string={string} onRemedy={onRemedy} />}
        {here.intent !== "ring" && (
          <Reasons askWhy={askWhy} step={selected.index} string={string} isStray={here.state === "stray"} onDo={(why) => onPin(pinOf("demand", why))} />
        )}
      </section>
      <Counts plan={plan} passage={passage} onPin={onPin} onLimit={onLimit} />
    </div>
  );
}

/** Why nothing else holds a string; by itself, since the answer comes after the rest has been drawn. */
function Reasons({ askWhy, step, string, isStray, onDo }: { askWhy: AskWhy; step: number; string: number; isStray: boolean; onDo(why: WhyNot): void }) {
  const whyNot = useWhy(askWhy, step, string);
  if (whyNot.length === 0) return null;
  return (
    <>
      <h3 className="mt-2 font-bold">{isStray ? "Why nothing holds it" : "Why not otherwise"}</h3>
      <ul className="space-y-1">
        {whyNot.map((why) => (
          <li key={why.part + why.hand + (why.finger ?? "")}>
            <span className="font-semibold">{touchWords(why)}:</span> {why.reason}{" "}
            {PINNABLE.has(why.code) && (
              <button type="button" className="btn btn-xs" onClick={() => onDo(why)} aria-label={`Do it: ${touchWords(why)}`}>
                do it
              </button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

/** How loud it is to the ear; the figure on request. */
function Loudness({ db, gain }: { db: number; gain: Gain }) {
  const [isFigure, setFigure] = useState(false);
  return (
    <button
      type="button"
      className="cursor-pointer underline decoration-dotted underline-offset-4"
      aria-expanded={isFigure}
      title="How many decibels over the softest that is heard"
      onClick={() => setFigure(!isFigure)}
    >
      {loudnessWords(db, AUDIBLE_DB[gain])}
      {isFigure && ` (${db} dB)`}
    </button>
  );
}

/** Refusals that the player may overrule: the contact is possible, the plan only likes another one better. */
const PINNABLE = new Set<WhyNot["code"]>(["not-needed", "costlier", "banned"]);

/** The player is the judge: a touch can be held to or forbidden here; the same press again lets go of it. */
function PinButtons({
  touch,
  pinOf,
  pins,
  onPin,
}: {
  touch: TouchedBy;
  pinOf(want: Pin["want"], touch: TouchedBy): Pin;
  pins: readonly Pin[];
  onPin(pin: Pin): void;
}) {
  const isSet = (pin: Pin) => pins.some((other) => equal(other, pin));
  return (["demand", "ban"] as const).map((want) => {
    const pin = pinOf(want, touch);
    const says = want === "demand" ? "keep it" : "not so";
    return (
      <button
        key={want}
        type="button"
        className={`btn btn-xs ${isSet(pin) ? "btn-primary" : ""}`}
        aria-pressed={isSet(pin)}
        aria-label={`${says}: ${touchWords(touch)}`}
        onClick={() => onPin(pin)}
      >
        {says}
      </button>
    );
  });
}

function endOf(passage: Passage): Pin["to"] {
  const { meter } = passage.bars.at(-1)!;
  return { bar: passage.bars.length, at: `${meter[0]}/${meter[1]}` };
}

/** What takes this stray ring away, or else what takes others away; one press applies it. */
function Remedies({ plan, step, string, onRemedy }: { plan: PlanDocument; step: PlannedStep; string: number; onRemedy(patch: Patch): void }) {
  if (plan.remedies === undefined) return <p className="quiet mt-2">Looking for remedies …</p>;
  const stray = heardStrays(plan).find((s) => s.string === string && isWithin(step, s));
  const here = plan.remedies.filter((r) => r.removes.some((s) => s.string === stray?.string && s.fromBar === stray.fromBar && s.fromAt === stray.fromAt));
  return (
    <>
      <h3 className="mt-2 font-bold">What takes it away</h3>
      {here.length === 0 && <p>No single change does. Play it slower, or change what is written.</p>}
      <ul className="space-y-1.5" data-testid="remedies">
        {here.map((remedy) => (
          <li key={remedy.says} className="flex items-start gap-2">
            <button type="button" className="btn btn-sm shrink-0" onClick={() => onRemedy(remedy.patch)} aria-label={`Apply: ${remedy.says}`}>
              Apply
            </button>
            {remedy.says}
          </li>
        ))}
      </ul>
    </>
  );
}

/** Whether a stray ring goes on at a step. */
function isWithin({ bar, at }: PlannedStep, { fromBar, fromAt, toBar, toAt }: Stray): boolean {
  const place = (b: number, a: string) => b * 1e9 + ticksOf(a);
  return place(bar, at) >= place(fromBar, fromAt) && place(bar, at) < place(toBar, toAt);
}

/** What players compare: how busy either hand is over the whole passage, and what the player's own pins cost. */
function Counts({
  plan: { counts, limits, pins = [] },
  passage,
  onPin,
  onLimit,
}: {
  plan: PlanDocument;
  passage: Passage;
  onPin(pin: Pin): void;
  onLimit(limit: Limit): void;
}) {
  const figures = [
    [counts.palmLiftsPerBar, "palm lifts a bar"],
    [counts.indexChangesPerBar, "index changes a bar"],
    [counts.stoppedByFretting, "strings stopped by the fretting hand"],
    [counts.stoppedByPicking, "strings stopped by the picking hand"],
  ] as const;
  return (
    <div className="col-span-full">
      <dl className="flex flex-wrap gap-x-6" data-testid="counts">
        {figures.map(([figure, words]) => (
          <div key={words} className="flex flex-row-reverse gap-1">
            <dt className="quiet">{words}</dt>
            <dd className="font-bold tabular-nums">{Number(figure.toFixed(1))}</dd>
          </div>
        ))}
      </dl>
      <p data-testid="limits">
        <LimitSaid limit={limits.hands} never={NEVER.hands} onLimit={onLimit} />{" "}
        {limits.clean !== undefined && <LimitSaid limit={limits.clean} never={NEVER.clean} onLimit={onLimit} />}
      </p>
      {pins.length > 0 && (
        <ul className="mt-1" aria-label="What your pins cost">
          {pins.map((pin, p) => (
            <li key={pin.path}>
              {pinWords(passage.pins?.[p], passage.bars)}: {pin.met ? pin.says : "not possible here, left aside."}{" "}
              {passage.pins?.[p] && (
                <button
                  type="button"
                  className="btn btn-xs"
                  onClick={() => onPin(passage.pins![p]!)}
                  aria-label={`Let go: ${pinWords(passage.pins[p], passage.bars)}`}
                >
                  let go
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** What gives out first beyond a limit; pressed, it goes there. */
function LimitSaid({ limit, never, onLimit }: { limit: Limit | null; never: string; onLimit(limit: Limit): void }) {
  if (limit?.bar === undefined) return limit?.says ?? never;
  return (
    <button type="button" className="cursor-pointer text-left underline decoration-dotted underline-offset-4" onClick={() => onLimit(limit)}>
      {limit.says}
    </button>
  );
}

function pinWords(pin: Pin | undefined, bars: Passage["bars"]): string {
  if (!pin) return "a pin";
  const bar = bars[pin.from.bar - 1];
  return `${pin.want === "demand" ? "Held to" : "Forbidden"}: ${touchWords(pin.contact)}, string ${pin.string}, bar ${pin.from.bar}${bar ? `, ${countOf(ticksOf(pin.from.at), bar)}` : ""}`;
}

/** Reasons for the string at the cursor, asked of the worker when the cursor comes to rest there. */
function useWhy(askWhy: AskWhy, step: number, string: number): WhyNot[] {
  const [answer, setAnswer] = useState<{ step: number; string: number; whyNot: WhyNot[] } | null>(null);
  useEffect(() => {
    let forget = () => {};
    const resting = setTimeout(() => {
      forget = askWhy(step, string, (whyNot) => setAnswer({ step, string, whyNot }));
    }, AT_REST_MS);
    return () => {
      clearTimeout(resting);
      forget();
    };
  }, [askWhy, step, string]);
  return answer?.step === step && answer.string === string ? answer.whyNot : [];
}
