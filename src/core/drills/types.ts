import type { ContactFinger } from "../hands/fingers.ts";
import type { Kind, PlannedHand } from "../hands/parts.ts";
import type { Passage } from "../passage/schema.ts";
import type { Damping } from "../sound/score.ts";

/** Kinds of drills, from parts to the whole. */
export const DRILL_KINDS = [
  "dead-groove",
  "open-strings",
  "silent-hand",
  "one-hand",
  "both-strings",
  "one-gesture",
  "one-slur",
  "to-each-stop",
  "string-by-string",
  "change-while-scratching",
  "whole",
  "once",
] as const;
export type DrillKind = (typeof DRILL_KINDS)[number];

/** A contact that a drill is about. */
export type DrillContact = Kind & { finger?: ContactFinger };

/** Where in the passage a drill comes from; bars from 1, both ends included. */
export interface Focus {
  fromBar: number;
  fromAt: string;
  toBar: number;
  toAt: string;
  strings: number[];
  contact?: DrillContact;
}

/** From which tempo on, up to which, and by how much; see `ladder.ts`. */
export interface Ladder {
  start: number;
  goal: number;
  /** What was clean before, where it was practised before: up to there one clean try is enough, it is only warmed up. */
  reached?: number;
  /** Up, after so many clean tries in a row; near the goal by so many quarters a minute. */
  stepPercent: number;
  nearGoalStep: number;
  cleanInARow: number;
  /** After two tries that were not clean, in per cent. */
  afterTwoFails: number;
}

/** How something sounds: whose damping is heard, or with one contact left out. */
export interface DrillSound {
  damping?: Damping;
  without?: DrillContact;
}

/** What strains a hand: no more than a third of a session goes to one of them (common practice). */
export type Strain = "bend" | "barre" | "thumb over" | "across";

export interface Drill {
  /** The same for the same drill of later versions of a passage, as far as they have it: what a log goes by. */
  id: string;
  kind: DrillKind;
  title: string;
  does: string;
  listensFor: string;
  hand: PlannedHand | "both";
  focus: Focus;
  tempo: Ladder;
  ends: { cleanAt: number; times: number; orMinutes: number };
  /** `silent`: the plan's timing without strokes. */
  strokes: "play" | "silent";
  sounds: { right: DrillSound; fails: DrillSound };
  minutes: number;
  why: string;
  strain?: Strain;
  passage: Passage;
}

/** The drills of a session (`drills --json`); see docs/formats.md. */
export interface DrillPlan {
  format: "rest-hand-drills";
  version: 1;
  minutes: number;
  drills: Drill[];
}

/** One try of a drill, as a log has it. */
export interface Try {
  drill: string;
  tempo: number;
  clean: boolean;
  /** When, in ms since 1970. */
  at: number;
}

/** Drills whose turn it is not yet, and those that somebody asks for, by their ids. */
export interface Turns {
  resting?: readonly string[];
  asked?: readonly string[];
}

/** A drill that could be had, before minutes are shared out. */
export interface Candidate extends Omit<Drill, "minutes" | "tempo" | "ends"> {
  /** What its contacts keep from ringing: dB over what is heard, a bar. */
  value: number;
  /** Minutes after which it has given most of what it gives. */
  usual: number;
}
