import type { Instrument } from "../passage/schema.ts";
import { openPitches, type Settings } from "../passage/settings.ts";
import type { Step, Timeline, TimelineNote } from "../timeline/types.ts";

/**
 * What each string is meant to do during a step: `ring` sounds freely, `muffled` a palm-muted
 * tone, `thud` struck dead, `quiet` must not be heard, `free` may ring but need not.
 */
export type Intent = "ring" | "muffled" | "thud" | "quiet" | "free";

/** Per step, per string (index string − 1). */
export type IntentTable = readonly (readonly Intent[])[];

/** Decides for every step and string what is meant to sound. */
export function intentOf(timeline: Timeline, settings: Settings, instrument: Instrument): IntentTable {
  const { strings, steps } = timeline;
  const open = openPitches(instrument);
  const pitchClass = (note: TimelineNote) => (open[note.string - 1]! + note.fret) % 12;
  const lastNote: (TimelineNote | null)[] = new Array(strings).fill(null);
  let chord: ReadonlySet<number> | null = null;
  /** Strings that were played before the dead stroke that silenced them. */
  const played: boolean[] = new Array(strings).fill(false);
  const finalEnd = timeline.notes.reduce((latest, note) => Math.max(latest, note.end), 0);

  return steps.map((step) => {
    const sounding = new Set(step.sounding.flatMap((note) => (note ? [pitchClass(note)] : [])));
    if (step.stroke?.notes.length && sounding.size >= CHORD) chord = sounding;
    return step.sounding.map((note, s): Intent => {
      if (isStruckDead(step, s + 1)) {
        played[s] = lastNote[s] !== null || played[s]!;
        lastNote[s] = null;
        return "thud";
      }
      if (note) {
        lastNote[s] = note;
        played[s] = false;
        return TONE_INTENT[note.tone];
      }
      const before = lastNote[s];
      // A string of the harmony that was played and then deadened may answer again.
      if (before === null && played[s] && settings.ring === "bloom" && agrees(open[s]! % 12, chord, sounding)) return "free";
      if (before?.tone !== "open") return "quiet";
      // Nobody damps a final chord.
      const lastSound = step.tick >= finalEnd && before.end === finalEnd;
      const blooms = settings.ring === "bloom" && agrees(pitchClass(before), chord, sounding);
      return before.letRing || lastSound || blooms ? "free" : "quiet";
    });
  });
}

const TONE_INTENT = { open: "ring", palm: "muffled", ghost: "thud" } as const;

/** Whether a chuck, ghost, click or rake that begins with this step passes over the string. */
function isStruckDead(step: Step, string: number): boolean {
  const { stroke } = step;
  return stroke !== null && stroke.as !== "play" && stroke.crossed.includes(string);
}

/** Pitches that make a harmony of their own; fewer are a melody over the last one. */
const CHORD = 3;

/** In bloom a string rings on until it leaves the harmony or rubs, a semitone away, against what sounds now. */
function agrees(pitchClass: number, chord: ReadonlySet<number> | null, sounding: ReadonlySet<number>): boolean {
  if (chord !== null && !chord.has(pitchClass)) return false;
  return !sounding.has((pitchClass + 1) % 12) && !sounding.has((pitchClass + 11) % 12);
}
