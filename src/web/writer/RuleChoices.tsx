import { useSelector } from "react-redux";
import { SCHOOLS } from "../../core/hands/schools.ts";
import { parsePitch } from "../../core/music/pitch.ts";
import { fractionOf } from "../../core/music/ticks.ts";
import { parsePattern } from "../../core/passage/pattern.ts";
import type { Place } from "../../core/passage/place.ts";
import type { Rule } from "../../core/passage/schema.ts";
import { Select } from "../parts/Select.tsx";
import type { RootState } from "../store/root.ts";
import { PatternSigns } from "./PatternSigns.tsx";
import { TypedLine } from "./TypedLine.tsx";

const SMALL = "select select-sm w-auto";

/** Rules of which one thing is chosen out of a list. */
const LISTS: Readonly<
  Record<"backbeat" | "ghosts" | "rake" | "one-hand-damps", { label: string; key: string; options: readonly { value: string; says: string }[] }>
> = {
  backbeat: {
    label: "On the backbeat",
    key: "as",
    options: [
      { value: "chuck", says: "chuck" },
      { value: "click", says: "click of the fingers" },
    ],
  },
  ghosts: {
    label: "Which places are filled",
    key: "unit",
    options: [
      { value: "eighth", says: "eighths" },
      { value: "triplet", says: "triplets" },
      { value: "sixteenth", says: "sixteenths" },
    ],
  },
  rake: {
    label: "What the rake goes into",
    key: "into",
    options: [
      { value: "accents", says: "into the accents" },
      { value: "bars", says: "into the first note of each bar" },
    ],
  },
  "one-hand-damps": {
    label: "Which hand damps",
    key: "hand",
    options: [
      { value: "fretting", says: "the fretting hand" },
      { value: "picking", says: "the picking hand" },
    ],
  },
};

/** What can be chosen for one rule. */
export function RuleChoices({ rule, patternRef, onChange }: { rule: Rule; patternRef: React.Ref<HTMLInputElement> | undefined; onChange(rule: Rule): void }) {
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
    case "ghosts":
    case "rake":
    case "one-hand-damps": {
      const { label, key, options } = LISTS[rule.kind];
      const value = (rule as unknown as Readonly<Record<string, string>>)[key]!;
      return <Select className={SMALL} label={label} value={value} options={options} onChoose={(chosen) => onChange({ ...rule, [key]: chosen } as Rule)} />;
    }
    case "muted-roots":
      return <Roots rule={rule} onChange={onChange} />;
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
  const { strings, below, within, ...rest } = rule;
  const selected = useSelectedStretch();
  return (
    <span className="flex flex-wrap items-center gap-2">
      <Select
        className={SMALL}
        label="Which notes are roots"
        value={strings ? "strings" : below ? "below" : within ? "within" : "lowest"}
        options={[
          { value: "lowest", says: "the lowest of each stroke" },
          { value: "strings", says: "notes on these strings" },
          { value: "below", says: "notes below" },
          ...(within ? [{ value: "within" as const, says: `bar ${within.from.bar} to bar ${within.to.bar}, as selected` }] : []),
          ...(selected ? [{ value: "selected" as const, says: "what is selected on the Bench" }] : []),
        ]}
        onChoose={(by) => {
          if (by === "lowest") onChange(rest);
          else if (by === "strings") onChange({ ...rest, strings: [6, 5] });
          else if (by === "below") onChange({ ...rest, below: "E3" });
          else if (by === "selected" && selected) onChange({ ...rest, within: selected });
        }}
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

/** What is selected on the Bench, from its first place to its last; null where nothing is. */
function useSelectedStretch(): NonNullable<RootsRule["within"]> | null {
  const anchor = useSelector((root: RootState) => root.edit.anchor);
  const cursor = useSelector((root: RootState) => root.edit.cursor);
  if (!anchor) return null;
  const [from, to] = [anchor, cursor].sort((a, b) => a.bar - b.bar || a.tick - b.tick) as [Place, Place];
  const written = ({ bar, tick }: Place) => ({ bar: bar + 1, at: fractionOf(tick) });
  return { from: written(from), to: written(to) };
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
