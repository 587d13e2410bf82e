import { ticksOf } from "../music/ticks.ts";
import { settleClicks } from "../passage/clicks.ts";
import { type Note, noteOverride, type Passage, type Rule, type Stroke, strokeOverride, type Treatment } from "../passage/schema.ts";
import { setTone } from "../passage/tones.ts";
import { countOf } from "../timeline/counts.ts";
import { strokeDirections } from "../timeline/strokes.ts";
import { underConditions } from "./conditions/conditions.ts";
import { Draft } from "./draft.ts";
import type { Clash, RuleReport } from "./report.ts";
import { applyRule } from "./rules/rules.ts";

export interface Treated {
  /** The passage as the treatment makes it, without treatments of its own. */
  passage: Passage;
  /** What its conditions did, one sentence each. */
  under: readonly RuleReport[];
  /** What each rule did, in the treatment's order; null for one that is switched off. */
  reports: readonly (RuleReport | null)[];
  clashes: readonly Clash[];
}

/** The same notes under a treatment: its conditions, its rules one after the other, then its overrides. The passage given stays as it is. */
export function treated(passage: Passage, treatment: Pick<Treatment, "conditions" | "overrides"> & { rules: readonly Rule[] }): Treated {
  const under = underConditions(passage, treatment.conditions ?? {});
  const draft = new Draft(under.passage);
  const kept = new Set(Object.keys(treatment.overrides));
  const reports = treatment.rules.map((rule) => {
    if (rule.off) return null;
    const bars = passage.bars.flatMap((_, b) => (!rule.bars || (b + 1 >= rule.bars.from && b + 1 <= rule.bars.to) ? [b] : []));
    return applyRule(draft, rule, bars, kept);
  });
  for (const bar of draft.bars) for (const stroke of bar.strokes) override(stroke, treatment.overrides);
  const { treatments: _, ...rest } = under.passage;
  const clashes = [...reports.flatMap((t) => t?.clashes ?? []), ...clashesOf(draft, treatment.rules)];
  return { passage: { ...rest, player: draft.player, bars: draft.bars }, under: under.reports, reports, clashes };
}

function override(stroke: Stroke, overrides: Treatment["overrides"]): void {
  const of = (id: string) => (Object.hasOwn(overrides, id) ? overrides[id] : undefined);
  const own = stroke.id === undefined ? undefined : of(stroke.id);
  if (own) assign(stroke, own, STROKE_FIELDS);
  settleClicks(stroke);
  for (const note of stroke.notes) {
    const change = of(noteKey(stroke, note));
    if (!change) continue;
    const { tone, ...more } = change as { tone?: NonNullable<Note["tone"]> };
    if (tone) setTone(note, tone);
    assign(note, more, NOTE_FIELDS);
    if (note.tone !== "palm") delete note.mute;
  }
}

/** By what name overrides speak of a note. */
export function noteKey(stroke: Pick<Stroke, "id">, note: Pick<Note, "id" | "string">): string {
  return note.id ?? `${stroke.id}/${note.string}`;
}

const STROKE_FIELDS: ReadonlySet<string> = new Set(Object.keys(strokeOverride.shape));
const NOTE_FIELDS: ReadonlySet<string> = new Set(Object.keys(noteOverride.shape));

/**
 * What is null is taken away, and what says the ordinary is left out. Fields that are none of the target's say nothing: an id
 * may have come to name another thing since the override was written.
 */
function assign(target: object, change: object, fields: ReadonlySet<string>): void {
  for (const [key, value] of Object.entries(change)) {
    if (!fields.has(key)) continue;
    if (value === null || value === undefined || value === false || value === "play") Reflect.deleteProperty(target, key);
    else Reflect.set(target, key, value);
  }
}

/** Strokes against the swing of the hand, and muted up-strokes of a palm that lands with the down-stroke alone. */
function clashesOf(draft: Draft, rules: readonly Rule[]): Clash[] {
  const { settings } = draft;
  if (settings.playsWith !== "pick" && settings.playsWith !== "thumb") return [];
  const isChosen = (b: number) =>
    rules.some(
      (rule) =>
        !rule.off &&
        ((rule.kind === "strokes" && rule.school !== "pendulum") || rule.kind === "boom-brush") &&
        (!rule.bars || (b + 1 >= rule.bars.from && b + 1 <= rule.bars.to)),
    );
  return draft.bars.flatMap((bar, b) => {
    const open = { ...bar, strokes: bar.strokes.map(({ stroke: _, ...rest }) => rest as Stroke) };
    const swing = strokeDirections(open, { ...settings, playsWith: "pick", strokes: "pendulum" }, draft.strings);
    const ways = strokeDirections(bar, { ...settings, playsWith: "pick" }, draft.strings);
    return bar.strokes.flatMap((stroke, s): Clash[] => {
      const where = { bar: b + 1, at: stroke.at };
      const count = countOf(ticksOf(stroke.at), bar);
      const found: Clash[] = [];
      const against = stroke.stroke === "down" || stroke.stroke === "up" ? stroke.stroke !== swing[s] : false;
      if (against && settings.strokes === "pendulum" && !isChosen(b))
        found.push({ code: "direction", ...where, says: `Bar ${b + 1}, ${count}: the hand swings ${swing[s]} here, the stroke goes ${stroke.stroke}.` });
      const muted = stroke.notes.filter((note) => note.tone === "palm").map((note) => note.string);
      if (ways[s] === "up" && muted.length > 0 && settings.strumPalmMute === "percussive")
        found.push({
          code: "palm-up",
          ...where,
          says: `Bar ${b + 1}, ${count}: the palm lands with the down-stroke alone; on this up-stroke it does not reach string${muted.length === 1 ? "" : "s"} ${muted.join(", ")}.`,
        });
      return found;
    });
  });
}
