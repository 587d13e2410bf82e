import { MonitorUp } from "lucide-react";
import { useState } from "react";
import { useDispatch, useSelector } from "react-redux";
import type { Limit } from "../../core/document/plan.ts";
import { heardStrays, type PlanDocument } from "../../core/document/plan.ts";
import { barGrid, type Place, strokeAt } from "../../core/edit/edit.ts";
import { gripAt, gripHolding } from "../../core/edit/grips.ts";
import { type Figure, figureOf, ticksAt } from "../../core/edit/range.ts";
import { barLength } from "../../core/music/beats.ts";
import { fractionOf, gcd, ticksOf } from "../../core/music/ticks.ts";
import type { Note, Passage, Stroke } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
import { gripWords } from "../../core/words/grips.ts";
import { stringWords } from "../../core/words/strings.ts";
import { ListenBar } from "../listen/ListenBar.tsx";
import { useListen } from "../listen/use-listen.ts";
import { useLook } from "../look/look.tsx";
import { InTitleLine } from "../parts/InTitleLine.tsx";
import { stepAt } from "../score/layout.ts";
import { Score } from "../score/Score.tsx";
import { usePlanned } from "../score/use-planned.ts";
import { VerdictMark } from "../score/VerdictMark.tsx";
import { Stand } from "../stand/Stand.tsx";
import { edit, movedTo, redo, selectedTo, undo } from "../store/edit-slice.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch, RootState } from "../store/root.ts";
import { ChordDialog } from "./ChordDialog.tsx";
import { clipboardOf } from "./clipboard.ts";
import { FirstVisit } from "./FirstVisit.tsx";
import { PassageDialog } from "./PassageDialog.tsx";
import { Refinger } from "./Refinger.tsx";
import { StepPanel } from "./StepPanel.tsx";
import { Tools } from "./Tools.tsx";
import { type Entry, GRIDS, useKeys } from "./use-keys.ts";

const STAND = <MonitorUp size={16} aria-hidden />;

/** The passage and its plan: the main place. */
export function Bench({ passage }: { passage: Passage }) {
  const dispatch = useDispatch<Dispatch>();
  // One by one: the passage itself is drawn when its plan is there.
  const cursor = useSelector((root: RootState) => root.edit.cursor);
  const anchor = useSelector((root: RootState) => root.edit.anchor);
  const canUndo = useSelector((root: RootState) => root.edit.past.length > 0);
  const canRedo = useSelector((root: RootState) => root.edit.future.length > 0);
  const { plan, planned, steps, of, job, tookMs, pending, failed, askWhy } = usePlanned(passage);
  const [grid, setGrid] = useState(0);
  const [entry, setEntry] = useState<Entry>({ writing: false, tone: "open", finger: null });
  const [dialog, setDialog] = useState<"passage" | "chord" | null>(null);
  const [onStand, setOnStand] = useState(false);
  const finest = GRIDS[grid]!.ticks;
  const selected = stepAt(steps, cursor);
  const stroke: Stroke | null = strokeAt(passage, cursor) ?? null;
  const note: Note | null = stroke?.notes.find((n) => n.string === cursor.string) ?? null;
  const place = { bar: cursor.bar, tick: cursor.tick };
  const strings = passage.instrument.tuning.length;

  const begun = gripAt(passage, place);
  const held = begun ?? gripHolding(passage, place);
  const gripHere = held ? { says: gripWords(held, strings), beginsHere: begun !== undefined } : null;
  const nextStray = () => {
    const strays = plan ? heardStrays(plan) : [];
    if (strays.length === 0) return;
    const at = (stray: { fromBar: number; fromAt: string; string: number }) => (stray.fromBar - 1) * 1e9 + ticksOf(stray.fromAt) * 10 + stray.string;
    const here = cursor.bar * 1e9 + cursor.tick * 10 + cursor.string;
    const sorted = strays.sort((a, b) => at(a) - at(b));
    const next = sorted.find((stray) => at(stray) > here) ?? sorted[0]!;
    dispatch(movedTo({ bar: next.fromBar - 1, tick: ticksOf(next.fromAt), string: next.string }));
  };
  const range = selectedRange(passage, anchor, cursor, finest);
  const listen = useListen(passage, Math.min(cursor.string, strings));
  const fromStep = selected?.index ?? 0;
  const isEmpty = !planned || planned.steps.length === 0;
  const onListen = (stepOnly: boolean) => {
    if (isEmpty) return;
    if (!stepOnly && (listen.state.kind === "playing" || listen.state.kind === "preparing")) listen.stop();
    else if (range && !stepOnly) listen.play(stepFrom(planned, passage, range.from), false, stepFrom(planned, passage, range.to));
    else listen.play(fromStep, stepOnly);
  };
  const heardStep = listen.step === null ? undefined : planned?.steps[listen.step];
  const barStart = ticksAt(passage, { bar: cursor.bar, tick: 0 });
  /** What copying takes: the selection, or else the bar. */
  const taken = range ?? { from: barStart, to: barStart + barLength(passage.bars[cursor.bar]!.meter) };
  const pasteAt = (at: number, figure: Figure) => {
    if (!dispatch(edit({ kind: "paste", at, figure })))
      dispatch(notify({ says: "This does not fit: it needs a string or a fret that this instrument has not." }));
  };
  const clipboard = clipboardOf({
    copied: () => figureOf(passage, taken.from, taken.to),
    onCut: () => dispatch(edit({ kind: "clear", ...taken })),
    onPaste: (figure) => pasteAt(range?.from ?? ticksAt(passage, cursor), figure),
    onTrouble: (says) => dispatch(notify({ says })),
  });
  const repeat = () => pasteAt(taken.to, figureOf(passage, taken.from, taken.to));
  const nextGrid = () => setGrid((grid + 1) % GRIDS.length);
  const onKeyDown = useKeys(finest, {
    entry,
    setEntry,
    repeat,
    clear: () => range !== null && dispatch(edit({ kind: "clear", ...range })),
    nextStray,
    nextGrid,
    stand: () => setOnStand(!isEmpty),
    passage: () => setDialog("passage"),
    chord: () => setDialog("chord"),
    listen: onListen,
    lowestOnTop: useLook().look.top === "lowest",
  });
  const onLimit = ({ bar, at }: Limit) => dispatch(movedTo({ bar: bar! - 1, tick: ticksOf(at!), string: cursor.string }));
  const spoken = selected ? stringWords(selected.step.strings[cursor.string - 1]!, settingsOf(passage).gain) : `string ${cursor.string}: nothing yet`;

  return (
    <div className="flex h-full flex-col" data-planned={of === passage ? tookMs.toFixed(1) : "pending"} data-plan={job}>
      <InTitleLine>
        <div aria-live="polite" data-testid="strays">
          <VerdictMark plan={plan} pending={pending} failed={failed} goalTempo={passage.goalTempo ?? null} onNextStray={nextStray} onLimit={onLimit} />
        </div>
      </InTitleLine>
      <Tools
        passage={passage}
        stroke={stroke}
        note={note}
        canUndo={canUndo}
        canRedo={canRedo}
        gridName={GRIDS[grid]!.name}
        entry={entry}
        onEntry={setEntry}
        onUndo={() => dispatch(undo())}
        onRedo={() => dispatch(redo())}
        onGrid={nextGrid}
        onPassage={() => setDialog("passage")}
        onChord={() => setDialog("chord")}
        onRepeat={repeat}
        onEdit={(change) => dispatch(edit(change))}
        place={place}
        string={cursor.string}
        length={finest}
      />
      <ListenBar passage={passage} onListen={onListen} listen={listen} string={Math.min(cursor.string, strings)} isEmpty={isEmpty}>
        <button type="button" className="btn btn-sm" disabled={isEmpty} onClick={() => setOnStand(true)} title="Full screen for the music stand (S)">
          {STAND} <span className="max-sm:sr-only">Stand</span>
        </button>
        <Refinger passage={passage} onFound={(bars) => dispatch(edit({ kind: "set-bars", bars }))} />
      </ListenBar>
      <Score
        passage={passage}
        selection={range}
        onClipboard={clipboard}
        heard={heardStep ? { bar: heardStep.bar - 1, tick: ticksOf(heardStep.at) } : null}
        steps={steps}
        cursor={cursor}
        selected={selected}
        finest={finest}
        onMove={(to) => dispatch(movedTo(to))}
        onSelect={(from, to) => dispatch(selectedTo({ from, cursor: to }))}
        onDrop={({ edit: change, says }) => {
          if (!change || !dispatch(edit(change))) dispatch(notify({ says: `Nothing changed: ${says} is not possible here.` }));
        }}
        onKeyDown={onKeyDown}
        label={`${passage.title}: ${passage.bars.length} bars, ${strings} strings. Arrow keys move, digits set frets.`}
      />
      {dialog === "chord" && (
        <ChordDialog
          passage={passage}
          stroke={stroke}
          isRange={range !== null}
          onTake={(name, shape) => {
            const at = ticksAt(passage, cursor);
            dispatch(edit({ kind: "set-chord", ...(range ?? { from: at, to: at + 1 }), length: finest, name, shape }));
          }}
          grip={gripHere}
          onGrip={(grip) => dispatch(edit({ kind: "set-grip", place, grip: grip && { ...grip, at: fractionOf(place.tick) } }))}
          onClose={() => setDialog(null)}
        />
      )}
      {dialog === "passage" && (
        <PassageDialog
          passage={passage}
          bar={Math.min(cursor.bar, passage.bars.length - 1)}
          onEdit={(change) => dispatch(edit(change))}
          onClose={() => setDialog(null)}
        />
      )}
      {onStand && planned && (
        <Stand
          passage={passage}
          plan={planned}
          index={fromStep}
          heard={listen.step}
          onStep={(index) => {
            const step = planned.steps[index]!;
            dispatch(movedTo({ bar: step.bar - 1, tick: ticksOf(step.at), string: cursor.string }));
          }}
          onListen={() => onListen(false)}
          onClose={() => setOnStand(false)}
        />
      )}
      <p className="sr-only" aria-live="polite">
        Bar {cursor.bar + 1}, {spoken}
        {note ? `, fret ${note.fret}` : ""}
      </p>
      <FirstVisit plan={plan} atStray={selected?.step.strings[Math.min(cursor.string, strings) - 1]?.state === "stray"} onNextStray={nextStray} />
      <div className="min-h-0 flex-1 overflow-auto">
        <StepPanel
          passage={passage}
          plan={plan}
          selected={selected}
          string={Math.min(cursor.string, strings)}
          askWhy={askWhy}
          onLimit={onLimit}
          onPin={(pin) => dispatch(edit({ kind: "toggle-pin", pin }))}
          onRemedy={(patch) => dispatch(edit({ kind: "apply-patch", patch }))}
        />
      </div>
    </div>
  );
}

/** The first step that begins at a moment or after it; past the last one when there is none. */
function stepFrom(plan: PlanDocument, passage: Passage, ticks: number): number {
  const at = plan.steps.findIndex((step) => ticksAt(passage, { bar: step.bar - 1, tick: ticksOf(step.at) }) >= ticks);
  return at < 0 ? plan.steps.length : at;
}

/** From where the selection began up to the end of the place the cursor is on, whichever comes first. */
function selectedRange(passage: Passage, anchor: Place | null, cursor: Place, finest: number): { from: number; to: number } | null {
  if (!anchor) return null;
  const [a, b] = [ticksAt(passage, anchor), ticksAt(passage, cursor)];
  const last = a > b ? anchor : cursor;
  return { from: Math.min(a, b), to: Math.max(a, b) + gcd(barGrid(passage, last.bar), finest) };
}
