import { backbeats, beatsOf } from "../../music/beats.ts";
import { isPlayed as isStruck } from "../../passage/clicks.ts";
import { type Pattern, type PatternPlace, parsePattern } from "../../passage/pattern.ts";
import type { Note } from "../../passage/schema.ts";
import { type Draft, isPlayed } from "../draft.ts";
import type { RuleReport } from "../report.ts";
import { strum } from "../strum.ts";
import type { RuleFor } from "./rule.ts";
import { EIGHTH, report, times } from "./rule.ts";

/** The chords strummed by a pattern. */
export const pattern: RuleFor<"pattern"> = (draft, rule, bars) => {
  const read = parsePattern(rule.pattern);
  return read.ok ? strum(draft, read.pattern, bars) : report(0, "", read.says);
};

/** Bass note and brush by turns. */
export const boomBrush: RuleFor<"boom-brush"> = (draft, { brush, overlap }, bars) => {
  const down = (sign: PatternPlace["sign"]): PatternPlace => ({ sign, accent: false, stroke: "down" });
  const result = perMeter(
    draft,
    bars,
    (beats) => [Array.from({ length: beats }, () => [down("bass"), down("treble")])],
    (pattern, some) => strum(draft, pattern, some, { brushes: brush, holds: overlap }),
  );
  return overlap && result.changed > 0 ? { ...result, says: `${result.says}: the bass rings on under the brush, the grip stays down` } : result;
};

/** Thumb on the bass, nail on the backbeat, the index catching a string on the way back. */
export const thumbSwing: RuleFor<"thumb-swing"> = (draft, { keep }, bars) => {
  if (draft.settings.playsWith !== "thumb") return report(0, "", "This groove is for a hand that plays with thumb and nails: choose such a player.");
  // The nail lands on the middle strings alone; on the way back the index catches one string.
  const middle = draft.all().slice(Math.floor(draft.strings / 3), Math.ceil((5 * draft.strings) / 6));
  if (keep) return clickBeside(draft, bars, middle);
  const place = (sign: PatternPlace["sign"], stroke: "down" | "up"): PatternPlace => ({ sign, accent: false, stroke });
  const back = place("treble", "up");
  const groove = (beats: number): Pattern => [Array.from({ length: beats }, (_, k) => [place(k % 2 === 0 ? "bass" : "chuck", "down"), back])];
  const result = perMeter(draft, bars, groove, (pattern, some) => strum(draft, pattern, some));
  for (const b of bars)
    for (const stroke of draft.bars[b]!.strokes) {
      if (stroke.as === "chuck") stroke.strings = middle;
      else if (stroke.stroke === "up" && stroke.notes.length > 1) stroke.notes = stroke.notes.filter((note) => note.string === caught(stroke.notes, middle));
    }
  return result.changed > 0 ? { ...result, says: `${result.says}: thumb, nail on the backbeat, index on the way back` } : result;
};

/** The written notes stay as they are: on the backbeat the nail comes down on the middle strings that they leave free. */
function clickBeside(draft: Draft, bars: readonly number[], middle: readonly number[]): RuleReport {
  let [changed, full] = [0, 0];
  for (const b of bars)
    for (const tick of backbeats(draft.bars[b]!.meter)) {
      const stroke = draft.strokeAt(b, tick);
      if (!stroke) draft.dead(b, tick, "chuck", [...middle], "down", EIGHTH);
      else if (isPlayed(stroke)) {
        const free = middle.filter((string) => !isStruck(stroke, string));
        if (free.length === 0) {
          full++;
          continue;
        }
        stroke.click = free;
      } else continue;
      changed++;
    }
  const left = full > 0 ? `; ${times(full, "backbeat")} without: the notes there take all the middle strings` : "";
  return report(
    changed,
    `${times(changed, "click")} of the nail beside what is written${left}`,
    full > 0 ? "No string is left for the nail." : "Nothing to change here.",
  );
}

/** Bars of one meter at a time, since a groove has as many beats as its bar. */
function perMeter(
  draft: Draft,
  bars: readonly number[],
  groove: (beats: number) => Pattern,
  write: (pattern: Pattern, bars: number[]) => RuleReport,
): RuleReport {
  const all: RuleReport = { changed: 0, says: "", clashes: [] };
  for (const beats of new Set(bars.map((b) => beatsOf(draft.bars[b]!.meter)))) {
    const one = write(
      groove(beats),
      bars.filter((b) => beatsOf(draft.bars[b]!.meter) === beats),
    );
    all.changed += one.changed;
    all.says = one.says;
    all.clashes.push(...one.clashes);
  }
  if (all.changed > 0) all.says = `${times(all.changed, "stroke")} over ${times(bars.length, "bar")}`;
  return all;
}

function caught(notes: readonly Note[], middle: readonly number[]): number {
  const own = notes.map((note) => note.string);
  return own.filter((s) => middle.includes(s)).at(-1) ?? Math.min(...own);
}
