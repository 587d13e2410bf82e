import { z } from "zod";
import { DRILL_KINDS, type Try } from "../drills/types.ts";
import { contactSchema } from "../passage/schema.ts";
import { textSchema } from "../passage/text.ts";

/* What a log keeps of a session of practice; see docs/formats.md. */

export const PRACTICE_FORMAT = "rest-hand-practice";
/** 1: without takes. */
export const PRACTICE_VERSION = 2;

/** Where it can hurt, in the player's words; whatever it is, the answer is rest. */
export const SORE_PLACES = ["fingertips", "fretting hand or wrist", "fretting thumb", "picking hand or wrist", "forearm or elbow", "shoulder or neck"] as const;
export type SorePlace = (typeof SORE_PLACES)[number];

/** Who said whether a try was clean. */
export const JUDGES = ["player", "microphone"] as const;

const moment = z.iso.datetime();
const drillId = textSchema(200, 1);
const tempo = z.number().min(1).max(1000);

const practisedDrill = z.strictObject({
  id: drillId,
  kind: z.enum(DRILL_KINDS),
  title: textSchema(300),
  start: tempo,
  goal: tempo,
  /** Seconds that it was played. */
  seconds: z.number().min(0).max(86_400),
});
const practiceTry = z.strictObject({ drill: drillId, tempo, clean: z.boolean(), at: moment, by: z.enum(JUDGES) });
const discomfort = z.strictObject({
  at: moment,
  /** Null until it is said where. */
  where: z.enum(SORE_PLACES).nullable(),
  /** Which drill was on, and which contact it was about. */
  drill: drillId.nullable(),
  contact: contactSchema.nullable(),
});

/** Takes in one session. */
export const MOST_TAKES = 200;

/** What a take's finding can be: a ring, a muffled note that rings, a note that never spoke or ended early, a stroke off its beat or not heard. */
export const FINDING_KINDS = ["stray", "open", "silent", "hole", "late", "missed"] as const;

const finding = z.strictObject({
  kind: z.enum(FINDING_KINDS),
  /** The plan says so itself. */
  planned: z.literal(true).optional(),
  /** From 1, and the written place in the bar, in ticks. */
  bar: z.int().min(1),
  tick: z.int().min(0),
  string: z.int().min(1).nullable(),
  /** Of the take, in ms. */
  fromMs: z.number(),
  toMs: z.number(),
  /** In the player's words. */
  says: textSchema(500),
});
/** A take as figures; its sound is kept beside, where that was asked for. */
export const keptTakeSchema = z.strictObject({
  id: z.uuid(),
  at: moment,
  /** Recorded here, or opened from a file of this name. */
  file: textSchema(255).nullable(),
  seconds: z.number().min(0).max(2000),
  /** Quarters a minute as written, and as played. */
  written: tempo,
  played: tempo,
  /** All of it in a sentence or two. */
  says: textSchema(2000),
  findings: z.array(finding).max(1000),
  notes: z.int().min(0),
  untold: z.int().min(0),
  /** Half of the strokes are so near an even beat, in ms; null where too few were heard. */
  evenMs: z.number().nullable(),
});

/** A session of practice. Of a passage that is gone for good, its title is left. */
export const practiceSessionSchema = z.strictObject({
  id: z.uuid(),
  passage: z.uuid().nullable(),
  /** A move that was practised without a passage. */
  figure: textSchema(40, 1).nullable(),
  title: textSchema(200),
  startedAt: moment,
  endedAt: moment,
  /** Minutes that were planned. */
  minutes: z.number().min(0).max(1000),
  note: textSchema(4000),
  drills: z.array(practisedDrill).max(100),
  tries: z.array(practiceTry).max(5000),
  discomforts: z.array(discomfort).max(100),
  takes: z.array(keptTakeSchema).max(MOST_TAKES).default([]),
});
export type PracticeSession = z.infer<typeof practiceSessionSchema>;
export type PractisedDrill = PracticeSession["drills"][number];
export type PracticeTry = PracticeSession["tries"][number];
export type KeptTake = z.infer<typeof keptTakeSchema>;
export type KeptFinding = KeptTake["findings"][number];
export type Discomfort = PracticeSession["discomforts"][number];

/** All that was practised, as one document. */
export const practiceLogSchema = z.strictObject({
  format: z.literal(PRACTICE_FORMAT),
  version: z.literal([1, PRACTICE_VERSION]),
  sessions: z.array(practiceSessionSchema),
});
export type PracticeLog = z.infer<typeof practiceLogSchema>;

export function logOf(sessions: readonly PracticeSession[]): PracticeLog {
  return { format: PRACTICE_FORMAT, version: PRACTICE_VERSION, sessions: [...sessions] };
}

/** Tries as the core's rules of practice take them. */
export function triesOf(tries: readonly PracticeTry[]): Try[] {
  return tries.map(({ drill, tempo, clean, at }) => ({ drill, tempo, clean, at: Date.parse(at) }));
}

/**
 * One session out of two reports of it: what happened in either has happened. A session that goes on in two tabs, or that is sent
 * again, loses nothing; of the rest the later report counts.
 */
export function mergedSession(before: PracticeSession, now: PracticeSession): PracticeSession {
  const late = now.endedAt >= before.endedAt ? now : before;
  return {
    ...late,
    startedAt: [before.startedAt, now.startedAt].sort()[0]!,
    note: now.note || before.note,
    drills: union(
      before.drills,
      now.drills,
      ({ id }) => id,
      (a, b) => (a.seconds > b.seconds ? a : b),
    ),
    tries: union(
      before.tries,
      now.tries,
      ({ drill, at }) => `${at} ${drill}`,
      // The player overrules the microphone.
      (a, b) => (a.by === b.by ? (late === now ? b : a) : a.by === "player" ? a : b),
    ).sort((a, b) => a.at.localeCompare(b.at)),
    discomforts: union(
      before.discomforts,
      now.discomforts,
      ({ at }) => at,
      (a, b) => (b.where === null ? a : b),
    ),
    takes: union(
      before.takes,
      now.takes,
      ({ id }) => id,
      (a) => a,
    ).sort((a, b) => a.at.localeCompare(b.at)),
  };
}

function union<T>(before: readonly T[], now: readonly T[], keyOf: (one: T) => string, oneOf: (a: T, b: T) => T): T[] {
  const all = new Map(before.map((one) => [keyOf(one), one]));
  for (const one of now) {
    const known = all.get(keyOf(one));
    all.set(keyOf(one), known ? oneOf(known, one) : one);
  }
  return [...all.values()];
}
