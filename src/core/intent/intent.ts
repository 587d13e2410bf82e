import { type FoldCache, fold, type Stage, sameItems } from "../caching/fold.ts";
import { type HandState, isHeld, pressedAt } from "../fingering/hand-state.ts";
import { type Grips, isDown, placeHeld } from "../grips/grips.ts";
import type { HeldGrip } from "../grips/types.ts";
import type { Ticks } from "../music/ticks.ts";
import type { Instrument } from "../passage/schema.ts";
import { openPitches, type Settings } from "../passage/settings.ts";
import { leftRingingFrom } from "../timeline/ending.ts";
import { deadStrings } from "../timeline/strokes.ts";
import type { Step, Timeline, TimelineNote } from "../timeline/types.ts";

/**
 * What each string is meant to do during a step: `ring` sounds freely, `muffled` a palm-muted
 * tone, `thud` struck dead, `quiet` must not be heard, `free` may ring but need not.
 */
export type Intent = "ring" | "muffled" | "thud" | "quiet" | "free";

/** Per step, per string (index string − 1). */
export type IntentTable = readonly (readonly Intent[])[];

/** What a step needs to know of those before it. */
export interface Heard {
  /** Per string: the note it played last; null once a dead stroke has silenced it, or once it is over for good. */
  lastNote: readonly (TimelineNote | null)[];
  /** Per string: whether it was played before the dead stroke that silenced it; false where nothing blooms. */
  played: readonly boolean[];
  /** Pitch classes of the last chord as bits; null before the first, and where nothing blooms. */
  chord: number | null;
  /** Where the last note ends, if it is left ringing. */
  finalEnd: Ticks;
}

/** Decides for every step and string what is meant to sound. */
export function intentOf(
  timeline: Timeline,
  held: Grips["held"],
  hands: readonly HandState[],
  settings: Settings,
  instrument: Instrument,
  cache?: FoldCache<Heard, readonly Intent[]>,
): IntentTable {
  const { strings, steps } = timeline;
  const finalEnd = leftRingingFrom(timeline);
  const start: Heard = { lastNote: new Array(strings).fill(null), played: new Array(strings).fill(false), chord: null, finalEnd };
  return fold(INTENTS, { steps, held, hands, open: openPitches(instrument), settings }, { keys: steps, beside: [held, hands], start, cache });
}

interface Found {
  steps: readonly Step[];
  held: Grips["held"];
  hands: readonly HandState[];
  open: readonly number[];
  settings: Settings;
}

const INTENTS: Stage<Found, Heard, readonly Intent[]> = {
  same: (a, b) => a.chord === b.chord && a.finalEnd === b.finalEnd && sameItems(a.lastNote, b.lastNote) && sameItems(a.played, b.played),
  equal: sameItems,
  work: (heard, i, { steps, held, hands, open, settings }) => intentsAt(steps[i]!, held[i]!, hands[i]!, heard, open, settings),
};

function intentsAt(step: Step, held: HeldGrip | null, hand: HandState, heard: Heard, open: readonly number[], settings: Settings): readonly [Intent[], Heard] {
  const { finalEnd } = heard;
  const lastNote = [...heard.lastNote];
  const played = [...heard.played];
  const pitchClass = (note: TimelineNote) => (open[note.string - 1]! + note.pitchFret) % 12;
  const sounding = step.sounding.reduce((mask, note) => (note ? mask | (1 << pitchClass(note)) : mask), 0);
  const bloom = settings.ring === "bloom";
  const chord = bloom && step.stroke?.notes.length && size(sounding) >= CHORD ? sounding : heard.chord;
  // After a dead stroke over all that rang nothing blooms until the next note.
  const rings = lastNote.some((note) => note !== null);
  const bloomsOn = bloom && rings && step.stroke === null && hand.presses.length > 0;
  const intents = step.sounding.map((note, s): Intent => {
    if (isStruckDead(step, s + 1)) {
      played[s] = bloom && (lastNote[s] !== null || played[s]!);
      lastNote[s] = null;
      return "thud";
    }
    if (note) {
      lastNote[s] = note;
      played[s] = false;
      return TONE_INTENT[note.tone];
    }
    // What the hand holds belongs to the harmony: it may answer, and go on after it was struck.
    if ((isDown(held, step.sounding) || (held && bloomsOn)) && placeHeld(held, step.sounding, s + 1)) return "free";
    const before = lastNote[s] ?? null;
    // A string of the harmony that was played and then deadened may answer again, unless a chord is held that it is no part of.
    if (before === null && played[s] && held === null && bloom && (rings || sounding !== 0) && agrees(open[s]! % 12, chord, sounding)) return "free";
    if (before?.tone === "open" && canRingOn(before, hand)) {
      // Nobody damps a final chord.
      const lastSound = step.tick >= finalEnd && before.end === finalEnd && (before.pressedFret === 0 || pressedAt(hand.presses, s + 1) === before.pressedFret);
      const blooms = bloom && agrees(pitchClass(before), chord, sounding);
      if (before.letRing || lastSound || blooms) return "free";
    }
    // Where nothing blooms, a note that has gone quiet is over: the string waits for its next one.
    if (!bloom) lastNote[s] = null;
    return "quiet";
  });
  return [intents, { lastNote, played, chord, finalEnd }];
}

/** A fretted note lasts no longer than its finger stays. */
function canRingOn(note: TimelineNote, hand: HandState): boolean {
  return note.pressedFret === 0 || note.from === "tap" || isHeld(note, hand);
}

function size(pitchClasses: number): number {
  let count = 0;
  for (let m = pitchClasses; m !== 0; m &= m - 1) count++;
  return count;
}

const TONE_INTENT = { open: "ring", palm: "muffled", ghost: "thud" } as const;

/** Whether a chuck, ghost, click or rake that begins with this step strikes the string. */
function isStruckDead(step: Step, string: number): boolean {
  const { stroke } = step;
  return stroke !== null && deadStrings(stroke).includes(string);
}

/** Pitches that make a harmony of their own; fewer are a melody over the last one. */
const CHORD = 3;

/** In bloom a string rings on until it leaves the harmony or rubs, a semitone away, against what sounds now. */
function agrees(pitchClass: number, chord: number | null, sounding: number): boolean {
  const has = (mask: number, pitch: number) => (mask & (1 << pitch)) !== 0;
  if (chord !== null && !has(chord, pitchClass)) return false;
  return !has(sounding, (pitchClass + 1) % 12) && !has(sounding, (pitchClass + 11) % 12);
}
