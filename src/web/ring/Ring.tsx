import { useMemo, useState } from "react";
import { useDispatch, useSelector } from "react-redux";
import { Link, useParams } from "react-router";
import { unitLength } from "../../core/music/beats.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { countOf } from "../../core/timeline/counts.ts";
import { CAUSE_WORDS } from "../../core/words/causes.ts";
import { stringWords } from "../../core/words/strings.ts";
import { ListenBar } from "../listen/ListenBar.tsx";
import { useListen } from "../listen/use-listen.ts";
import { InTitleLine } from "../parts/InTitleLine.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { stepAt } from "../score/layout.ts";
import { usePlanned } from "../score/use-planned.ts";
import { VerdictMark } from "../score/VerdictMark.tsx";
import { movedTo } from "../store/edit-slice.ts";
import type { Dispatch, RootState } from "../store/root.ts";
import { Chart, type Spot } from "./Chart.tsx";
import { Sympathy } from "./Sympathy.tsx";
import { useLoudness } from "./use-loudness.ts";

/** How loud every string is over time, planned and undamped, and which strings answer which. */
export function Ring({ passage }: { passage: Passage }) {
  const { id = "" } = useParams();
  const dispatch = useDispatch<Dispatch>();
  const cursor = useSelector((root: RootState) => root.edit.cursor);
  const { plan, planned, steps, pending, failed } = usePlanned(passage);
  const { loudness, failed: notReckoned } = useLoudness(passage);
  const [hovered, setHovered] = useState<Spot | null>(null);
  const strings = passage.instrument.tuning.length;
  const listen = useListen(passage, Math.min(cursor.string, strings));
  const isEmpty = !planned || planned.steps.length === 0;
  const chosen: Spot | null = isEmpty ? null : { step: stepAt(steps, cursor)?.index ?? 0, string: Math.min(cursor.string, strings) };
  const counts = useMemo(
    () =>
      (planned?.steps ?? []).map((step) => {
        const bar = passage.bars[step.bar - 1];
        const tick = ticksOf(step.at);
        const words = bar ? countOf(tick, bar) : "";
        const isBeat = bar !== undefined && tick % unitLength(bar.meter) === 0;
        return { says: isBeat ? words : (words.split(" ")[1] ?? words), isBar: tick === 0, isBeat };
      }),
    [planned, passage.bars],
  );
  const choose = ({ step, string }: Spot) => {
    const to = planned?.steps[step];
    if (to) dispatch(movedTo({ bar: to.bar - 1, tick: ticksOf(to.at), string }));
  };
  const onListen = (stepOnly: boolean) => {
    if (isEmpty || !chosen) return;
    if (!stepOnly && (listen.state.kind === "playing" || listen.state.kind === "preparing")) listen.stop();
    else listen.play(chosen.step, stepOnly);
  };
  const nextStray = () => {
    const from = chosen?.step ?? -1;
    const at = (step: number) => planned!.steps[step]!.strings.find((s) => s.state === "stray");
    const all = (planned?.steps ?? []).map((_, i) => i);
    const next = [...all.slice(from + 1), ...all.slice(0, from + 1)].find((i) => at(i));
    if (next !== undefined) choose({ step: next, string: at(next)!.string });
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (!chosen || event.ctrlKey || event.metaKey || event.altKey) return;
    const last = planned!.steps.length - 1;
    if (event.key === "ArrowRight") choose({ ...chosen, step: Math.min(last, chosen.step + 1) });
    else if (event.key === "ArrowLeft") choose({ ...chosen, step: Math.max(0, chosen.step - 1) });
    else if (event.key === "ArrowDown") choose({ ...chosen, string: Math.min(strings, chosen.string + 1) });
    else if (event.key === "ArrowUp") choose({ ...chosen, string: Math.max(1, chosen.string - 1) });
    else if (event.key === "Home") choose({ ...chosen, step: 0 });
    else if (event.key === "End") choose({ ...chosen, step: last });
    else if (event.key === "n") nextStray();
    else if (event.key === " ") onListen(event.shiftKey);
    else return;
    event.preventDefault();
  };
  const shown = hovered ?? chosen;
  return (
    <div className="h-full overflow-auto">
      <InTitleLine>
        <div aria-live="polite" data-testid="strays">
          <VerdictMark
            plan={plan}
            pending={pending}
            failed={failed}
            goalTempo={passage.goalTempo ?? null}
            onNextStray={nextStray}
            onLimit={({ bar, at }) => dispatch(movedTo({ bar: bar! - 1, tick: ticksOf(at!), string: cursor.string }))}
          />
        </div>
      </InTitleLine>
      <ListenBar passage={passage} onListen={onListen} listen={listen} string={Math.min(cursor.string, strings)} isEmpty={isEmpty}>
        <Link className="btn btn-sm max-sm:hidden" to={`/bench/${id}`}>
          This place on the Bench
        </Link>
      </ListenBar>
      <p className="min-h-16 px-4 py-2 text-lg" aria-live="polite" data-testid="readout">
        {isEmpty && planned
          ? "Nothing is written yet, so nothing rings."
          : shown && loudness && <Readout passage={passage} plan={planned!} loudness={loudness} spot={shown} />}
      </p>
      {notReckoned && <p role="alert">The loudness could not be reckoned: {notReckoned}.</p>}
      {!loudness || !planned ? (
        <Waiting says="Reckoning how loud every string is" />
      ) : (
        <Chart
          passage={passage}
          loudness={loudness}
          counts={counts}
          chosen={chosen}
          heard={listen.step}
          label={`Loudness of ${strings} strings over ${passage.bars.length} bars. Arrow keys go by step and string, N to the next stray ring.`}
          onChoose={choose}
          onHover={setHovered}
          onKeyDown={onKeyDown}
        />
      )}
      <p className="quiet px-4 py-2 text-sm">
        The level line of each string is what is just heard beside the loudest thing meant to sound. Filled: as planned. Dotted: if no hand damped it. One lane
        is 65 dB high.
      </p>
      <div className="px-4 pb-8">
        <Sympathy passage={passage} />
      </div>
    </div>
  );
}

/** A string at a step in dB and words. */
function Readout({
  passage,
  plan,
  loudness,
  spot,
}: {
  passage: Passage;
  plan: NonNullable<ReturnType<typeof usePlanned>["planned"]>;
  loudness: NonNullable<ReturnType<typeof useLoudness>["loudness"]>;
  spot: Spot;
}) {
  const step = plan.steps[spot.step];
  const levels = loudness.steps[spot.step]?.[spot.string - 1];
  const string = step?.strings[spot.string - 1];
  const bar = step && passage.bars[step.bar - 1];
  if (!step || !levels || !string || !bar) return null;
  const { planned, undamped } = levels;
  const over = (db: number) => (db >= 0 ? `${db} dB over what is heard` : `${-db} dB under what is heard`);
  const isMeant = string.intent === "ring" || string.intent === "muffled" || string.intent === "free";
  return (
    <>
      <b>
        Bar {step.bar}, {countOf(ticksOf(step.at), bar)}:
      </b>{" "}
      {stringWords(string, settingsOf(passage).gain)}.{" "}
      {isMeant && planned
        ? `It is ${over(planned.fromDb)}, at the step's end ${over(planned.toDb)}.`
        : `Undamped it would be ${undamped ? over(undamped.fromDb) : "silent"}; as planned it is ${planned ? over(planned.fromDb) : "silent"}.`}
      {string.causes.length > 0 && ` Because ${string.causes.map((cause) => CAUSE_WORDS[cause]).join("; ")}.`}
    </>
  );
}
