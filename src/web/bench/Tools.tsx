import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDown, Guitar, Redo2, Undo2 } from "lucide-react";
import { memo, useRef } from "react";
import type { Edit, Place } from "../../core/edit/edit.ts";
import { TEMPO } from "../../core/music/tempo.ts";
import type { Note, Passage, Stroke } from "../../core/passage/schema.ts";
import { ToolButton } from "../parts/ToolButton.tsx";
import { NumberField } from "../parts/TypedField.tsx";
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

/** What can be done at the cursor by pointer; every button names its key, and pressed again takes back what it did. */
export function Tools(props: ToolsProps) {
  const { note, stroke, place, string, passage, onEdit } = props;
  const actions = useRef<BarActions>(props);
  actions.current = props;
  const isFretted = note !== null && note.fret > 0;
  return (
    <div className="hidden flex-wrap items-center gap-x-2 gap-y-2 border-b border-base-300 px-4 py-1.5 sm:flex" role="toolbar" aria-label="At the cursor">
      <Group label="Undo and redo">
        <ToolButton label="Undo (Ctrl Z)" onClick={props.onUndo} disabled={!props.canUndo}>
          {UNDO}
        </ToolButton>
        <ToolButton label="Redo (Ctrl Shift Z)" onClick={props.onRedo} disabled={!props.canRedo}>
          {REDO}
        </ToolButton>
      </Group>
      <Tempo tempo={passage.tempo} onTempo={(tempo) => onEdit({ kind: "set-tempo", tempo })} />
      <ToolButton label="Instrument, player, gain, feel, meter (I)" onClick={props.onPassage}>
        {INSTRUMENT}
      </ToolButton>
      <Group label="Finger" shown>
        {FINGERS.map((finger) => (
          <ToolButton
            key={finger}
            label={`Finger ${finger} (Shift ${finger})`}
            pressed={note?.finger === finger}
            disabled={!isFretted}
            onClick={() => onEdit({ kind: "set-finger", place, string, finger: note?.finger === finger ? null : finger })}
          >
            {finger}
          </ToolButton>
        ))}
      </Group>
      <Group label="Tone" shown>
        {TONES.map(({ tone, says, label }) => (
          <ToolButton
            key={tone}
            label={label}
            pressed={note?.tone === tone}
            disabled={!note}
            onClick={() => onEdit({ kind: "set-tone", place, string, tone: note?.tone === tone ? "open" : tone })}
          >
            {says}
          </ToolButton>
        ))}
      </Group>
      <Group label="Stroke" shown>
        {DIRECTIONS.map(({ kind, sign, label }) => (
          <ToolButton
            key={kind}
            label={label}
            pressed={stroke?.stroke === kind}
            disabled={!stroke}
            onClick={() => onEdit({ kind: "set-stroke", place, stroke: stroke?.stroke === kind ? null : kind })}
          >
            <svg width={14} height={14} aria-hidden>
              <path d={sign} fill="currentColor" />
            </svg>
          </ToolButton>
        ))}
        {DEAD_STROKES.map(({ as, label }) => (
          <ToolButton
            key={as}
            label={label}
            pressed={stroke?.as === as}
            onClick={() => onEdit({ kind: "set-as", place, as: stroke?.as === as ? "play" : as, length: props.length })}
          >
            {as}
          </ToolButton>
        ))}
        <ToolButton label="Accent (A)" pressed={stroke?.accent === true} disabled={!stroke} onClick={() => onEdit({ kind: "toggle-accent", place })}>
          accent
        </ToolButton>
        <ToolButton
          label="Fingers click on this string with the stroke (F)"
          pressed={stroke?.click?.includes(string) === true}
          disabled={!stroke || note !== undefined || (stroke.as ?? "play") !== "play"}
          onClick={() => onEdit({ kind: "toggle-click", place, string })}
        >
          click
        </ToolButton>
      </Group>
      <NoteMenu note={(stroke?.as ?? "play") === "play" ? note : null} onChange={(change) => onEdit({ kind: "set-note", place, string, change })} />
      <ToolButton label="Chord by name or shape (K)" onClick={props.onChord}>
        chord
      </ToolButton>
      <ToolButton label="Move the selection, or the bar (M)" onClick={props.onMove}>
        move
      </ToolButton>
      <BarMenu bar={place.bar} canRemove={passage.bars.length > 1} actions={actions} />
      <div className="join">
        <ToolButton
          label={`Write on: every fret typed moves the cursor on (W)${entryWords(props.entry)}`}
          pressed={props.entry.writing}
          onClick={() => props.onEntry({ writing: !props.entry.writing, tone: "open", finger: null })}
        >
          write on{entryWords(props.entry)}
        </ToolButton>
        <ToolButton label={`Grid of the cursor: ${props.gridName} (G)`} onClick={props.onGrid}>
          {props.gridName}
        </ToolButton>
      </div>
    </div>
  );
}

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

/** Drawn anew only when what it shows changes: it stands beside every keypress. */
const BarMenu = memo(BarMenuItems, (before, now) => before.bar === now.bar && before.canRemove === now.canRemove && before.actions === now.actions);

interface BarActions {
  onEdit(change: Edit): void;
  onRepeat(): void;
}

function BarMenuItems({ bar, canRemove, actions }: { bar: number; canRemove: boolean; actions: React.RefObject<BarActions> }) {
  const items = [
    { says: "Add a bar after this one", key: "B", isOff: false, onClick: () => actions.current.onEdit({ kind: "add-bar", after: bar }) },
    { says: "Repeat this bar, or the selection", key: "R", isOff: false, onClick: () => actions.current.onRepeat() },
    { says: "Take this bar away", key: "", isOff: !canRemove, onClick: () => actions.current.onEdit({ kind: "remove-bar", bar }) },
  ];
  return (
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
  );
}

function Tempo({ tempo, onTempo }: { tempo: number; onTempo(tempo: number): void }) {
  const { lowest, highest } = TEMPO;
  return (
    <NumberField
      className="input input-sm w-15 text-base"
      value={tempo}
      least={lowest}
      most={highest}
      aria-label={`Tempo, ${lowest} to ${highest} quarters a minute`}
      title="Tempo in quarters a minute"
      onTake={onTempo}
    />
  );
}
