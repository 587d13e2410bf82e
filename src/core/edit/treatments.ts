import equal from "fast-deep-equal";
import { current, isDraft } from "immer";
import type { Bar, Passage, Stroke, Treatment } from "../passage/schema.ts";
import { passageSchema } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { noteKey, treated } from "../writer/treated.ts";

/** A treatment without rules under a name that is still free. */
export function freshTreatment(all: readonly Treatment[], id: string): Treatment {
  const names = new Set(all.map((treatment) => treatment.name));
  let number = 1;
  while (names.has(`Treatment ${number}`)) number++;
  return { id, name: `Treatment ${number}`, rules: [], overrides: {} };
}

export function setTreatment(passage: Passage, treatment: Treatment): boolean {
  const all = passage.treatments ?? [];
  const at = all.findIndex((other) => other.id === treatment.id);
  const next = at < 0 ? [...all, treatment] : all.with(at, treatment);
  if (!passageSchema.shape.treatments.safeParse(next).success) return false;
  nameStrokes(passage.bars);
  passage.treatments = next;
  return true;
}

export function removeTreatment(passage: Passage, id: string): boolean {
  const left = (passage.treatments ?? []).filter((treatment) => treatment.id !== id);
  if (left.length === passage.treatments?.length || !passage.treatments) return false;
  if (left.length === 0) delete passage.treatments;
  else passage.treatments = left;
  return true;
}

/**
 * Writes what a treatment makes of the passage. What was written stays as a treatment, unless strokes were strummed anew:
 * overrides cannot bring back strokes that are gone, undo can.
 */
export function promoteTreatment(passage: Passage, id: string): boolean {
  const treatment = passage.treatments?.find((other) => other.id === id);
  if (!treatment) return false;
  nameStrokes(passage.bars);
  const written = isDraft(passage) ? current(passage) : passage;
  const made = treated(written, written.treatments!.find((other) => other.id === id)!).passage;
  const head = headOf(made);
  const conditions = conditionsOf(written, made);
  const before: Treatment = {
    id,
    name: nameBefore(passage),
    rules: [{ kind: "plain" }],
    overrides: overridesOf(passage.bars),
    ...(Object.keys(conditions).length > 0 ? { conditions } : {}),
  };
  const back = treated({ ...written, ...head, bars: made.bars }, before).passage;
  const isKept = isSame(back.bars, written.bars) && equal(conditionsOf(written, back), {});
  if (isKept) passage.treatments = passage.treatments!.map((other) => (other.id === id ? before : other));
  Object.assign(passage, head, { bars: made.bars });
  return true;
}

function headOf({ instrument, player, gain }: Passage): Pick<Passage, "instrument" | "player" | "gain"> {
  return { instrument, player, ...(gain ? { gain } : {}) };
}

/** What another version is played with otherwise than this one, so that this one can be had again. */
function conditionsOf(passage: Passage, other: Passage): NonNullable<Treatment["conditions"]> {
  return {
    ...(equal(passage.instrument, other.instrument) ? {} : { instrument: passage.instrument }),
    ...(equal(passage.player, other.player) ? {} : { player: passage.player }),
    ...(settingsOf(passage).gain === settingsOf(other).gain ? {} : { gain: settingsOf(passage).gain }),
  };
}

/** Whether two versions are the same music: what is left out in one may stand in the other as it is usual. */
function isSame(a: readonly Bar[], b: readonly Bar[]): boolean {
  return equal(withoutUsual(a), withoutUsual(b));
}

const USUAL: ReadonlySet<unknown> = new Set([undefined, false, "play", "open"]);

function withoutUsual(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutUsual);
  if (value === null || typeof value !== "object") return value;
  const left = Object.entries(value).filter(([, field]) => !USUAL.has(field));
  return Object.fromEntries(left.map(([name, field]) => [name, withoutUsual(field)]));
}

function nameBefore({ treatments = [] }: Passage): string {
  const taken = new Set(treatments.map((other) => other.name));
  for (let k = 1; ; k++) {
    const name = k === 1 ? "as it was" : `as it was (${k})`;
    if (!taken.has(name)) return name;
  }
}

/** All that rules may change, as it is: so that it can be had again when other strokes and tones are written. */
function overridesOf(bars: readonly Bar[]): Treatment["overrides"] {
  const overrides: Treatment["overrides"] = {};
  for (const bar of bars)
    for (const stroke of bar.strokes) {
      const { stroke: way = null, strings = null, as = "play", accent = false, length } = stroke;
      overrides[stroke.id!] = { stroke: way, strings, as, accent, length };
      for (const note of stroke.notes) overrides[noteKey(stroke, note)] = { tone: note.tone ?? "open", mute: note.mute ?? null, length: note.length ?? null };
    }
  return overrides;
}

/** The passage with a name for every stroke, as it has them once it has a treatment. */
export function withNames(passage: Passage): Passage {
  const bars = structuredClone(passage.bars);
  nameStrokes(bars);
  return { ...passage, bars };
}

/** Overrides speak of strokes by name: those without one get one. */
function nameStrokes(bars: Bar[]): void {
  const taken = new Set(bars.flatMap((bar) => bar.strokes.map((stroke) => stroke.id)));
  let next = 1;
  const fresh = (stroke: Stroke) => {
    while (taken.has(`stroke-${next}`)) next++;
    taken.add(`stroke-${next}`);
    stroke.id = `stroke-${next}`;
  };
  for (const bar of bars) for (const stroke of bar.strokes) if (stroke.id === undefined) fresh(stroke);
}
