import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDown, Guitar, Redo2, Undo2 } from "lucide-react";
import { memo, useCallback, useMemo, useRef } from "react";
import type { Edit, Place } from "../../core/edit/edit.ts";
import type { NoteChange } from "../../core/edit/types.ts";
import { TEMPO } from "../../core/music/tempo.ts";
import type { Note, Passage, Stroke } from "../../core/passage/schema.ts";
import { ToolButton } from "../parts/ToolButton.tsx";
import { NumberField } from "../parts/TypedField.tsx";
import { useAtRest } from "../parts/use-at-rest.ts";
import { NoteMenu } from "./NoteMenu.tsx";
import type { Entry } from "./use-keys.ts";

export interface ToolsProps {
  passage: Passage;
  /** What is at the cursor. */
  stroke: Stroke | null;
  note: Note | null;
  place: Place;
  string: number;
  /** How long a new stroke lasts, in ticks. */
  length: number;
  canUndo: boolean;
  canRedo: boolean;
  gridName: string;
  entry: Entry;
  onEdit(change: Edit): void;
  onEntry(entry: Entry): void;
  onUndo(): void;
  onRedo(): void;
  onGrid(): void;
  onPassage(): void;
  onChord(): void;
  onMove(): void;
  onRepeat(): void;
}

const FINGERS = [1, 2, 3, 4] as const;
const TONES = [
  { tone: "palm", says: "palm", label: "Palm-muted (P)" },
  { tone: "ghost", says: "dead", label: "Dead note (X)" },
] as const;
const DIRECTIONS = [
  { kind: "down", sign: "M1 2h12l-6 11z", label: "Down-stroke (D)" },
  { kind: "up", sign: "M1 12h12l-6 -11z", label: "Up-stroke (U)" },
] as const;
const DEAD_STROKES = [
  { as: "chuck", label: "Chuck (C)" },
  { as: "ghost", label: "Ghost stroke (X)" },
] as const;

// The same signs at every drawing, so that they are not drawn again at every key.
const UNDO = <Undo2 size={18} aria-hidden />;
const REDO = <Redo2 size={18} aria-hidden />;
const INSTRUMENT = <Guitar size={18} aria-hidden />;

/**
 * What can be done at the cursor by pointer; every button names its key, and pressed again takes back what it did. Buttons show what
 * is at the cursor when keys rest, so that they do not flicker under keys in a row, and ask what is there when they are pressed. Each
 * group is drawn anew only when what it shows changes.
 */
export function Tools(props: ToolsProps) {
  const { note, stroke, string, place, passage } = props;
  const shown = useAtRest(useMemo(() => ({ note, stroke, string }), [note, stroke, string]));
  const newest = useRef<ToolsProps>(props);
  newest.current = props;
  const changeNote = useCallback((change: NoteChange) => {
    const { place: at, string: on, onEdit } = newest.current;
    onEdit({ kind: "set-note", place: at, string: on, change });
  }, []);
  return (
    <div className="hidden flex-wrap items-center gap-x-2 gap-y-2 border-b border-base-300 px-4 py-1.5 sm:flex" role="toolbar" aria-label="At the cursor">
      <UndoRedo canUndo={props.canUndo} canRedo={props.canRedo} newest={newest} />
      <TempoAndInstrument tempo={passage.tempo} newest={newest} />
      <Fingers finger={shown.note?.finger} isFretted={shown.note !== null && shown.note.fret > 0} newest={newest} />
      <Tones tone={shown.note?.tone} isNote={shown.note !== null} newest={newest} />
      <Strokes
        stroke={shown.stroke?.stroke}
        as={shown.stroke?.as}
        accent={shown.stroke?.accent === true}
        clicks={shown.stroke?.click?.includes(shown.string) === true}
        isStroke={shown.stroke !== null}
        canClick={shown.stroke !== null && shown.note === null && (shown.stroke.as ?? "play") === "play"}
        newest={newest}
      />
      <NoteMenu note={(shown.stroke?.as ?? "play") === "play" ? shown.note : null} onChange={changeNote} />
      <ChordAndBar bar={place.bar} canRemove={passage.bars.length > 1} newest={newest} />
      <Writing entry={props.entry} gridName={props.gridName} newest={newest} />
    </div>
  );
}

/** What is to be done when something is pressed, and what is at the cursor then. */
interface Newest {
  newest: React.RefObject<ToolsProps>;
}

const UndoRedo = memo(function UndoRedo({ canUndo, canRedo, newest }: Newest & { canUndo: boolean; canRedo: boolean }) {
  return (
    <Group label="Undo and redo">
      <ToolButton label="Undo (Ctrl Z)" onClick={() => newest.current.onUndo()} disabled={!canUndo}>
        {UNDO}
      </ToolButton>
      <ToolButton label="Redo (Ctrl Shift Z)" onClick={() => newest.current.onRedo()} disabled={!canRedo}>
        {REDO}
      </ToolButton>
    </Group>
  );
});

const TempoAndInstrument = memo(function TempoAndInstrument({ tempo, newest }: Newest & { tempo: number }) {
  const { lowest, highest } = TEMPO;
  return (
    <>
      <NumberField
        className="input input-sm w-15 text-base"
        value={tempo}
        least={lowest}
        most={highest}
        aria-label={`Tempo, ${lowest} to ${highest} quarters a minute`}
        title="Tempo in quarters a minute"
        onTake={(typed) => newest.current.onEdit({ kind: "set-tempo", tempo: typed })}
      />
      <ToolButton label="Instrument, player, gain, feel, meter (I)" onClick={() => newest.current.onPassage()}>
        {INSTRUMENT}
      </ToolButton>
    </>
  );
});

const Fingers = memo(function Fingers({ finger: on, isFretted, newest }: Newest & { finger: Note["finger"]; isFretted: boolean }) {
  const toggle = (finger: (typeof FINGERS)[number]) => {
    const { note, place, string, onEdit } = newest.current;
    onEdit({ kind: "set-finger", place, string, finger: note?.finger === finger ? null : finger });
  };
  return (
    <Group label="Finger" shown>
      {FINGERS.map((finger) => (
        <ToolButton key={finger} label={`Finger ${finger} (Shift ${finger})`} pressed={on === finger} disabled={!isFretted} onClick={() => toggle(finger)}>
          {finger}
        </ToolButton>
      ))}
    </Group>
  );
});

const Tones = memo(function Tones({ tone: on, isNote, newest }: Newest & { tone: Note["tone"]; isNote: boolean }) {
  const toggle = (tone: (typeof TONES)[number]["tone"]) => {
    const { note, place, string, onEdit } = newest.current;
    onEdit({ kind: "set-tone", place, string, tone: note?.tone === tone ? "open" : tone });
  };
  return (
    <Group label="Tone" shown>
      {TONES.map(({ tone, says, label }) => (
        <ToolButton key={tone} label={label} pressed={on === tone} disabled={!isNote} onClick={() => toggle(tone)}>
          {says}
        </ToolButton>
      ))}
    </Group>
  );
});

interface StrokesProps extends Newest, Pick<Stroke, "stroke" | "as"> {
  accent: boolean;
  /** Whether fingers come down on the string at the cursor. */
  clicks: boolean;
  isStroke: boolean;
  canClick: boolean;
}

const Strokes = memo(function Strokes({ stroke, as: isAs, accent, clicks, isStroke, canClick, newest }: StrokesProps) {
  const toggle = (kind: (typeof DIRECTIONS)[number]["kind"]) => {
    const { stroke: now, place, onEdit } = newest.current;
    onEdit({ kind: "set-stroke", place, stroke: now?.stroke === kind ? null : kind });
  };
  const toggleDead = (as: (typeof DEAD_STROKES)[number]["as"]) => {
    const { stroke: now, place, length, onEdit } = newest.current;
    onEdit({ kind: "set-as", place, as: now?.as === as ? "play" : as, length });
  };
  return (
    <Group label="Stroke" shown>
      {DIRECTIONS.map(({ kind, sign, label }) => (
        <ToolButton key={kind} label={label} pressed={stroke === kind} disabled={!isStroke} onClick={() => toggle(kind)}>
          <svg width={14} height={14} aria-hidden>
            <path d={sign} fill="currentColor" />
          </svg>
        </ToolButton>
      ))}
      {DEAD_STROKES.map(({ as, label }) => (
        <ToolButton key={as} label={label} pressed={isAs === as} onClick={() => toggleDead(as)}>
          {as}
        </ToolButton>
      ))}
      <ToolButton
        label="Accent (A)"
        pressed={accent}
        disabled={!isStroke}
        onClick={() => newest.current.onEdit({ kind: "toggle-accent", place: newest.current.place })}
      >
        accent
      </ToolButton>
      <ToolButton
        label="Fingers click on this string with the stroke (F)"
        pressed={clicks}
        disabled={!canClick}
        onClick={() => newest.current.onEdit({ kind: "toggle-click", place: newest.current.place, string: newest.current.string })}
      >
        click
      </ToolButton>
    </Group>
  );
});

const Writing = memo(function Writing({ entry, gridName, newest }: Newest & Pick<ToolsProps, "entry" | "gridName">) {
  const says = entryWords(entry);
  return (
    <div className="join">
      <ToolButton
        label={`Write on: every fret typed moves the cursor on (W)${says}`}
        pressed={entry.writing}
        onClick={() => newest.current.onEntry({ writing: !entry.writing, tone: "open", finger: null })}
      >
        write on{says}
      </ToolButton>
      <ToolButton label={`Grid of the cursor: ${gridName} (G)`} onClick={() => newest.current.onGrid()}>
        {gridName}
      </ToolButton>
    </div>
  );
});

/** With what notes are written on, if not plain. */
function entryWords({ writing, tone, finger }: Entry): string {
  const kept = [tone === "open" ? "" : tone, finger ? `finger ${finger}` : ""].filter(Boolean);
  return writing && kept.length > 0 ? `: ${kept.join(", ")}` : "";
}

function Group({ label, shown = false, children }: { label: string; shown?: boolean; children: React.ReactNode }) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be laid out inside a toolbar line
    <div role="group" aria-label={label} className="flex items-center gap-2">
      {shown && (
        <span className="quiet hidden text-sm xl:inline" aria-hidden>
          {label}
        </span>
      )}
      <div className="join">{children}</div>
    </div>
  );
}

const ChordAndBar = memo(function ChordAndBar({ bar, canRemove, newest }: Newest & { bar: number; canRemove: boolean }) {
  const items = [
    { says: "Add a bar after this one", key: "B", isOff: false, onClick: () => newest.current.onEdit({ kind: "add-bar", after: bar }) },
    { says: "Repeat this bar, or the selection", key: "R", isOff: false, onClick: () => newest.current.onRepeat() },
    { says: "Take this bar away", key: "", isOff: !canRemove, onClick: () => newest.current.onEdit({ kind: "remove-bar", bar }) },
  ];
  return (
    <>
      <ToolButton label="Chord by name or shape (K)" onClick={() => newest.current.onChord()}>
        chord
      </ToolButton>
      <ToolButton label="Move the selection, or the bar (M)" onClick={() => newest.current.onMove()}>
        move
      </ToolButton>
      <Menu>
        <MenuButton className="btn btn-sm px-2.5">
          bar <ChevronDown size={14} aria-hidden />
        </MenuButton>
        <MenuItems anchor="bottom start" className="z-20 mt-1 rounded-lg border border-base-300 bg-base-100 p-1.5 shadow-lg">
          {items.map(({ says, key, isOff, onClick }) => (
            <MenuItem key={says} disabled={isOff}>
              <button
                type="button"
                className="flex w-full items-center justify-between gap-6 rounded px-3 py-2 text-left data-disabled:opacity-50 data-focus:bg-base-300"
                onClick={onClick}
              >
                {says}
                {key && <kbd className="kbd kbd-sm">{key}</kbd>}
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
    </>
  );
});
