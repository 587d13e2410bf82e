import { barLength } from "../../music/beats.ts";
import { fractionOf, TICKS_PER_WHOLE, ticksOf } from "../../music/ticks.ts";
import type { Stroke } from "../../passage/schema.ts";
import { setTone } from "../../passage/tones.ts";
import { type Draft, isPlayed } from "../draft.ts";
import type { RuleFor } from "./rule.ts";
import { EIGHTH, report, times } from "./rule.ts";

/** The lowest note of every stroke under the palm, where it lies on a bass string; the others open. */
export const mutedRoots: RuleFor<"muted-roots"> = (draft, _rule, bars) => {
  let changed = 0;
  eachPlayed(draft, bars, (stroke) => {
    const lowest = Math.max(...stroke.notes.map((note) => note.string));
    for (const note of stroke.notes) if (setTone(note, note.string === lowest && isBassString(draft, note.string) ? "palm" : "open")) changed++;
  });
  return report(changed, `${times(changed, "note")}: bass under the palm, the tune open`);
};

/** All under the palm but what is accented. */
export const palmButAccents: RuleFor<"palm-but-accents"> = (draft, _rule, bars) => {
  let changed = 0;
  let accents = 0;
  eachPlayed(draft, bars, (stroke) => {
    if (stroke.accent) accents++;
    for (const note of stroke.notes) if (note.tone !== "ghost" && setTone(note, stroke.accent ? "open" : "palm")) changed++;
  });
  return report(changed, `${times(changed, "note")} changed: all under the palm${accents > 0 ? `, ${times(accents, "accent")} open` : ""}`);
};

/** Bass notes half as long. */
export const restAfterBass: RuleFor<"rest-after-bass"> = (draft, _rule, bars) => {
  let changed = 0;
  eachPlayed(draft, bars, (stroke) => {
    for (const note of stroke.notes) {
      const length = ticksOf(note.length ?? stroke.length);
      if (!isBassString(draft, note.string) || length < EIGHTH || note.letRing) continue;
      note.length = fractionOf(length / 2);
      changed++;
    }
  });
  return report(changed, `${times(changed, "bass note")} half as long, the rest is silence`);
};

/** Accents between muted notes, for which the palm has no time to lift, are only pressed less. */
export const pressedAccents: RuleFor<"pressed-accents"> = (draft, _rule, bars) => {
  const { palmLift, palmLand } = draft.settings.moveMs;
  let changed = 0;
  let tightest = Number.POSITIVE_INFINITY;
  const strokes = played(draft);
  strokes.forEach(({ stroke, bar, ms }, i) => {
    const [before, after] = [strokes[i - 1], strokes[i + 1]];
    const isPalm = (other: typeof before) => other?.stroke.notes.some((note) => note.tone === "palm");
    if (!bars.includes(bar) || !stroke.accent || !isPalm(before) || !isPalm(after)) return;
    const room = Math.min(ms - before!.ms - palmLift, after!.ms - ms - palmLand);
    if (room >= 0) return;
    tightest = Math.min(tightest, room);
    for (const note of stroke.notes) setTone(note, "palm");
    changed++;
  });
  return report(
    changed,
    `${times(changed, "accent")} by pressure: the palm is up to ${Math.ceil(-tightest)} ms short of lifting and landing again`,
    "The palm has time to lift for every accent.",
  );
};

function eachPlayed(draft: Draft, bars: readonly number[], change: (stroke: Stroke) => void): void {
  for (const b of bars) for (const stroke of draft.bars[b]!.strokes) if (isPlayed(stroke) && stroke.notes.length > 0) change(stroke);
}

/** Strings that carry the bass: all of a bass, the lower half of a guitar (common practice). */
function isBassString(draft: Draft, string: number): boolean {
  return draft.passage.instrument.kind === "electric-bass" || string > draft.strings / 2;
}

/** The strokes that sound, in order, with their times in ms as written without swing. */
function played(draft: Draft): { stroke: Stroke; bar: number; ms: number }[] {
  let tempo = draft.passage.tempo;
  let ms = 0;
  return draft.bars.flatMap((bar, b) => {
    tempo = bar.tempo ?? tempo;
    const perTick = 240_000 / tempo / TICKS_PER_WHOLE;
    const start = ms;
    ms += barLength(bar.meter) * perTick;
    return bar.strokes
      .filter((stroke) => isPlayed(stroke) && stroke.notes.length > 0)
      .map((stroke) => ({ stroke, bar: b, ms: start + ticksOf(stroke.at) * perTick }));
  });
}
