import { barLength } from "../../music/beats.ts";
import { parsePitch } from "../../music/pitch.ts";
import { fractionOf, TICKS_PER_WHOLE, ticksOf } from "../../music/ticks.ts";
import type { Note, Stroke } from "../../passage/schema.ts";
import { openPitches } from "../../passage/settings.ts";
import { setTone } from "../../passage/tones.ts";
import { type Draft, isPlayed } from "../draft.ts";
import type { RuleFor } from "./rule.ts";
import { EIGHTH, report, times } from "./rule.ts";

/** Under the palm: the notes on some strings, or below a pitch, or of some strokes, or the lowest of every stroke where it lies on a bass string; the others open. */
export const mutedRoots: RuleFor<"muted-roots"> = (draft, { strings, below, within }, bars) => {
  const open = openPitches(draft.passage.instrument);
  const limit = below === undefined ? null : parsePitch(below)!;
  const isRoot = ({ string, fret }: Note, { at, notes }: Stroke, b: number) => {
    if (within) return isUpTo(within.from, { bar: b + 1, at }) && isUpTo({ bar: b + 1, at }, within.to);
    if (strings) return strings.includes(string);
    if (limit !== null) return open[string - 1]! + fret < limit;
    return string === Math.max(...notes.map((note) => note.string)) && draft.isBassString(string);
  };
  let [changed, muted, left] = [0, 0, 0];
  eachPlayed(draft, bars, (stroke, b) => {
    for (const note of stroke.notes) {
      const isMuted = isRoot(note, stroke, b);
      if (isMuted) muted++;
      else left++;
      if (setTone(note, isMuted ? "palm" : "open")) changed++;
    }
  });
  const says =
    left === 0
      ? `All ${times(muted, "note")} under the palm, none is left open: say on which strings, below which note, or select them on the Bench`
      : `${times(muted, "note")} under the palm, ${left} open`;
  return report(changed, says, muted === 0 && left > 0 ? `None of ${times(left, "note")} is meant: all stay open.` : "So it is already.");
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
      if (!draft.isBassString(note.string) || length < EIGHTH || note.letRing) continue;
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

/** Whether one place comes before another, or is the same. */
function isUpTo(a: { bar: number; at: string }, b: { bar: number; at: string }): boolean {
  return a.bar < b.bar || (a.bar === b.bar && ticksOf(a.at) <= ticksOf(b.at));
}

function eachPlayed(draft: Draft, bars: readonly number[], change: (stroke: Stroke, bar: number) => void): void {
  for (const b of bars) for (const stroke of draft.bars[b]!.strokes) if (isPlayed(stroke) && stroke.notes.length > 0) change(stroke, b);
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
