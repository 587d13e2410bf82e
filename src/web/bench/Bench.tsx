import { MonitorUp } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { createPortal } from "react-dom";
import { useDispatch, useSelector } from "react-redux";
import { Link, useNavigate, useParams } from "react-router";
import { barGrid, barLength, type Place, strokeAt } from "../../core/edit/edit.ts";
import { type Figure, figureOf, ticksAt } from "../../core/edit/range.ts";
import { readPassage } from "../../core/formats/read.ts";
import { gcd, ticksOf } from "../../core/music/ticks.ts";
import type { Note, Passage, Stroke } from "../../core/passage/schema.ts";
import type { PlanDocument } from "../../core/verdict/document.ts";
import { ListenBar } from "../listen/ListenBar.tsx";
import { useListen } from "../listen/use-listen.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { usePlan } from "../planner/use-plan.ts";
import { useLook } from "../setup/look.tsx";
import { Stand } from "../stand/Stand.tsx";
import { troubleOf, useCreateMutation, usePassageQuery } from "../store/api.ts";
import { dropDraft, keptDraft } from "../store/drafts.ts";
import { closed, edit, movedTo, opened, redo, undo } from "../store/edit-slice.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch, RootState } from "../store/root.ts";
import { keptBars, type StepBox, stepAt, stepsByBar } from "./layout.ts";
import { PassageDialog } from "./PassageDialog.tsx";
import { Refinger } from "./Refinger.tsx";
import { SaveMark } from "./SaveMark.tsx";
import { Score } from "./Score.tsx";
import { StepPanel } from "./StepPanel.tsx";
import { Tools } from "./Tools.tsx";
import { type Entry, GRIDS, useKeys } from "./use-keys.ts";
import { VerdictMark } from "./VerdictMark.tsx";
import { stringWords } from "./words.ts";

const START = { bar: 0, tick: 0, string: 1 };

/** The passage and its plan. Opens from the library, or from what the browser kept when the server is away. */
export function Bench() {
  const { id = "" } = useParams();
  const { data, error, isFetching, refetch } = usePassageQuery(id, { refetchOnMountOrArgChange: true });
  const dispatch = useDispatch<Dispatch>();
  const state = useSelector((root: RootState) => root.edit);
  const status = (error as { status?: unknown } | undefined)?.status;

  useEffect(() => {
    if (isFetching || (!data && !error)) return;
    const draft = keptDraft(id);
    if (data) {
      const newer = draft?.unsaved && JSON.stringify(draft.passage) !== JSON.stringify(data.passage) ? draft : null;
      if (newer)
        dispatch(
          opened({
            id,
            passage: newer.passage,
            version: newer.version,
            past: newer.past,
            future: newer.future,
            cursor: newer.cursor,
            save: newer.version === data.version ? "unsaved" : "stale",
          }),
        );
      else {
        const same = draft && draft.version === data.version ? draft : null;
        dispatch(
          opened({
            id,
            passage: data.passage,
            version: data.version,
            past: same?.past ?? [],
            future: same?.future ?? [],
            cursor: same?.cursor ?? START,
            save: "saved",
          }),
        );
      }
    } else if (draft && status !== 404) dispatch(opened({ id, ...draft, save: draft.unsaved ? "unsaved" : "saved" }));
  }, [id, data, error, status, isFetching, dispatch]);

  useEffect(() => () => void dispatch(closed()), [dispatch]);

  if (state.id === id && state.passage) return <BenchView passage={state.passage} />;
  if (error && !isFetching)
    return (
      <div className="mx-auto mt-16 max-w-2xl text-lg">
        <Trouble {...troubleOf(error)}>
          <div className="mt-3 flex gap-3">
            <button type="button" className="btn btn-sm" onClick={refetch}>
              Try again
            </button>
            <Link className="btn btn-sm btn-ghost" to="/">
              To the shelf
            </Link>
          </div>
        </Trouble>
      </div>
    );
  return <Waiting says="Fetching the passage" />;
}

function BenchView({ passage }: { passage: Passage }) {
  const dispatch = useDispatch<Dispatch>();
  const { cursor, anchor, past, future } = useSelector((root: RootState) => root.edit);
  const { plan, of, tookMs, pending, failed, askWhy } = usePlan(passage);
  const [grid, setGrid] = useState(0);
  const [entry, setEntry] = useState<Entry>({ writing: false, tone: "open", finger: null });
  const [dialog, setDialog] = useState(false);
  const [onStand, setOnStand] = useState(false);
  const finest = GRIDS[grid]!.ticks;
  // The plan of the moment before keeps standing while the next one is made, as long as the bars match.
  const planned = of && of.bars.length === passage.bars.length ? plan : null;
  const drawn = useRef<StepBox[][]>([]);
  const steps = useMemo(() => {
    drawn.current = keptBars(stepsByBar(planned, passage), drawn.current);
    return drawn.current;
  }, [planned, passage]);
  const selected = stepAt(steps, cursor);
  const stroke: Stroke | null = strokeAt(passage, cursor) ?? null;
  const note: Note | null = stroke?.notes.find((n) => n.string === cursor.string) ?? null;
  const place = { bar: cursor.bar, tick: cursor.tick };
  const strings = passage.instrument.tuning.length;

  useEffect(() => {
    document.title = `${passage.title} · Rest Hand`;
  }, [passage.title]);
  useEffect(() => {
    const bar = Math.min(cursor.bar, passage.bars.length - 1);
    const string = Math.min(cursor.string, strings);
    if (bar !== cursor.bar || string !== cursor.string) dispatch(movedTo({ bar, tick: bar === cursor.bar ? cursor.tick : 0, string }));
  }, [cursor, passage.bars.length, strings, dispatch]);

  const nextStray = () => {
    if (!plan || plan.strays.length === 0) return;
    const at = (stray: { fromBar: number; fromAt: string; string: number }) => (stray.fromBar - 1) * 1e9 + ticksOf(stray.fromAt) * 10 + stray.string;
    const here = cursor.bar * 1e9 + cursor.tick * 10 + cursor.string;
    const sorted = [...plan.strays].sort((a, b) => at(a) - at(b));
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
  const taken = range ?? { from: barStart, to: barStart + barLength(passage.bars[Math.min(cursor.bar, passage.bars.length - 1)]!.meter) };
  const pasteAt = (at: number, figure: Figure) => {
    if (!dispatch(edit({ kind: "paste", at, figure })))
      dispatch(notify({ says: "This does not fit: it needs a string or a fret that this instrument has not." }));
  };
  const clipboard = {
    copy: (event: React.ClipboardEvent) => {
      event.clipboardData.setData("text/plain", FIGURE_MARK + JSON.stringify(figureOf(passage, taken.from, taken.to)));
      event.preventDefault();
    },
    cut: (event: React.ClipboardEvent) => {
      clipboard.copy(event);
      dispatch(edit({ kind: "clear", ...taken }));
    },
    paste: (event: React.ClipboardEvent) => {
      const found = figureIn(event.clipboardData.getData("text/plain"));
      event.preventDefault();
      if (typeof found === "string") dispatch(notify({ says: found }));
      else pasteAt(range?.from ?? ticksAt(passage, cursor), found);
    },
  };
  const onKeyDown = useKeys(finest, {
    entry,
    setEntry,
    repeat: () => pasteAt(taken.to, figureOf(passage, taken.from, taken.to)),
    clear: () => range !== null && dispatch(edit({ kind: "clear", ...range })),
    nextStray,
    nextGrid: () => setGrid((grid + 1) % GRIDS.length),
    stand: () => setOnStand(!isEmpty),
    passage: () => setDialog(true),
    listen: onListen,
    lowestOnTop: useLook().look.top === "lowest",
  });
  const spoken = selected ? stringWords(selected.step.strings[cursor.string - 1]!) : `string ${cursor.string}: nothing yet`;

  return (
    <div className="flex h-full flex-col" data-planned={of === passage ? tookMs.toFixed(1) : "pending"}>
      <TitleLine passage={passage}>
        <div aria-live="polite" data-testid="strays">
          <VerdictMark plan={plan} pending={pending} failed={failed} goalTempo={passage.goalTempo ?? null} onNextStray={nextStray} />
        </div>
      </TitleLine>
      <StaleBanner />
      <Tools
        passage={passage}
        stroke={stroke}
        note={note}
        canUndo={past.length > 0}
        canRedo={future.length > 0}
        gridName={GRIDS[grid]!.name}
        entry={entry}
        onEntry={setEntry}
        onUndo={() => dispatch(undo())}
        onRedo={() => dispatch(redo())}
        onGrid={() => setGrid((grid + 1) % GRIDS.length)}
        onPassage={() => setDialog(true)}
        onTempo={(tempo) => dispatch(edit({ kind: "set-tempo", tempo }))}
        onFinger={(finger) => dispatch(edit({ kind: "set-finger", place, string: cursor.string, finger }))}
        onTone={(tone) => dispatch(edit({ kind: "set-tone", place, string: cursor.string, tone }))}
        onStroke={(kind) => dispatch(edit({ kind: "set-stroke", place, stroke: kind }))}
        onAs={(as) => dispatch(edit({ kind: "set-as", place, as, length: finest }))}
        onAddBar={() => dispatch(edit({ kind: "add-bar", after: cursor.bar }))}
        onRemoveBar={() => dispatch(edit({ kind: "remove-bar", bar: cursor.bar }))}
      />
      <ListenBar onListen={onListen} listen={listen} string={Math.min(cursor.string, strings)} isEmpty={isEmpty}>
        <button type="button" className="btn btn-sm" disabled={isEmpty} onClick={() => setOnStand(true)} title="Full screen for the music stand (S)">
          <MonitorUp size={16} aria-hidden /> Stand
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
        onKeyDown={onKeyDown}
        label={`${passage.title}: ${passage.bars.length} bars, ${strings} strings. Arrow keys move, digits set frets.`}
      />
      {dialog && (
        <PassageDialog
          passage={passage}
          bar={Math.min(cursor.bar, passage.bars.length - 1)}
          onEdit={(change) => dispatch(edit(change))}
          onClose={() => setDialog(false)}
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
      <div className="min-h-0 flex-1 overflow-auto">
        <StepPanel
          passage={passage}
          plan={plan}
          selected={selected}
          string={Math.min(cursor.string, strings)}
          askWhy={askWhy}
          onPin={(pin) => dispatch(edit({ kind: "toggle-pin", pin }))}
          onRemedy={(patch) => dispatch(edit({ kind: "apply-patch", patch }))}
        />
      </div>
    </div>
  );
}

const FIGURE_MARK = "rest-hand-figure:";

/** Music in copied text: a figure of ours, a passage document or a tablature; or why there is none. */
function figureIn(text: string): Figure | string {
  if (text.startsWith(FIGURE_MARK)) {
    try {
      return JSON.parse(text.slice(FIGURE_MARK.length)) as Figure;
    } catch {
      return "What was copied is damaged. Copy it again.";
    }
  }
  const read = readPassage(text);
  if (!read.ok) return `This could not be read as music: ${read.faults[0]!.place}: ${read.faults[0]!.says}`;
  const { passage } = read.value;
  return figureOf(passage, 0, ticksAt(passage, { bar: passage.bars.length, tick: 0 }));
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

/** Title, save state: they live in the page's head line. */
function TitleLine({ passage, children }: { passage: Passage; children: React.ReactNode }) {
  const dispatch = useDispatch<Dispatch>();
  const [text, setText] = useState<string | null>(null);
  const [head, setHead] = useState<HTMLElement | null>(null);
  useEffect(() => setHead(document.getElementById("place-title")), []);
  if (!head) return null;
  return createPortal(
    <>
      <Link to="/" className="link shrink-0">
        Shelf
      </Link>
      <h1 className="min-w-28 flex-1">
        <input
          className="input input-ghost w-full max-w-md text-lg font-bold"
          aria-label="Title"
          value={text ?? passage.title}
          maxLength={200}
          onChange={(event) => setText(event.target.value)}
          onBlur={() => {
            if (text !== null && text !== passage.title) dispatch(edit({ kind: "set-title", title: text }));
            setText(null);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
      </h1>
      {children}
      <SaveMark />
    </>,
    head,
  );
}

/** Another place saved this passage meanwhile: nothing is overwritten, the player decides. */
function StaleBanner() {
  const { save, id, passage } = useSelector((root: RootState) => root.edit);
  const [create, { isLoading }] = useCreateMutation();
  const dispatch = useDispatch<Dispatch>();
  const navigate = useNavigate();
  if (save !== "stale" || !id || !passage) return null;
  const keep = async () => {
    const made = await create({ ...passage, title: `${passage.title} (my copy)` });
    if (!made.data) {
      dispatch(notify({ says: troubleOf(made.error).title }));
      return;
    }
    dropDraft(id);
    navigate(`/bench/${made.data.id}`);
  };
  const take = () => {
    dropDraft(id);
    navigate(0);
  };
  return (
    <div role="alert" className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-200 px-5 py-2">
      <p className="mr-auto font-semibold">
        This passage was changed or removed elsewhere since you opened it. Your work is kept here and nothing was overwritten.
      </p>
      <button type="button" className="btn btn-sm btn-primary" disabled={isLoading} onClick={() => void keep()}>
        Keep mine as a copy
      </button>
      <button type="button" className="btn btn-sm" onClick={take}>
        Take the saved one
      </button>
    </div>
  );
}
