import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, type UniqueIdentifier, useSensor, useSensors } from "@dnd-kit/core";
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical, X } from "lucide-react";
import type { Rule } from "../../core/passage/schema.ts";
import type { RuleReport } from "../../core/writer/report.ts";
import { Select } from "../parts/Select.tsx";
import { RuleChoices } from "./RuleChoices.tsx";
import { RULE_WORDS } from "./rule-words.ts";

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
        <RuleChoices rule={rule} patternRef={patternRef} onChange={onChange} />
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
