import { BEND_SHOVE_DB, JOLT_EXTRA_DB, PULL_OFF_DB } from "../acoustics/constants.ts";
import type { StringSet, Touch } from "../acoustics/modal.ts";
import { isHeld, pressedAt } from "../fingering/hand-state.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import type { Kind } from "../hands/parts.ts";
import { isShoved, joltKind } from "../hazards/hazards.ts";
import type { NeckPlace } from "../music/neck.ts";
import type { Settings } from "../passage/settings.ts";
import type { Contact } from "../shapes/types.ts";
import { turnOf } from "../timeline/timeline.ts";
import type { Step, TimelineNote, TimelineStroke } from "../timeline/types.ts";
import type { Outcome, PlannedStages } from "../verdict/verdict.ts";

/** Whose damping is heard. */
export const DAMPINGS = ["planned", "none", "fretting", "picking"] as const;
export type Damping = (typeof DAMPINGS)[number];

/** Something that happens to one string. Levels are amplitudes against a full pluck. */
export type StringEvent = { ms: number } & (
  | { kind: "touch"; touches: readonly Touch[] }
  /** A stroke: what sounded on the string before is over. */
  | { kind: "pluck"; fret: number; partial: number; level: number; noise: Noise | null }
  /** The sounding string gets another pitch: by a hammer, a pull or a slide, with what the finger adds; a pull adds as much as this player's do. */
  | { kind: "change"; fret: number; level: number | "pull"; glideMs: number }
  /** The finger leaves or eases: what it leaves of the sound goes on at the open string's pitch, with what it plucks. */
  | { kind: "leave"; keeps: number; level: number }
  /** The untouched string is set going at its open pitch: shaken, shoved, or answering a played one. */
  | { kind: "shake"; level: number }
  | { kind: "answer"; to: { string: number; fret: number } }
  | { kind: "bend"; from: number; to: number; riseMs: number }
  | { kind: "vibrato" }
);

export type Noise = "pick" | "finger" | "chuck" | "click" | "slap";

/** What happens on every string, in order; index string − 1. */
export type SoundScore = readonly (readonly StringEvent[])[];

/** Time from one string to the next in a strum, in ms. Common practice, over the five gaps of six strings: hit 10-25, normal 25-60, brush 80-150. */
export const GAP_MS = { hit: 18 / 5, normal: 40 / 5, brush: 100 / 5 } as const;
/** An accent is a little louder than a stroke without; from memory, adjustable. */
const ACCENT_LEVEL = 1.25;

const SLIDE_MS = 70;
const BEND_MS = 130;
/** Loudness of what is not plucked, as an amplitude against a full pluck; from memory, adjustable. */
const HAMMER_LEVEL = 0.5;
const TAP_LEVEL = 0.6;
const SLIDE_LEVEL = 0.1;
/** Share of the amplitude that is left when a finger has eased: the string rattles on its fret for a moment. From memory, adjustable. */
const EASE_KEEPS = 0.01;

/** A contact that fails: every finger of that kind, or one. */
export type Without = Kind & { finger?: ContactFinger | undefined };

/** Turns a plan into what happens on the strings, with the damping of both hands, one or none; or with one kind of contact left out. */
export function scoreOf(
  planned: PlannedStages,
  outcomes: readonly Outcome[],
  strings: StringSet,
  settings: Settings,
  damping: Damping,
  without?: Without,
): SoundScore {
  const { timeline, fingering } = planned;
  const events: StringEvent[][] = Array.from({ length: timeline.strings }, () => []);
  const before: { touches: string; note: TimelineNote | null; pressed: NeckPlace | null }[] = events.map(() => ({ touches: "", note: null, pressed: null }));
  timeline.steps.forEach((step, i) => {
    const outcome = outcomes[i]!;
    const contacts = [...outcome.fretting.contacts, ...outcome.picking.contacts].filter((contact) => isHeard(contact, damping) && !fails(contact, without));
    const earlier = timeline.steps[i - 1] ?? null;
    const intents = planned.intent[i]!;
    events.forEach((list, s) => {
      const string = s + 1;
      const was = before[s]!;
      const here = contacts.filter((contact) => contact.string === string);
      const isEased = here.some((contact) => contact.hand === "fretting");
      const held = pressedAt(fingering.hands[i]!.presses, string);
      const strike = strikeOf(step, string, isEased, list.length > 0, held);
      const touches = here.map((contact) => `${contact.part}${contact.finger ?? ""}${contact.touch.fromMm}`).join();
      const note = step.sounding[s] ?? null;
      if (touches !== was.touches) {
        const lead = Math.max(0, ...here.map((contact) => contact.leadMs ?? 0));
        list.push({ ms: Math.max(0, step.ms - lead), kind: "touch", touches: here.map((contact) => contact.touch) });
        was.touches = touches;
      }
      if (strike) {
        list.push(...strike);
        was.note = note;
        was.pressed = pressedBy(step, string, isEased, held);
        if (note && strike.some((event) => event.kind === "pluck" || event.kind === "change")) list.push(...ornaments(note, strike[0]!.ms));
        return;
      }
      if (note?.bend && turnOf(note) === step.tick) list.push({ ms: step.ms, kind: "bend", from: note.bend.most, to: note.bend.back ?? 0, riseMs: BEND_MS });
      // A finger eases or leaves when its note is over, and stays through a dead stroke or when the note may ring on.
      const isOver = was.note !== null && note !== was.note && intents[s] !== "free";
      if (was.pressed && (isEased || isOver || (note === null && !isHeld(was.pressed, fingering.hands[i]!)))) {
        list.push({ ms: step.ms, kind: "leave", ...(isEased ? { keeps: EASE_KEEPS, level: 0 } : { keeps: 1, level: gain(PULL_OFF_DB[settings.pullOff]) }) });
        was.pressed = null;
      }
      if (intents[s] !== "quiet" && intents[s] !== "thud") return;
      list.push(...shaken(step, earlier, string, strings));
    });
  });
  return events.map((list) => list.sort((a, b) => a.ms - b.ms));
}

function isHeard(contact: Contact, damping: Damping): boolean {
  if (damping === "planned") return true;
  return damping !== "none" && (contact.hand === damping || contact.hand === "aid");
}

/** A finger that presses its note plays: it does not fail here. */
function fails({ hand, part, finger }: Contact, without: Without | undefined): boolean {
  if (!without || part === "press") return false;
  return hand === without.hand && part === without.part && (without.finger === undefined || without.finger === finger);
}

/** Where a string that is struck is pressed; null when it is open or a finger only touches it. */
function pressedBy(step: Step, string: number, isEased: boolean, held: number): NeckPlace | null {
  const note = step.begins[string - 1] ? step.sounding[string - 1] : null;
  const fret = note ? note.pressedFret : (step.stroke?.kept.find((k) => k.string === string)?.fret ?? held);
  return fret === 0 || (isEased && note?.tone !== "open" && note?.tone !== "palm") ? null : { string, fret };
}

/** What begins on a string with a step, if anything does. A finger that only touches it does not press it. */
function strikeOf(step: Step, string: number, isEased: boolean, hasSounded: boolean, held: number): StringEvent[] | null {
  const { stroke } = step;
  if (!stroke) return null;
  const note = step.begins[string - 1] ? step.sounding[string - 1]! : null;
  const place = stroke.crossed.indexOf(string);
  const ms = step.ms + (place < 0 ? 0 : place * gapMs(stroke));
  const level = stroke.accent ? ACCENT_LEVEL : 1;
  if (note && note.from !== "stroke" && hasSounded) {
    if (note.from === "tap") return [{ ms, kind: "change", fret: note.pitchFret, level: TAP_LEVEL, glideMs: 0 }];
    if (note.from === "slide") return [{ ms, kind: "change", fret: note.pitchFret, level: SLIDE_LEVEL, glideMs: SLIDE_MS }];
    return [{ ms, kind: "change", fret: note.pitchFret, level: note.from === "hammer" ? HAMMER_LEVEL : "pull", glideMs: 0 }];
  }
  if (note) {
    const partial = note.pressedFret === note.fret || note.from === "tap" ? 1 : partialOf(note);
    return [
      {
        ms,
        kind: "pluck",
        fret: note.tone === "ghost" && isEased ? 0 : note.pressedFret,
        partial,
        level: note.from === "tap" ? TAP_LEVEL : level,
        noise: noiseOf(stroke),
      },
    ];
  }
  if (place < 0 && !stroke.clicked.includes(string)) return null;
  const kept = isEased ? 0 : (stroke.kept.find((k) => k.string === string)?.fret ?? held);
  return [{ ms, kind: "pluck", fret: kept, partial: 1, level, noise: place < 0 ? "click" : noiseOf(stroke) }];
}

function partialOf({ pitchFret }: TimelineNote): number {
  return Math.round(2 ** (pitchFret / 12));
}

/** Accents hit, thumbs and dead strokes brush no longer than a normal strum. */
export function gapMs(stroke: TimelineStroke): number {
  if (stroke.kind !== "down" && stroke.kind !== "up") return 0;
  if (stroke.accent || stroke.as === "chuck") return GAP_MS.hit;
  return stroke.as === "rake" ? GAP_MS.brush : GAP_MS.normal;
}

function noiseOf(stroke: TimelineStroke): Noise {
  if (stroke.as === "chuck" || stroke.as === "click") return stroke.as;
  if (stroke.kind === "slap" || stroke.kind === "pop" || stroke.kind === "none") return "slap";
  return stroke.kind === "down" || stroke.kind === "up" ? "pick" : "finger";
}

function ornaments(note: TimelineNote, ms: number): StringEvent[] {
  const found: StringEvent[] = [];
  if (note.bend) found.push({ ms, kind: "bend", from: note.bend.from, to: note.bend.most, riseMs: BEND_MS });
  if (note.vibrato) found.push({ ms, kind: "vibrato" });
  return found;
}

/** What sets a string going that nobody plays. */
function shaken(step: Step, before: Step | null, string: number, strings: StringSet): StringEvent[] {
  const { stroke, ms } = step;
  const found: StringEvent[] = [];
  if (stroke && stroke.crossed.length > 0) found.push({ ms, kind: "shake", level: gain(strings.rig.joltDb + JOLT_EXTRA_DB[joltKind(stroke)]) });
  step.sounding.forEach((note, s) => {
    if (note && step.begins[s]) found.push({ ms, kind: "answer", to: { string: note.string, fret: note.pitchFret } });
  });
  if (isShoved(string, step, before)) found.push({ ms, kind: "shake", level: gain(BEND_SHOVE_DB) });
  return found;
}

function gain(db: number): number {
  return 10 ** (db / 20);
}
