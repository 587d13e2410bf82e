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
  const finalEnd = timeline.notes.reduce((latest, note) => Math.max(latest, note.end), 0);

  return steps.map((step) => {
    const harmony = new Set(step.sounding.flatMap((note) => (note ? [pitchClass(note)] : [])));
    return step.sounding.map((note, s): Intent => {
      if (isStruckDead(step, s + 1)) {
        lastNote[s] = null;
        return "thud";
      }
      if (note) {
        lastNote[s] = note;
        return TONE_INTENT[note.tone];
      }
      const before = lastNote[s];
      if (before?.tone !== "open") return "quiet";
      // Nobody damps a final chord.
      const lastSound = step.tick >= finalEnd && before.end === finalEnd;
      // In bloom a string rings on until it clashes with the harmony; silence clashes with nothing.
      const blooms = settings.ring === "bloom" && (harmony.size === 0 || harmony.has(pitchClass(before)));
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
