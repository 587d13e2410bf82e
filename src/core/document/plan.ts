import type { ContactFinger } from "../hands/fingers.ts";
import type { Kind } from "../hands/parts.ts";
import type { Cause } from "../hazards/types.ts";
import type { Intent } from "../intent/intent.ts";
import type { Patch } from "../passage/patch.ts";
import type { RefusalCode } from "../shapes/types.ts";
import type { Issue } from "../timeline/types.ts";

/** The plan document (`plan --json`); see docs/formats.md. */

export type StringState = "ring" | "muffled" | "thud" | "free" | "damped" | "still" | "stray";

export type TouchedBy = Kind & {
  finger?: ContactFinger;
  /** The fret behind which a finger is. */
  fret?: number;
  leadMs?: number;
};

export type WhyNot = Kind & {
  finger?: ContactFinger;
  code: RefusalCode;
  reason: string;
};

export interface PlannedString {
  string: number;
  intent: Intent;
  state: StringState;
  touchedBy: TouchedBy[];
  causes: Cause[];
  undampedDb: number | null;
  strayDb: number | null;
  whyNot?: WhyNot[];
}

/** What the fretting hand can do, and the picking hand: closed lists. */
export const FRETTING_DOES = [
  "down",
  "press",
  "let-go",
  "lift",
  "lean",
  "rest",
  "lay",
  "bend",
  "release-bend",
  "vibrato",
  "hammer",
  "pull",
  "slide",
  "tap",
  "thumb-over",
  "thumb-off",
  "hold",
] as const;
export const PICKING_DOES = ["stroke", "pluck", "palm", "follow", "lift", "rest", "plant", "park", "chuck", "click", "rake", "brush"] as const;

/** A place on a string: with a fret for the fretting hand, with the finger that is there or plucks there. */
export interface ActionPlace {
  string: number;
  fret?: number;
  finger: ContactFinger;
}

/** One thing a hand does at a step, as data: enough, with those before it, to rebuild every contact; see docs/formats.md. */
export interface Action {
  hand: "fretting" | "picking";
  does: (typeof FRETTING_DOES)[number] | (typeof PICKING_DOES)[number];
  part?: string;
  places?: ActionPlace[];
  strings?: number[];
  by?: ContactFinger;
  from?: number;
  to?: number;
  direction?: "down" | "up" | "bass" | "treble";
  chord?: string;
}

export interface PlannedStep {
  bar: number;
  at: string;
  ms: number;
  lengthMs: number;
  /** The fret at which the index belongs. */
  position: number;
  /** Strings that the stroke goes through, in its order, and those that fingers come down on with it. */
  struck?: number[];
  clicked?: number[];
  strings: PlannedString[];
  actions: Action[];
  fretting: string;
  picking: string;
}

export interface Stray {
  string: number;
  fromBar: number;
  fromAt: string;
  toBar: number;
  toAt: string;
  cause: Cause;
  db: number;
  /** Over the threshold and too faint to be heard beside what is meant to sound: counted nowhere. */
  faint?: true;
}

/** The strays of a plan that are heard. */
export function heardStrays({ strays }: Pick<PlanDocument, "strays">): Stray[] {
  return strays.filter((stray) => !stray.faint);
}

export interface Bottleneck {
  bar: number;
  at: string;
  hand: "fretting" | "picking";
  move: string;
  needMs: number;
  haveMs: number;
}

/** The highest tempo at which something still comes off, and what comes first beyond it; 300 stands for 300 and more and names nothing. */
export interface Limit {
  tempo: number;
  bar?: number;
  at?: string;
  says: string;
}

/** What the hands can do, and what stays clean: two limits, never one number for both. Null where it fails at 20 already. */
export interface Limits {
  hands: Limit | null;
  clean: Limit | null;
}

/** The highest tempo for both: what a player practises towards. Null where one of them has none. */
export function lowerOf({ hands, clean }: Limits): number | null {
  return hands && clean ? Math.min(hands.tempo, clean.tempo) : null;
}

/** As far as they are known: what the hands can do comes with the plan, what stays clean takes a search. */
export type KnownLimits = Pick<Limits, "hands"> & Partial<Pick<Limits, "clean">>;

export interface Counts {
  palmLiftsPerBar: number;
  indexChangesPerBar: number;
  stoppedByFretting: number;
  stoppedByPicking: number;
}

/** What a pin costs: the plan with all pins against the plan without this one. */
export interface PinPrice {
  path: string;
  met: boolean;
  /** Differences of the cost levels; positive is dearer. */
  price: { harm: number; rushed: number; stray: number; effort: number; changes: number };
  says: string;
}

/** A change that takes stray ring away, with what it does when planned anew. */
export interface Remedy {
  kind: RemedyKind;
  /** One sentence with its measured effect. */
  says: string;
  /** The most that one string falls at one moment, in dB. */
  ringRemovedDb: number;
  /** Stray rings of this plan that are gone then. */
  removes: { string: number; fromBar: number; fromAt: string }[];
  /** RFC 6902; starts with a test of what it was made for. */
  patch: Patch;
}

export type RemedyKind = "place" | "finger" | "barre" | "stroke" | "school" | "shorten" | "palm-mute" | "fret-wrap" | "tempo";

export interface PlanDocument {
  format: "rest-hand-plan";
  version: 2;
  tempo: number;
  issues: Issue[];
  steps: PlannedStep[];
  strays: Stray[];
  /** What stays clean is left out while it is not known yet; so is `ceilingTempo`, the lower of the two, null if one has none. */
  limits: KnownLimits;
  ceilingTempo?: number | null;
  bottlenecks: Bottleneck[];
  /** Only when the passage has pins. */
  pins?: PinPrice[];
  counts: Counts;
  /** Left out while they are not known yet. */
  remedies?: Remedy[];
  cost: { harm: number; rushed: number; stray: number; effort: number; changes: number };
}
