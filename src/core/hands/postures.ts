import type { FingerMask } from "./fingers.ts";
import type { BesidePart } from "./parts.ts";

/*
 * Where the movable parts of a hand are. Shapes with equal postures move for nothing, and moves see shapes only by posture.
 */

/** What fingers with nothing to press do besides resting where they were. */
export type SpareFingers =
  | { kind: "none" }
  /** Laid on a run of strings in front of the chord. */
  | { kind: "laid"; strings: readonly number[] }
  /** Together on the pressed string's own bridge side: they come down with the press. */
  | { kind: "along"; string: number };

export interface FrettingPosture {
  hand: "fretting";
  index: "arched" | "laid";
  across: boolean;
  thumb: "behind" | "over";
  spare: SpareFingers;
  /** Fingers that press or rest where they last pressed. */
  inPlace: FingerMask;
  /** Fingers resting where they last pressed. */
  eased: FingerMask;
  /** Equal for equal postures. */
  key: string;
}

/** What the heel or the thumb of the picking hand does. */
export type HandAtStrings =
  | { kind: "off" }
  /** Heel at the bridge on a run from this string to the lowest. */
  | { kind: "palm"; from: number }
  /** Flat on the strings for a chuck. */
  | { kind: "heel" }
  | { kind: "thumb"; string: number };

/** What its fingers do beside; `at` is the string, or the strings as bits, where it matters for moving there, else 0. */
export type FingersBeside = { part: BesidePart; at: number } | null;

export interface PickingPosture {
  hand: "picking";
  at: HandAtStrings;
  beside: FingersBeside;
  /** Equal for equal postures. */
  key: string;
}

export type Posture = FrettingPosture | PickingPosture;

const NO_SPARE: SpareFingers = { kind: "none" };

export const FREE_FRETTING = frettingPosture({});
export const FREE_PICKING = pickingPosture({ kind: "off" }, null);

/** A posture of the fretting hand; what is left out is at rest. */
export function frettingPosture(what: Partial<Omit<FrettingPosture, "hand" | "key">>): FrettingPosture {
  const { index = "arched", across = false, thumb = "behind", spare = NO_SPARE, inPlace = 0, eased = 0 } = what;
  const laid = spare.kind === "none" ? "" : JSON.stringify(spare);
  return { hand: "fretting", index, across, thumb, spare, inPlace, eased, key: `${index}${across}${thumb}${laid}/${inPlace}/${eased}` };
}

export function pickingPosture(at: HandAtStrings, beside: FingersBeside): PickingPosture {
  const lies = at.kind === "palm" ? at.from : at.kind === "thumb" ? at.string : "";
  return { hand: "picking", at, beside, key: `${at.kind}${lies}/${beside ? beside.part + beside.at : ""}` };
}

export function sameSpare(a: SpareFingers, b: SpareFingers): boolean {
  if (a.kind === "laid" && b.kind === "laid") return a.strings.join() === b.strings.join();
  if (a.kind === "along" && b.kind === "along") return a.string === b.string;
  return a.kind === b.kind;
}

/** The lowest-numbered string under the palm; 0 when it is off. */
export function palmFrom({ at }: PickingPosture): number {
  return at.kind === "palm" ? at.from : 0;
}

/** Whether heel and palm lie alike, whatever thumb and fingers do. */
export function samePalm(a: PickingPosture, b: PickingPosture): boolean {
  return palmFrom(a) === palmFrom(b) && (a.at.kind === "heel") === (b.at.kind === "heel");
}

/** Whether the fingers beside the hand lie alike. */
export function sameBeside({ beside: a }: PickingPosture, { beside: b }: PickingPosture): boolean {
  return a?.part === b?.part && a?.at === b?.at;
}

/** The string under the thumb; 0 when it is off. */
export function thumbOn({ at }: PickingPosture): number {
  return at.kind === "thumb" ? at.string : 0;
}

/** Whether heel or palm lies on the strings. */
export function isDown({ at }: PickingPosture): boolean {
  return at.kind === "palm" || at.kind === "heel";
}
