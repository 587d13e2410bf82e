import { useMemo, useState } from "react";
import { heardStrays } from "../../core/document/plan.ts";
import { neighbourPlace, type Place, strokeAt } from "../../core/edit/edit.ts";
import { TICKS_PER_WHOLE, ticksOf } from "../../core/music/ticks.ts";
import type { Passage, Treatment } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { stringWords } from "../../core/words/strings.ts";
import type { Clash } from "../../core/writer/report.ts";
import { noteKey } from "../../core/writer/treated.ts";
import { ListenBar } from "../listen/ListenBar.tsx";
import { useListen } from "../listen/use-listen.ts";
import { HandSentences } from "../parts/HandSentences.tsx";
import { HandsPicture } from "../parts/HandsPicture.tsx";
import { InTitleLine } from "../parts/InTitleLine.tsx";
import { ToolButton } from "../parts/ToolButton.tsx";
import { stepAt } from "../score/layout.ts";
import { Score } from "../score/Score.tsx";
import { usePlanned } from "../score/use-planned.ts";
import { VerdictMark } from "../score/VerdictMark.tsx";

type Overrides = Treatment["overrides"];

/** What a treatment makes of the passage: planned, audible, and stroke by stroke open to exceptions from the rules. */
export function Preview({
  passage,
  treatment,
  clashes,
  canPromote,
  onOverride,
  onPromote,
}: {
  passage: Passage;
  treatment: Treatment;
  clashes: readonly Clash[];
  canPromote: boolean;
  onOverride(overrides: Overrides): void;
  onPromote(): void;
}) {
  const { plan, planned, steps, pending, failed } = usePlanned(passage);
  const [cursor, setCursor] = useState<Place & { string: number }>({ bar: 0, tick: 0, string: 1 });
  const listen = useListen(passage, cursor.string);
  const strings = passage.instrument.tuning.length;
  const here = { ...cursor, bar: Math.min(cursor.bar, passage.bars.length - 1), string: Math.min(cursor.string, strings) };
  const selected = stepAt(steps, here);
  const step = selected && planned?.steps[selected.index];
  const stroke = strokeAt(passage, here);
  const note = stroke?.notes.find((n) => n.string === here.string);
  const isEmpty = !planned || planned.steps.length === 0;
  const onListen = (stepOnly: boolean) => {
    if (isEmpty) return;
    if (!stepOnly && (listen.state.kind === "playing" || listen.state.kind === "preparing")) listen.stop();
    else listen.play(selected?.index ?? 0, stepOnly);
  };
  const change = (id: string | undefined, what: Overrides[string]) => {
    if (id) onOverride({ ...treatment.overrides, [id]: { ...treatment.overrides[id], ...what } });
  };
  const onStroke = (what: Overrides[string]) => change(stroke?.id, what);
  const actions = {
    palm: () => stroke && note && change(noteKey(stroke, note), { tone: note.tone === "palm" ? "open" : "palm" }),
    chuck: () => onStroke(stroke?.as === "chuck" ? { as: "play", strings: null } : { as: "chuck", strings: passage.instrument.tuning.map((_, s) => s + 1) }),
    ghost: () =>
      onStroke(
        stroke?.as === "ghost" ? { as: "play", strings: null } : { as: "ghost", strings: stroke?.strings ?? passage.instrument.tuning.map((_, s) => s + 1) },
      ),
    down: () => onStroke({ stroke: stroke?.stroke === "down" ? null : "down" }),
    up: () => onStroke({ stroke: stroke?.stroke === "up" ? null : "up" }),
    accent: () => onStroke({ accent: !stroke?.accent }),
  };
  const keys: Readonly<Record<string, () => unknown>> = {
    p: actions.palm,
    c: actions.chuck,
    x: actions.ghost,
    d: actions.down,
    u: actions.up,
    a: actions.accent,
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const way = { ArrowRight: 1, ArrowLeft: -1 }[event.key] as 1 | -1 | undefined;
    const next = way && neighbourPlace(passage, here, way, TICKS_PER_WHOLE / 16);
    if (next) setCursor({ ...next, string: here.string });
    else if (event.key === "ArrowDown") setCursor({ ...here, string: Math.min(strings, here.string + 1) });
    else if (event.key === "ArrowUp") setCursor({ ...here, string: Math.max(1, here.string - 1) });
    else if (event.key === " ") onListen(event.shiftKey);
    else if (keys[event.key]) keys[event.key]!();
    else return;
    event.preventDefault();
  };
  const heard = listen.step === null ? undefined : planned?.steps[listen.step];
  const nextStray = () => {
    const stray = plan && heardStrays(plan)[0];
    if (stray) setCursor({ bar: stray.fromBar - 1, tick: ticksOf(stray.fromAt), string: stray.string });
  };
  const marks = useMemo(
    () => [...clashes, ...(plan?.issues ?? [])].map(({ bar, at, says }) => ({ place: { bar: bar - 1, tick: ticksOf(at) }, says })),
    [clashes, plan?.issues],
  );
  const exceptions = Object.keys(treatment.overrides).length;
  const nothing = () => {};
  return (
    <section aria-label="What comes of it" className="flex min-w-0 flex-col lg:min-h-0 lg:overflow-auto">
      <InTitleLine>
        <div aria-live="polite" data-testid="strays">
          <VerdictMark plan={plan} pending={pending} failed={failed} goalTempo={passage.goalTempo ?? null} onNextStray={nextStray} />
        </div>
      </InTitleLine>
      <div className="flex flex-wrap items-center gap-2 border-b border-base-300 px-4 py-1.5" role="toolbar" aria-label="Exceptions at the cursor">
        <span className="quiet text-sm">Here, whatever the rules say:</span>
        <div className="join">
          <ToolButton label="Palm-muted or open (P)" pressed={note?.tone === "palm"} disabled={!note} onClick={() => actions.palm()}>
            palm
          </ToolButton>
          <ToolButton label="Chuck (C)" pressed={stroke?.as === "chuck"} disabled={!stroke} onClick={actions.chuck}>
            chuck
          </ToolButton>
          <ToolButton label="Ghost stroke (X)" pressed={stroke?.as === "ghost"} disabled={!stroke} onClick={actions.ghost}>
            ghost
          </ToolButton>
          <ToolButton label="Down-stroke (D)" pressed={stroke?.stroke === "down"} disabled={!stroke} onClick={actions.down}>
            down
          </ToolButton>
          <ToolButton label="Up-stroke (U)" pressed={stroke?.stroke === "up"} disabled={!stroke} onClick={actions.up}>
            up
          </ToolButton>
          <ToolButton label="Accent (A)" pressed={stroke?.accent === true} disabled={!stroke} onClick={actions.accent}>
            accent
          </ToolButton>
        </div>
        {exceptions > 0 && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => onOverride({})}>
            {exceptions} exception{exceptions === 1 ? "" : "s"}: take away
          </button>
        )}
        <button
          type="button"
          className="btn btn-primary btn-sm ml-auto"
          disabled={!canPromote}
          onClick={onPromote}
          title="What comes of it becomes what is written (Ctrl Enter)"
        >
          Write it into the passage
        </button>
      </div>
      <ListenBar passage={passage} onListen={onListen} listen={listen} string={here.string} isEmpty={isEmpty}>
        {null}
      </ListenBar>
      <Score
        passage={passage}
        steps={steps}
        cursor={here}
        selected={selected}
        selection={null}
        onClipboard={{ copy: nothing, cut: nothing, paste: nothing }}
        heard={heard ? { bar: heard.bar - 1, tick: ticksOf(heard.at) } : null}
        finest={TICKS_PER_WHOLE / 16}
        onMove={setCursor}
        onSelect={nothing}
        onDrop={nothing}
        onKeyDown={onKeyDown}
        label={`${passage.title}, ${treatment.name}: ${passage.bars.length} bars. Arrow keys move; P, C, X, D, U, A make exceptions.`}
        takesFocus={false}
        marks={marks}
      />
      <div className="grid gap-4 p-4 md:grid-cols-2">
        <section aria-label="Here">
          {step ? (
            <>
              <HandsPicture step={step} selected={here.string} className="mb-3 max-w-lg" />
              <HandSentences step={step} isFirst={selected.index === 0} className="gap-2" />
              <p className="quiet mt-2 first-letter:uppercase">{stringWords(step.strings[here.string - 1]!, settingsOf(passage).gain)}</p>
            </>
          ) : (
            <p className="quiet">
              {!planned ? "Planning …" : isEmpty ? "Nothing is written yet: begin with the chords." : "Nothing has been played yet at this place."}
            </p>
          )}
        </section>
        <section aria-label="What does not go together">
          {clashes.length === 0 && (plan?.issues.length ?? 0) === 0 ? (
            <p className="quiet">All rules go together.</p>
          ) : (
            <ul className="space-y-1">
              {[...clashes, ...(plan?.issues ?? [])].map((clash) => (
                <li key={`${clash.bar} ${clash.at} ${clash.code} ${clash.says}`}>
                  <button
                    type="button"
                    className="text-left underline decoration-dotted underline-offset-4"
                    onClick={() => setCursor({ bar: clash.bar - 1, tick: ticksOf(clash.at), string: here.string })}
                  >
                    {clash.says}
                  </button>
                </li>
              ))}
            </ul>
          )}
        </section>
      </div>
    </section>
  );
}
