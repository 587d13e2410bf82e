import { useEffect, useState } from "react";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { countOf } from "../../core/timeline/timeline.ts";
import type { PlanDocument, WhyNot } from "../../core/verdict/document.ts";
import type { AskWhy } from "../planner/use-plan.ts";
import { EndView } from "./EndView.tsx";
import type { StepBox } from "./layout.ts";
import { CAUSE_WORDS, stateWords, stringWords, touchWords } from "./words.ts";

/** The selected step: end view, what each hand does, and all about the string at the cursor. */
export function StepPanel({
  passage,
  plan,
  selected,
  string,
  askWhy,
}: {
  passage: Passage;
  plan: PlanDocument | null;
  selected: StepBox | null;
  string: number;
  askWhy: AskWhy;
}) {
  const whyNot = useWhy(askWhy, selected?.index ?? -1, string);
  if (!plan) return <p className="quiet p-6 text-lg">Planning …</p>;
  if (!selected)
    return (
      <p className="p-6 text-lg">
        {plan.steps.length === 0
          ? "Nothing is written yet. Move with the arrow keys and type a fret: the plan appears as you go."
          : "Nothing has been played yet at this place."}
      </p>
    );
  const { step } = selected;
  const bar = passage.bars[step.bar - 1];
  const here = step.strings[string - 1]!;
  const count = bar ? countOf(ticksOf(step.at), bar) : step.at;
  const bottlenecks = plan.bottlenecks.filter((neck) => neck.bar === step.bar && neck.at === step.at);
  const issues = plan.issues.filter((issue) => issue.bar === step.bar && issue.at === step.at);
  return (
    <div className="grid gap-x-8 gap-y-4 px-5 py-3 md:grid-cols-[minmax(20rem,1.4fr)_minmax(18rem,1.4fr)_minmax(16rem,1.1fr)]">
      <div>
        <EndView step={step} selectedString={string} label={`Strings end-on: ${step.strings.map(stringWords).join("; ")}`} />
      </div>
      <section aria-label="What the hands do" className="text-lg leading-snug">
        <h2 className="mb-1 text-xl font-bold">
          Bar {step.bar}, {count}
        </h2>
        <p className="mb-2 border-l-[6px] pl-3" style={{ borderColor: "var(--fretting)" }} data-testid="fretting-sentence">
          {withoutCount(step.fretting) || (selected.index === 0 ? "Fretting hand: off the strings." : "Fretting hand: as before.")}
        </p>
        <p className="border-l-[6px] border-double pl-3" style={{ borderColor: "var(--picking)" }} data-testid="picking-sentence">
          {withoutCount(step.picking) || (selected.index === 0 ? "Picking hand: waits." : "Picking hand: as before.")}
        </p>
        {bottlenecks.map((neck) => (
          <p key={neck.move + neck.hand} className="mt-2">
            <b>Rushed:</b> {neck.move} needs {neck.needMs} ms, there are {neck.haveMs} ms.
          </p>
        ))}
        {issues.map((issue) => (
          <p key={issue.code + issue.path} className="mt-2 font-semibold">
            {issue.says}
          </p>
        ))}
      </section>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keys */}
      <section aria-label={`String ${string}`} tabIndex={0} className="max-h-64 overflow-auto">
        <h2 className="mb-1 text-xl font-bold" style={here.state === "stray" ? { color: "var(--stray)" } : {}} data-testid="string-state">
          String {string}: {stateWords(here)}
          {here.strayDb !== null && `, ${here.strayDb} dB too loud`}
        </h2>
        <ul>
          {here.touchedBy.map((touch) => (
            <li key={touch.part + touch.hand + (touch.finger ?? "")}>{touchWords(touch)}</li>
          ))}
        </ul>
        {here.causes.length > 0 && (
          <p className="mt-1">
            {here.state === "stray" ? "It rings because " : "Left alone it would ring: "}
            {here.causes.map((cause) => CAUSE_WORDS[cause]).join("; ")}
            {here.undampedDb !== null && here.undampedDb > 0 && here.state !== "stray" && ` (${here.undampedDb} dB over what is heard)`}.
          </p>
        )}
        {whyNot.length > 0 && here.intent !== "ring" && (
          <>
            <h3 className="mt-2 font-bold">{here.state === "stray" ? "Why nothing holds it" : "Why not otherwise"}</h3>
            <ul className="space-y-1">
              {whyNot.map((why) => (
                <li key={why.part + why.hand + (why.finger ?? "")}>
                  <span className="font-semibold">{touchWords(why)}:</span> {why.reason}
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
    </div>
  );
}

/** Reasons for the string at the cursor, asked of the worker when the cursor comes to rest there. */
function useWhy(askWhy: AskWhy, step: number, string: number): WhyNot[] {
  const [answer, setAnswer] = useState<{ step: number; string: number; whyNot: WhyNot[] } | null>(null);
  useEffect(() => {
    if (step < 0) return;
    return askWhy(step, string, (whyNot) => setAnswer({ step, string, whyNot }));
  }, [askWhy, step, string]);
  return answer?.step === step && answer.string === string ? answer.whyNot : [];
}

/** The heading already says the count. */
function withoutCount(sentence: string): string {
  const text = sentence.replace(/^[^:]*: /, "");
  return text === "" ? "" : `${text[0]!.toUpperCase()}${text.slice(1)}`;
}
