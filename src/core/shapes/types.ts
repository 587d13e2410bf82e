import type { Touch } from "../acoustics/modal.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import type { Kind } from "../hands/parts.ts";
import type { FrettingPosture, PickingPosture, Posture } from "../hands/postures.ts";

/** One part of a hand on one string. */
export type Contact = Readonly<
  Kind & {
    string: number;
    finger?: ContactFinger | undefined;
    /** The fret behind which a part of the fretting hand lies. */
    fret?: number | undefined;
    /** Where on the string, in mm from nut or capo. */
    touch: Touch;
    /** A lone narrow finger, which chimes over a node. */
    narrow: boolean;
    /** How long before the step it lands, when it has to. */
    leadMs?: number | undefined;
  }
>;

/** Why a contact cannot be had. Codes are stable. */
export type Refusal = Kind & {
  string: number;
  finger?: ContactFinger | undefined;
  code: RefusalCode;
  why: Why;
};

/** The reason as data, with the strings or frets it is about; `words/refusals.ts` says it. */
export type Why = readonly [WhyName, ...number[]];

export type WhyName =
  | "bends"
  | "has-to-leave"
  | "picking-hand-damps"
  | "hand-holds-notes"
  | "laid-across-chokes"
  | "thumb-behind"
  | "arched"
  | "index-bends"
  | "index-also-lies-on"
  | "past-the-grip"
  | "all-at-work"
  | "wanted-too-soon"
  | "across-a-sounding"
  | "too-far"
  | "dead-side"
  | "other-hand-damps"
  | "chokes"
  | "ruled-out"
  | "taps"
  | "palm-at-bridge"
  | "in-the-way"
  | "bass-side-thumb"
  | "thumb-on-pickup"
  | "thumb-anchored"
  | "thumb-plucks"
  | "finger-plucks"
  | "stops-short"
  | "slaps"
  | "plucks-with-fingers"
  | "thumb-rests"
  | "fingers-lift-palm"
  | "lands-on-down"
  | "cannot-pass"
  | "dead-is-frettings"
  | "chucks-by-release"
  | "hand-chokes"
  | "not-needed"
  | "chimes"
  | "no-time"
  | "loses-palm"
  | "too-late"
  | "would-ring"
  | "would-ring-on"
  | "more-changes"
  | "harder"
  | "no-better";

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
  | "contortion"
  | "not-needed"
  | "costlier";

/** Sets of strings as bits: string s is bit s − 1. */
export type StringMask = number;

export function bit(string: number): StringMask {
  return 1 << (string - 1);
}

/** How many strings are in a set. */
export function bitCount(mask: number): number {
  let count = 0;
  for (let m = mask; m !== 0; m &= m - 1) count++;
  return count;
}

/** A chance of one, where chances are whole numbers, which are the quick ones. */
export const SURELY = 1_000_000;

/** What one hand does during one step besides the notes themselves. */
export interface HandShape<P extends Posture = Posture> {
  contacts: readonly Contact[];
  /** Strings kept still against sympathy and jolt. */
  damps: StringMask;
  /** Strings whose sounding note it ends. */
  stops: StringMask;
  /** Strings it deadens though they are struck. */
  deadens: StringMask;
  /** Strings under a lone finger over a node, which it lets chime when they are struck, unless something else touches them too. */
  chimes: StringMask;
  /** Strings under a palm (or bass-muting finger) that leaves them their pitch. */
  muffles: StringMask;
  /** Effort of holding it, in tenths per second. */
  hold: number;
  /** Effort in tenths that every stroke made in it costs, for what players only do when nothing else helps. */
  perStroke: number;
  /** What matters for moving to and from it. */
  posture: P;
  /** Per string (index string − 1): how likely its contacts there fail, in millionths; `SURELY` where there is none. */
  fails: readonly number[];
}

export type FrettingShape = HandShape<FrettingPosture>;
export type PickingShape = HandShape<PickingPosture>;
