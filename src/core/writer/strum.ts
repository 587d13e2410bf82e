import { barLength, beatsOf, beatTicks } from "../music/beats.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Pattern, PatternPlace } from "../passage/pattern.ts";
import type { Note, Stroke } from "../passage/schema.ts";
import type { Draft } from "./draft.ts";
import type { Held } from "./harmony.ts";
import type { RuleReport } from "./report.ts";

/** Which strings a brush goes over, by chord name; else the chord's without its bass note. */
export type Brushes = Readonly<Record<string, readonly number[]>>;

/** Strums the chords of some bars by a pattern that repeats; the strokes that were there go. */
export function strum(draft: Draft, pattern: Pattern, bars: readonly number[], brushes: Brushes = {}): RuleReport {
  const report: RuleReport = { changed: 0, says: "", clashes: [] };
  bars.forEach((b, i) => {
    const bar = draft.bars[b]!;
    const beats = pattern[i % pattern.length]!;
    if (!draft.held(b, 0)) return;
    if (beats.length !== beatsOf(bar.meter)) {
      const says = `The pattern has ${beats.length} beats here, bar ${b + 1} has ${beatsOf(bar.meter)}: it stays as it is.`;
      report.clashes.push({ code: "pattern-meter", bar: b + 1, at: "0", says });
      return;
    }
    bar.strokes = [];
    const beat = beatTicks(bar.meter);
    const places = beats.flatMap((signs, k) => signs.map((place, j) => ({ place, tick: k * beat + Math.round((j * beat) / signs.length) })));
    for (const { place, tick } of places) if (place.sign !== "air" && place.sign !== "rest") play(draft, b, tick, place, brushes);
    for (const { place, tick } of places) if (place.sign === "rest") end(draft.bars[b]!.strokes, tick);
    lengthen(draft, b);
    report.changed += bar.strokes.length;
  });
  report.says =
    report.changed > 0 ? `${report.changed} strokes over ${bars.length} bar${bars.length === 1 ? "" : "s"}` : "No chord to strum yet: write the chords first.";
  return report;
}

function play(draft: Draft, bar: number, tick: Ticks, { sign, accent, stroke }: PatternPlace, brushes: Brushes): void {
  const held = draft.held(bar, tick)!;
  if (sign === "chuck" || sign === "click") draft.dead(bar, tick, sign, draft.all(), stroke);
  else if (sign === "ghost") draft.dead(bar, tick, "ghost", draft.across(held), stroke);
  else {
    const notes = notesFor(sign, held, brushes).map((note): Note => ({ ...note, ...(sign === "muted" ? { tone: "palm" } : {}) }));
    draft.insert(bar, tick, { ...(stroke ? { stroke } : {}), ...(accent ? { accent } : {}), ...(held.name ? { chord: held.name } : {}), notes });
  }
}

function notesFor(sign: PatternPlace["sign"], { name, notes }: Held, brushes: Brushes): Held["notes"] {
  if (sign === "bass") return notes.slice(0, 1);
  if (sign !== "treble" || notes.length < 2) return notes;
  // Names are a user's text: "constructor" is one, and no plain object's own.
  const brushed = name !== undefined && Object.hasOwn(brushes, name) ? brushes[name] : undefined;
  const chosen = brushed ? notes.filter((note) => brushed.includes(note.string)) : [];
  return chosen.length > 0 ? chosen : notes.slice(1);
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
