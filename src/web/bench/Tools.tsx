import { Guitar, Redo2, Undo2 } from "lucide-react";
import { useState } from "react";
import type { Edit } from "../../core/edit/edit.ts";
import type { Note, Passage, Stroke } from "../../core/passage/schema.ts";
import type { Entry } from "./use-keys.ts";

export interface ToolsProps {
  passage: Passage;
  stroke: Stroke | null;
  note: Note | null;
  canUndo: boolean;
  canRedo: boolean;
  gridName: string;
  entry: Entry;
  onEntry(entry: Entry): void;
  onUndo(): void;
  onRedo(): void;
  onGrid(): void;
  onPassage(): void;
  onTempo(tempo: number): void;
  onFinger(finger: 1 | 2 | 3 | 4 | null): void;
  onTone(tone: NonNullable<Note["tone"]>): void;
  onStroke(stroke: Extract<Edit, { kind: "set-stroke" }>["stroke"]): void;
  onAs(as: NonNullable<Stroke["as"]>): void;
  onAddBar(): void;
  onRemoveBar(): void;
}

/** What can be done at the cursor by pointer; every button names its key. */
export function Tools(props: ToolsProps) {
  const { note, stroke, passage } = props;
  const as = stroke?.as ?? "play";
  return (
    <div className="hidden flex-wrap items-center gap-x-3 gap-y-2 border-b sm:flex border-base-300 px-4 py-1.5" role="toolbar" aria-label="At the cursor">
      <div className="join">
        <Tool label="Undo (Ctrl Z)" onClick={props.onUndo} disabled={!props.canUndo}>
          <Undo2 size={18} aria-hidden />
        </Tool>
        <Tool label="Redo (Ctrl Shift Z)" onClick={props.onRedo} disabled={!props.canRedo}>
          <Redo2 size={18} aria-hidden />
        </Tool>
      </div>
      <Tempo tempo={passage.tempo} onTempo={props.onTempo} />
      <Tool label="Instrument, player, gain, feel, meter (I)" onClick={props.onPassage}>
        <Guitar size={18} aria-hidden />
      </Tool>
      <Group label="Finger">
        <Tool
          label="The engine chooses the finger (Shift 0)"
          pressed={note !== null && note.finger === undefined}
          disabled={!note || note.fret === 0}
          onClick={() => props.onFinger(null)}
        >
          auto
        </Tool>
        {([1, 2, 3, 4] as const).map((finger) => (
          <Tool
            key={finger}
            label={`Finger ${finger} (Shift ${finger})`}
            pressed={note?.finger === finger}
            disabled={!note || note.fret === 0}
            onClick={() => props.onFinger(finger)}
          >
            {finger}
          </Tool>
        ))}
      </Group>
      <Group label="Tone">
        {(["open", "palm", "ghost"] as const).map((tone) => (
          <Tool
            key={tone}
            label={{ open: "Open tone (P again)", palm: "Palm-muted (P)", ghost: "Dead note (X)" }[tone]}
            pressed={note !== null && (note.tone ?? "open") === tone}
            disabled={!note}
            onClick={() => props.onTone(tone)}
          >
            {{ open: "open", palm: "palm", ghost: "dead" }[tone]}
          </Tool>
        ))}
      </Group>
      <Group label="Stroke">
        <Tool label="As the pendulum has it" pressed={stroke !== null && stroke.stroke === undefined} disabled={!stroke} onClick={() => props.onStroke(null)}>
          auto
        </Tool>
        <Tool label="Down-stroke (D)" pressed={stroke?.stroke === "down"} disabled={!stroke} onClick={() => props.onStroke("down")}>
          down
        </Tool>
        <Tool label="Up-stroke (U)" pressed={stroke?.stroke === "up"} disabled={!stroke} onClick={() => props.onStroke("up")}>
          up
        </Tool>
        <Tool label="Chuck (C)" pressed={as === "chuck"} onClick={() => props.onAs(as === "chuck" ? "play" : "chuck")}>
          chuck
        </Tool>
        <Tool label="Ghost stroke (X)" pressed={as === "ghost"} onClick={() => props.onAs(as === "ghost" ? "play" : "ghost")}>
          ghost
        </Tool>
      </Group>
      <Group label="Bar">
        <Tool label="Add a bar after this one (B)" onClick={props.onAddBar}>
          add
        </Tool>
        <Tool label="Take this bar away" onClick={props.onRemoveBar} disabled={passage.bars.length < 2}>
          remove
        </Tool>
      </Group>
      <button
        type="button"
        className={`btn btn-sm ${props.entry.writing ? "btn-primary" : "btn-ghost"}`}
        aria-pressed={props.entry.writing}
        onClick={() => props.onEntry({ writing: !props.entry.writing, tone: "open", finger: null })}
        onMouseDown={(event) => event.preventDefault()}
        title="Every fret typed moves the cursor on (W)"
      >
        write on
        {props.entry.writing && (props.entry.tone !== "open" || props.entry.finger)
          ? `: ${[props.entry.tone === "open" ? "" : props.entry.tone, props.entry.finger ? `finger ${props.entry.finger}` : ""].filter(Boolean).join(", ")}`
          : ""}
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={props.onGrid} title="Grid of the cursor (G)">
        {props.gridName}
      </button>
    </div>
  );
}

function Group({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be laid out inside a toolbar line
    <div role="group" aria-label={label} className="flex items-center gap-2">
      <span className="quiet hidden text-sm xl:inline" aria-hidden>
        {label}
      </span>
      <div className="join">{children}</div>
    </div>
  );
}

function Tool({
  label,
  pressed,
  disabled = false,
  onClick,
  children,
}: {
  label: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick(): void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      className={`btn btn-sm join-item px-2.5 ${pressed ? "btn-primary" : ""}`}
      aria-label={label}
      title={label}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
      onMouseDown={(event) => event.preventDefault()}
    >
      {children}
    </button>
  );
}

function Tempo({ tempo, onTempo }: { tempo: number; onTempo(tempo: number): void }) {
  const [text, setText] = useState<string | null>(null);
  const value = Number(text ?? tempo);
  const valid = value >= 20 && value <= 400;
  const commit = () => {
    if (text !== null && valid) onTempo(value);
    setText(null);
  };
  return (
    <label className="flex items-center gap-2">
      <input
        className="input input-sm w-18 text-base"
        inputMode="numeric"
        value={text ?? tempo}
        aria-invalid={!valid}
        aria-label="Tempo, 20 to 400 quarters a minute"
        onChange={(event) => setText(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
          if (event.key === "Escape") setText(null);
        }}
      />
    </label>
  );
}
