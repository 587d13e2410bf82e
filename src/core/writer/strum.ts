import type { PickingFinger } from "../hands/fingers.ts";
import { barLength, beatsOf, beatTicks, type Meter } from "../music/beats.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Pattern, PatternPlace, PatternSign } from "../passage/pattern.ts";
import type { Note, Stroke } from "../passage/schema.ts";
import { countOf } from "../timeline/counts.ts";
import { type Draft, isPlayed } from "./draft.ts";
import type { Held } from "./harmony.ts";
import type { RuleReport } from "./report.ts";

/** Which strings a brush goes over, by chord name; else the chord's without its bass note. */
export type Brushes = Readonly<Record<string, readonly number[]>>;

export interface StrumOptions {
  brushes?: Brushes | undefined;
  /** The hand keeps its grip and notes ring on in it, whatever is played. */
  holds?: boolean | undefined;
}

/** Signs that play a part of what is held: the hand keeps its grip under them, and their notes ring on. */
const PARTIAL: ReadonlySet<PatternSign> = new Set(["strings", "fingers"]);

/** Plays the chords of some bars by a pattern that repeats; the strokes that were there go. */
export function strum(draft: Draft, pattern: Pattern, bars: readonly number[], { brushes = {}, holds = false }: StrumOptions = {}): RuleReport {
  const report: RuleReport = { changed: 0, says: "", clashes: [] };
  const walk: Walk = { held: undefined, next: 0 };
  const ties: number[] = [];
  const written: number[] = [];
  bars.forEach((b, i) => {
    const bar = draft.bars[b]!;
    const beats = pattern[i % pattern.length]!;
    if (!draft.held(b, 0)) return;
    const places = placesIn(bar.meter, beats);
    if (!places) {
      const says = `The pattern has ${beats.length} beats here, bar ${b + 1} has ${beatsOf(bar.meter)}: it stays as it is.`;
      report.clashes.push({ code: "pattern-meter", bar: b + 1, at: "0", says });
      return;
    }
    bar.strokes = [];
    written.push(b);
    for (const { place, tick } of places)
      if (!SILENT.has(place.sign)) {
        const missing = play(draft, b, tick, place, { walk, brushes });
        if (missing.length > 0) report.clashes.push({ code: "no-string", bar: b + 1, at: fractionOf(tick), says: missingWords(draft, b, tick, missing) });
      }
    for (const { place, tick } of places) if (place.sign === "rest") end(draft.bars[b]!.strokes, tick);
    if (places[0]?.place.sign === "tie") ties.push(b);
    lengthen(draft, b);
    report.changed += bar.strokes.length;
  });
  if (holds || pattern.some((beats) => beats.some((signs) => signs.some(({ sign }) => PARTIAL.has(sign))))) {
    for (const b of written) holdGrips(draft, b, written);
    ringOn(draft, written);
  }
  for (const b of ties) holdOver(draft, b);
  report.says =
    report.changed > 0 ? `${report.changed} strokes over ${bars.length} bar${bars.length === 1 ? "" : "s"}` : "No chord to strum yet: write the chords first.";
  return report;
}

/** Where nothing is struck. */
const SILENT: ReadonlySet<PatternSign> = new Set(["air", "tie", "rest"]);

interface Placed {
  place: PatternPlace;
  tick: Ticks;
}

/**
 * The places of a pattern in a bar: beat by beat; or, where a meter's units do not come in threes (5/8, 7/8), one after the
 * other, however its author groups them. Null where it does not fit.
 */
function placesIn(meter: Meter, beats: Pattern[number]): Placed[] | null {
  const beat = beatTicks(meter);
  if (beats.length === beatsOf(meter))
    return beats.flatMap((signs, k) => signs.map((place, j) => ({ place, tick: k * beat + Math.round((j * beat) / signs.length) })));
  const all = beats.flat();
  return meter[1] >= 8 && all.length % meter[0] === 0 ? all.map((place, j) => ({ place, tick: Math.round((j * barLength(meter)) / all.length) })) : null;
}

/** Which bass note comes next. */
interface Walk {
  held: Held | undefined;
  next: number;
}

/** Writes the stroke of one place; says which strings it would need and the chord does not hold. */
function play(draft: Draft, bar: number, tick: Ticks, place: PatternPlace, { walk, brushes }: { walk: Walk; brushes: Brushes }): number[] {
  const { sign, accent, stroke } = place;
  const held = draft.held(bar, tick)!;
  if (sign === "chuck" || sign === "click") draft.dead(bar, tick, sign, draft.all(), stroke);
  else if (sign === "ghost") draft.dead(bar, tick, "ghost", draft.across(held), stroke);
  else if (sign === "dead-bass")
    draft.dead(
      bar,
      tick,
      "ghost",
      held.notes.slice(0, 1).map(({ string }) => string),
      stroke,
    );
  else {
    const { notes, missing } = notesFor(draft, place, held, { walk, brushes });
    if (notes.length === 0) return missing;
    draft.insert(bar, tick, {
      ...(stroke ? { stroke } : {}),
      ...(accent ? { accent } : {}),
      ...(held.name ? { chord: held.name } : {}),
      ...(sign === "through" ? { strings: draft.all() } : {}),
      notes: notes.map((note): Note => ({ ...note, ...(sign === "muted" ? { tone: "palm" } : {}) })),
    });
    return missing;
  }
  return [];
}

/** What is played of a chord, and which strings are asked for that it does not hold. */
function notesFor(
  draft: Draft,
  { sign, strings = [], fingers = [] }: PatternPlace,
  held: Held,
  { walk, brushes }: { walk: Walk; brushes: Brushes },
): { notes: Pick<Note, "string" | "fret" | "finger" | "by">[]; missing: number[] } {
  const { name, notes } = held;
  const some = (wanted: readonly number[]) => ({
    notes: notes.filter(({ string }) => wanted.includes(string)),
    missing: wanted.filter((string) => !notes.some((note) => note.string === string)),
  });
  const all = (own: Held["notes"]) => ({ notes: [...own], missing: [] });
  switch (sign) {
    case "bass":
      return all(notes.slice(0, 1));
    case "walk": {
      if (walk.held !== held) Object.assign(walk, { held, next: 0 });
      const own = notes.filter(({ string }) => draft.isBassString(string));
      const basses = own.length > 1 ? own : notes.slice(0, 2);
      return all([basses[walk.next++ % basses.length]!]);
    }
    case "treble": {
      if (notes.length < 2) return all(notes);
      // Names are a user's text: "constructor" is one, and no plain object's own.
      const brushed = name !== undefined && Object.hasOwn(brushes, name) ? brushes[name] : undefined;
      const chosen = brushed ? notes.filter((note) => brushed.includes(note.string)) : [];
      return all(chosen.length > 0 ? chosen : notes.slice(1));
    }
    case "strings":
    case "through":
      return some(strings);
    case "fingers": {
      const played = fingers.map((by) => ({ by, string: by === "p" ? notes[0]!.string : (FINGER_STRINGS[by] ?? 1) }));
      const { notes: own, missing } = some(played.map(({ string }) => string));
      return { notes: own.map((note) => ({ ...note, by: played.find(({ string }) => string === note.string)!.by })), missing };
    }
    default:
      return all(notes);
  }
}

/** The string that each finger has for its own (common practice); the thumb has the bass. */
const FINGER_STRINGS: Readonly<Partial<Record<PickingFinger, number>>> = { i: 3, m: 2, a: 1 };

function missingWords(draft: Draft, bar: number, tick: Ticks, missing: readonly number[]): string {
  const { name } = draft.held(bar, tick)!;
  return `Bar ${bar + 1}, ${countOf(tick, draft.bars[bar]!)}: ${name ?? "what is held"} has no string ${missing.join(" and ")}.`;
}

/** The hand keeps the chords of a bar, whatever part of them is struck, and lets go where the pattern ends. */
function holdGrips(draft: Draft, b: number, written: readonly number[]): void {
  const bar = draft.bars[b]!;
  if (bar.grips) return;
  const end = barLength(bar.meter);
  const begun = draft.changesIn(b).filter(({ tick }) => tick < end);
  const first = written.includes(b - 1) ? [] : [{ tick: 0, held: draft.held(b, 0)! }];
  const grips = [...first, ...begun.filter(({ tick }) => tick > 0 || first.length === 0)].filter(({ held }) => held.notes.length > 1);
  if (grips.length > 0)
    bar.grips = grips.map(({ tick, held }) => ({
      at: fractionOf(tick),
      ...(held.name ? { chord: held.name } : {}),
      notes: held.notes.map((note) => ({ ...note })),
    }));
  const next = draft.bars[b + 1];
  if (next && !written.includes(b + 1) && !next.grips) next.grips = [{ at: "0", notes: [] }];
}

/** Notes out of a held grip sound until their string is struck again, a dead stroke or a rest ends them, or the chord changes. */
function ringOn(draft: Draft, written: readonly number[]): void {
  const all = written.flatMap((b) => draft.bars[b]!.strokes.map((stroke) => ({ stroke, b, at: draft.starts[b]! + ticksOf(stroke.at) })));
  all.forEach(({ stroke, b, at }, i) => {
    if (!isPlayed(stroke) || stroke.notes.length === 0 || stroke.notes.length === draft.held(b, ticksOf(stroke.at))!.notes.length) return;
    const held = draft.held(b, ticksOf(stroke.at));
    // A rest behind it has shortened the stroke already.
    const following = all[i + 1];
    const close = at + ticksOf(stroke.length);
    const isEnded = following ? close < following.at : close < draft.starts[b]! + barLength(draft.bars[b]!.meter);
    if (isEnded) return;
    for (const note of stroke.notes) {
      let until = close;
      for (const other of all.slice(i + 1)) {
        // Only what goes on without a gap, under the same chord.
        if (other.at > until || draft.held(other.b, ticksOf(other.stroke.at)) !== held) break;
        const isStruck = other.stroke.notes.some(({ string }) => string === note.string) || (other.stroke.strings ?? []).includes(note.string);
        if (isStruck || !isPlayed(other.stroke)) break;
        until = other.at + ticksOf(other.stroke.length);
      }
      if (until > close) note.length = fractionOf(until - at);
    }
  });
}

/** A bar that begins with what is held on: the last stroke before it sounds up to its first own one. */
function holdOver(draft: Draft, b: number): void {
  const before = draft.bars[b - 1]?.strokes.at(-1);
  if (!before || !isPlayed(before)) return;
  const start = draft.starts[b - 1]!;
  const first = draft.bars[b]!.strokes[0];
  const until = draft.starts[b]! + (first ? ticksOf(first.at) : barLength(draft.bars[b]!.meter));
  const length = until - start - ticksOf(before.at);
  for (const note of before.notes) if (note.length !== undefined && ticksOf(note.length) < length) delete note.length;
  before.length = fractionOf(Math.max(ticksOf(before.length), length));
}

/** What a rest ends: the stroke before it. */
function end(strokes: Stroke[], tick: Ticks): void {
  const before = strokes.findLast((stroke) => ticksOf(stroke.at) < tick);
  if (before) before.length = fractionOf(Math.min(ticksOf(before.length), tick - ticksOf(before.at)));
}

/** Strokes were put in one by one, each up to the bar's end: they last up to the next one, or to a rest before it. */
function lengthen(draft: Draft, bar: number): void {
  const { strokes, meter } = draft.bars[bar]!;
  strokes.forEach((stroke, s) => {
    const at = ticksOf(stroke.at);
    const next = strokes[s + 1] ? ticksOf(strokes[s + 1]!.at) : barLength(meter);
    stroke.length = fractionOf(Math.min(ticksOf(stroke.length), next - at));
  });
}
