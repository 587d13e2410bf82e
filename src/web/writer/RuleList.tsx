import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, type UniqueIdentifier, useSensor, useSensors } from "@dnd-kit/core";
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical, X } from "lucide-react";
import { SCHOOLS } from "../../core/hands/schools.ts";
import { parsePitch } from "../../core/music/pitch.ts";
import { parsePattern } from "../../core/passage/pattern.ts";
import type { Rule } from "../../core/passage/schema.ts";
import type { RuleReport } from "../../core/writer/report.ts";
import { Select } from "../parts/Select.tsx";
import { PatternSigns } from "./PatternSigns.tsx";
import { RULE_WORDS } from "./rule-words.ts";
import { TypedLine } from "./TypedLine.tsx";

/** The rules in the order in which they work; dragged, or moved by keys from their grip. */
export function RuleList({
  rules,
  reports,
  bars,
  patternRef,
  onChange,
}: {
  rules: readonly Rule[];
  reports: readonly (RuleReport | null)[];
  /** How many the passage has. */
  bars: number;
  /** The first pattern's line. */
  patternRef: React.Ref<HTMLInputElement>;
  onChange(rules: Rule[]): void;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = rules.map((rule, i) => `${i}-${rule.kind}`);
  const firstPattern = rules.findIndex((rule) => rule.kind === "pattern");
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) onChange(arrayMove([...rules], ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
  };
  const named = (id: UniqueIdentifier) => RULE_WORDS[rules[ids.indexOf(String(id))]!.kind].title;
  const announcements = {
    onDragStart: ({ active }: Pick<DragEndEvent, "active">) => `${named(active.id)} is taken. Arrows move it, Space lets it go, Escape leaves it where it was.`,
    onDragOver: ({ active, over }: Pick<DragEndEvent, "active" | "over">) =>
      over ? `${named(active.id)} is at place ${ids.indexOf(String(over.id)) + 1}.` : "",
    onDragEnd: ({ active, over }: Pick<DragEndEvent, "active" | "over">) =>
      `${named(active.id)} is let go${over ? ` at place ${ids.indexOf(String(over.id)) + 1}` : ""}.`,
    onDragCancel: ({ active }: Pick<DragEndEvent, "active">) => `${named(active.id)} stays where it was.`,
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd} accessibility={{ announcements }}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol className="space-y-1">
          {rules.map((rule, i) => (
            <RuleRow
              key={ids[i]}
              id={ids[i]!}
              rule={rule}
              report={reports[i] ?? null}
              bars={bars}
              patternRef={i === firstPattern ? patternRef : undefined}
              onChange={(next) => onChange(rules.with(i, next))}
              onRemove={() => onChange(rules.filter((_, k) => k !== i))}
            />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function RuleRow({
  id,
  rule,
  report,
  bars,
  patternRef,
  onChange,
  onRemove,
}: {
  id: string;
  rule: Rule;
  report: RuleReport | null;
  bars: number;
  patternRef: React.Ref<HTMLInputElement> | undefined;
  onChange(rule: Rule): void;
  onRemove(): void;
}) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  const words = RULE_WORDS[rule.kind];
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      className={`rounded-lg border border-base-300 bg-base-100 px-2 py-1.5 ${isDragging ? "relative z-10 shadow-lg" : ""}`}
    >
      <div className="flex flex-wrap items-center gap-x-2">
        <button
          type="button"
          className="btn btn-ghost btn-sm cursor-grab px-1"
          {...attributes}
          {...listeners}
          aria-label={`Move ${words.title}: Space takes hold, arrows move`}
        >
          <GripVertical size={18} aria-hidden />
        </button>
        <label className="flex min-w-0 flex-1 cursor-pointer items-center gap-2 font-bold max-sm:basis-[60%]" title={words.says}>
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={!rule.off}
            onChange={({ target }) => {
              const { off: _, ...on } = rule;
              onChange(target.checked ? on : { ...on, off: true });
            }}
          />
          {words.title}
        </label>
        <Bars rule={rule} bars={bars} onChange={onChange} />
        <button type="button" className="btn btn-ghost btn-sm px-1" onClick={onRemove} aria-label={`Take ${words.title} away`}>
          <X size={18} aria-hidden />
        </button>
      </div>
      <div className="space-y-1 pl-9">
        <Choices rule={rule} patternRef={patternRef} onChange={onChange} />
        <p className="quiet text-sm" role="status">
          {rule.off ? "Switched off." : (report?.says ?? "")}
        </p>
      </div>
    </li>
  );
}

/** The bars a rule holds for, when not for all. */
function Bars({ rule, bars, onChange }: { rule: Rule; bars: number; onChange(rule: Rule): void }) {
  const { from, to } = rule.bars ?? { from: 1, to: bars };
  const set = (next: { from: number; to: number }) => {
    const { bars: _, ...everywhere } = rule;
    const kept = { from: Math.min(next.from, next.to), to: Math.max(next.from, next.to) };
    onChange(kept.from === 1 && kept.to === bars ? everywhere : { ...everywhere, bars: kept });
  };
  const field = (label: string, value: number, take: (value: number) => void) => (
    <Select
      className="select select-xs w-14"
      label={label}
      value={String(value)}
      options={Array.from({ length: Math.max(bars, value) }, (_, i) => ({ value: String(i + 1), says: String(i + 1) }))}
      onChoose={(bar) => take(Number(bar))}
    />
  );
  return (
    <span className="flex items-center gap-1 text-sm max-sm:order-last max-sm:pl-9">
      <span className="quiet">bars</span>
      {field("From bar", from, (value) => set({ from: value, to }))}
      <span className="quiet">–</span>
      {field("To bar", to, (value) => set({ from, to: value }))}
    </span>
  );
}

const SMALL = "select select-sm w-auto";

/** What can be chosen for one rule. */
function Choices({ rule, patternRef, onChange }: { rule: Rule; patternRef: React.Ref<HTMLInputElement> | undefined; onChange(rule: Rule): void }) {
  switch (rule.kind) {
    case "pattern":
      return (
        <>
          <TypedLine
            label="Pattern"
            hint="s strum · b bass · t treble · k chuck · . pass over · blanks part the beats"
            value={rule.pattern}
            read={(text) => {
              const read = parsePattern(text);
              return read.ok ? null : read;
            }}
            onTake={(pattern) => onChange({ ...rule, pattern })}
            {...(patternRef ? { inputRef: patternRef } : {})}
          />
          <PatternSigns onTake={(pattern) => onChange({ ...rule, pattern })} />
        </>
      );
    case "strokes":
      return (
        <span className="flex flex-wrap items-center gap-2">
          <Select
            className={SMALL}
            label="Order of strokes"
            value={rule.school}
            options={SCHOOLS.strokes.options.map(({ value, brief }) => ({ value, says: brief }))}
            onChoose={(school) => onChange({ ...rule, school, ...(school === "free" ? { order: rule.order ?? "dduu" } : {}) })}
          />
          {rule.school === "free" && (
            <>
              <input
                className="input input-sm w-36 font-mono text-base"
                aria-label="d and u, repeated"
                defaultValue={rule.order ?? ""}
                onChange={({ target }) => /^[du]{1,16}$/.test(target.value) && onChange({ ...rule, order: target.value })}
              />
              <Select
                className={SMALL}
                label="Where the order begins anew"
                value={rule.restart ?? "never"}
                options={[
                  { value: "never", says: "goes on over bar lines" },
                  { value: "bar", says: "anew in each bar" },
                  { value: "motif", says: "anew after each rest" },
                ]}
                onChoose={(restart) => onChange({ ...rule, restart })}
              />
            </>
          )}
        </span>
      );
    case "backbeat":
      return (
        <Select
          className={SMALL}
          label="On the backbeat"
          value={rule.as}
          options={[
            { value: "chuck", says: "chuck" },
            { value: "click", says: "click of the fingers" },
          ]}
          onChoose={(as) => onChange({ ...rule, as })}
        />
      );
    case "ghosts":
      return (
        <Select
          className={SMALL}
          label="Which places are filled"
          value={rule.unit}
          options={[
            { value: "eighth", says: "eighths" },
            { value: "triplet", says: "triplets" },
            { value: "sixteenth", says: "sixteenths" },
          ]}
          onChoose={(unit) => onChange({ ...rule, unit })}
        />
      );
    case "muted-roots":
      return <Roots rule={rule} onChange={onChange} />;
    case "rake":
      return (
        <Select
          className={SMALL}
          label="What the rake goes into"
          value={rule.into}
          options={[
            { value: "accents", says: "into the accents" },
            { value: "bars", says: "into the first note of each bar" },
          ]}
          onChoose={(into) => onChange({ ...rule, into })}
        />
      );
    case "one-hand-damps":
      return (
        <Select
          className={SMALL}
          label="Which hand damps"
          value={rule.hand}
          options={[
            { value: "fretting", says: "the fretting hand" },
            { value: "picking", says: "the picking hand" },
          ]}
          onChoose={(hand) => onChange({ ...rule, hand })}
        />
      );
    case "thumb-swing":
      return (
        <Tick checked={rule.keep ?? false} onChange={(keep) => onChange({ ...rule, keep })}>
          keep the written notes, the nail beside them
        </Tick>
      );
    case "boom-brush":
      return (
        <>
          <Tick checked={rule.overlap ?? false} onChange={(overlap) => onChange({ ...rule, overlap })}>
            the bass rings on under the brush
          </Tick>
          <TypedLine
            label="Brushed strings by chord, if not all above the bass"
            hint="such as G=321 Am=432"
            value={brushText(rule.brush)}
            read={(text) => {
              const read = parseBrush(text);
              return "at" in read ? read : null;
            }}
            onTake={(text) => {
              const read = parseBrush(text);
              if (!("at" in read)) onChange({ ...rule, brush: read.brush });
            }}
          />
        </>
      );
    default:
      return null;
  }
}

function Tick({ checked, onChange, children }: { checked: boolean; onChange(checked: boolean): void; children: React.ReactNode }) {
  return (
    <label className="flex cursor-pointer items-center gap-2">
      <input type="checkbox" className="checkbox checkbox-sm" checked={checked} onChange={({ target }) => onChange(target.checked)} />
      {children}
    </label>
  );
}

type RootsRule = Extract<Rule, { kind: "muted-roots" }>;

/** Which notes count as roots. */
function Roots({ rule, onChange }: { rule: RootsRule; onChange(rule: Rule): void }) {
  const { strings, below, ...rest } = rule;
  return (
    <span className="flex flex-wrap items-center gap-2">
      <Select
        className={SMALL}
        label="Which notes are roots"
        value={strings ? "strings" : below ? "below" : "lowest"}
        options={[
          { value: "lowest", says: "the lowest of each stroke" },
          { value: "strings", says: "notes on these strings" },
          { value: "below", says: "notes below" },
        ]}
        onChoose={(by) => onChange(by === "lowest" ? rest : by === "strings" ? { ...rest, strings: [6, 5] } : { ...rest, below: "E3" })}
      />
      {strings && (
        <input
          className="input input-sm w-24 font-mono text-base"
          aria-label="Strings, such as 6 5"
          defaultValue={strings.join(" ")}
          onChange={({ target }) => {
            const read = [...new Set((target.value.match(/[1-8]/g) ?? []).map(Number))];
            if (read.length > 0) onChange({ ...rest, strings: read });
          }}
        />
      )}
      {below !== undefined && (
        <input
          className="input input-sm w-24 font-mono text-base"
          aria-label="A note, such as E3"
          defaultValue={below}
          onChange={({ target }) => parsePitch(target.value) !== null && onChange({ ...rest, below: target.value })}
        />
      )}
    </span>
  );
}

function brushText(brush: Readonly<Record<string, readonly number[]>> = {}): string {
  return Object.entries(brush)
    .map(([name, strings]) => `${name}=${strings.join("")}`)
    .join(" ");
}

function parseBrush(text: string): { brush: Record<string, number[]> } | { at: number; says: string } {
  const brush: Record<string, number[]> = {};
  for (const { 0: word, index } of text.matchAll(/\S+/g)) {
    const match = /^([^=]+)=([1-8]+)$/.exec(word);
    if (!match) return { at: index, says: `"${word}" is not a chord, = and strings, such as G=321` };
    if (match[1] === "__proto__") return { at: index, says: "no chord is called so" };
    brush[match[1]!] = [...new Set([...match[2]!].map(Number))];
  }
  return { brush };
}
