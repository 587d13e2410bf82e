import { MonitorUp } from "lucide-react";
import { useState } from "react";
import { useDispatch, useSelector } from "react-redux";
import type { Limit } from "../../core/document/plan.ts";
import { heardStrays } from "../../core/document/plan.ts";
import { type Place, strokeAt } from "../../core/edit/edit.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Note, Passage, Stroke } from "../../core/passage/schema.ts";
import { settingsOf } from "../../core/passage/settings.ts";
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
import { movedTo, selectedTo } from "../store/edit-slice.ts";
import { edit, redo, undo } from "../store/editing.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch, RootState } from "../store/root.ts";
import { Dialogs, type OpenDialog } from "./Dialogs.tsx";
import { FirstVisit } from "./FirstVisit.tsx";
import { Refinger } from "./Refinger.tsx";
import { StepPanel } from "./StepPanel.tsx";
import { selectedRange, stepFrom, strayAfter } from "./selection.ts";
import { Tools } from "./Tools.tsx";
import { useCopying } from "./use-copying.ts";
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
  const { plan, planned, steps, of, job, tookMs, searching, pending, failed, askWhy } = usePlanned(passage);
  const [grid, setGrid] = useState(0);
  const [entry, setEntry] = useState<Entry>({ writing: false, tone: "open", finger: null });
  const [dialog, setDialog] = useState<OpenDialog>(null);
  const [onStand, setOnStand] = useState(false);
  const finest = GRIDS[grid]!.ticks;
  const selected = stepAt(steps, cursor);
  const stroke: Stroke | null = strokeAt(passage, cursor) ?? null;
  const note: Note | null = stroke?.notes.find((n) => n.string === cursor.string) ?? null;
  const place = { bar: cursor.bar, tick: cursor.tick };
  const strings = passage.instrument.tuning.length;

  const move = (to: Place & { string: number }) => dispatch(movedTo(to));
  const nextStray = () => {
    const next = strayAfter(plan ? heardStrays(plan) : [], cursor);
    if (next) move(next);
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
  const { clipboard, repeat } = useCopying(passage, range, cursor);
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
    move: () => setDialog("move"),
    listen: onListen,
    lowestOnTop: useLook().look.top === "lowest",
  });
  const onLimit = ({ bar, at }: Limit) => move({ bar: bar! - 1, tick: ticksOf(at!), string: cursor.string });
  const spoken = selected ? stringWords(selected.strings[cursor.string - 1]!, settingsOf(passage).gain) : `string ${cursor.string}: nothing yet`;

  return (
    <div className="flex h-full flex-col" data-planned={of === passage ? tookMs.toFixed(1) : "pending"} data-plan={job}>
      <InTitleLine>
        <div aria-live="polite" data-testid="strays">
          <VerdictMark
            plan={plan}
            pending={pending}
            failed={failed}
            goalTempo={passage.goalTempo ?? null}
            searching={searching}
            onNextStray={nextStray}
            onLimit={onLimit}
          />
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
        onMove={() => setDialog("move")}
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
        onMove={move}
        onSelect={(from, to) => dispatch(selectedTo({ from, cursor: to }))}
        onDrop={({ edit: change, says }) => {
          if (!change || !dispatch(edit(change))) dispatch(notify({ says: `Nothing changed: ${says} is not possible here.` }));
        }}
        onKeyDown={onKeyDown}
        label={`${passage.title}: ${passage.bars.length} bars, ${strings} strings. Arrow keys move, digits set frets.`}
      />
      <Dialogs open={dialog} passage={passage} cursor={cursor} range={range} stroke={stroke} length={finest} onClose={() => setDialog(null)} />
      {onStand && planned && (
        <Stand
          passage={passage}
          plan={planned}
          index={fromStep}
          heard={listen.step}
          onStep={(index) => {
            const step = planned.steps[index]!;
            move({ bar: step.bar - 1, tick: ticksOf(step.at), string: cursor.string });
          }}
          onListen={() => onListen(false)}
          onClose={() => setOnStand(false)}
        />
      )}
      <p className="sr-only" aria-live="polite">
        Bar {cursor.bar + 1}, {spoken}
        {note ? `, fret ${note.fret}` : ""}
      </p>
      <FirstVisit plan={plan} atStray={selected?.strings[Math.min(cursor.string, strings) - 1]?.state === "stray"} onNextStray={nextStray} />
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
