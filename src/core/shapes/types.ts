import type { Touch } from "../acoustics/modal.ts";
import type { Hand, Part, PickingFinger } from "../passage/schema.ts";

export type ContactFinger = 1 | 2 | 3 | 4 | "T" | PickingFinger;

/** One part of a hand on one string. */
export interface Contact {
  string: number;
  hand: Hand;
  part: Part;
  finger?: ContactFinger;
  /** Where on the string, in mm from nut or capo. */
  touch: Touch;
  /** A lone narrow finger, which chimes over a node. */
  narrow: boolean;
  /** How long before the step it lands, when it has to. */
  leadMs?: number;
}

/** Why a contact cannot be had. Codes are stable; reasons are for the player. */
export interface Refusal {
  string: number;
  hand: Hand;
  part: Part;
  finger?: ContactFinger;
  code: RefusalCode;
  reason: string;
}

export type RefusalCode =
  | "dead-side"
  | "would-choke"
  | "out-of-reach"
  | "finger-busy"
  | "no-time"
  | "school"
  | "chimes"
  | "palm-margin"
  | "banned"
  | "not-needed"
  | "costlier";

/** Sets of strings as bits: string s is bit s − 1. */
export type StringMask = number;

export function bit(string: number): StringMask {
  return 1 << (string - 1);
}

/** What one hand does during one step besides the notes themselves. */
export interface Shape {
  contacts: readonly Contact[];
  /** Strings kept still against sympathy and jolt. */
  damps: StringMask;
  /** Strings whose sounding note it ends. */
  stops: StringMask;
  /** Strings it deadens though they are struck. */
  deadens: StringMask;
  /** Strings under a palm (or bass-muting finger) that leaves them their pitch. */
  muffles: StringMask;
  /** Effort of holding it, in tenths per second. */
  hold: number;
  /** Effort in tenths that every stroke made in it costs, for what players only do when nothing else helps. */
  perStroke: number;
  /** What matters for moving to and from it. */
  pose: Pose;
  /** Per string (index string − 1): how likely its contact there fails; 1 where there is none. */
  fails: readonly number[];
}

/** Where the movable parts of a hand are. Shapes with equal poses move for nothing. */
export interface Pose {
  key: string;
  /** Fretting hand. */
  indexLaid: boolean;
  across: boolean;
  spare: string;
  thumbOver: boolean;
  /** Fingers that press or rest where they last pressed, as bits 1-4 (T is bit 0). */
  inPlace: number;
  /** Fingers resting where they last pressed, as bits. */
  eased: number;
  /** Picking hand: lowest-numbered string under the palm (0 = off), heel down for a chuck, string under the thumb. */
  palm: number;
  heel: boolean;
  thumb: number;
  planted: number;
}

export const NO_POSE: Pose = {
  key: "",
  indexLaid: false,
  across: false,
  spare: "",
  thumbOver: false,
  inPlace: 0,
  eased: 0,
  palm: 0,
  heel: false,
  thumb: 0,
  planted: 0,
};
