import { knownIn } from "../caching/known.ts";
import { type BesidePart, partsOf } from "./parts.ts";

/*
 * Where the movable parts of a hand are, besides what the written notes ask for. A posture is something a hand can keep for
 * bars: shapes with equal postures move for nothing, and moves see shapes only by posture. Equal postures are one object.
 */

/** What fingers with nothing to press do besides resting where they pressed. */
export type SpareFingers =
  | { kind: "none" }
  /** Laid together on these strings. */
  | { kind: "laid"; strings: readonly number[] }
  /** Together on the pressed string's own bridge side: they come down with the press. */
  | { kind: "along"; string: number };

export interface FrettingPosture {
  hand: "fretting";
  /** Its own, among those of this hand. */
  id: number;
  /** Strings under the index's underside, as bits; 0 when it is arched. */
  lean: number;
  across: boolean;
  thumb: "behind" | "over";
  spare: SpareFingers;
}

/** What the heel or the thumb of the picking hand does. */
export type HandAtStrings =
  | { kind: "off" }
  /** The side of the hand on the bass side of the string being picked, going along with the pick; `from` is 0 over none. */
  | { kind: "follow"; from: number }
  /** The heel staying at the bridge on a run from this string to the lowest. */
  | { kind: "palm"; from: number }
  /** Flat on the strings for a chuck. */
  | { kind: "heel" }
  /** The thumb leaning on this string and the ones on its bass side, going along with the playing fingers. */
  | { kind: "thumb-follow"; string: number }
  | { kind: "thumb"; string: number };

/** What its fingers do beside; `at` is the string, or the strings as bits, where it matters for moving there, else 0. */
export type FingersBeside = { part: BesidePart; at: number } | null;

export interface PickingPosture {
  hand: "picking";
  /** Its own, among those of this hand. */
  id: number;
  at: HandAtStrings;
  beside: FingersBeside;
}

export type Posture = FrettingPosture | PickingPosture;

const NO_SPARE: SpareFingers = { kind: "none" };

/** Room for a set of strings in a posture's code. */
const STRING_BITS = 8;
const SPARE_KINDS = ["none", "laid", "along"] as const;
const AT_KINDS = ["off", "follow", "palm", "heel", "thumb-follow", "thumb"] as const;
const BESIDE: readonly string[] = partsOf("picking");

const frettingPostures = new Map<number, FrettingPosture>();
const pickingPostures = new Map<number, PickingPosture>();

/** A posture of the fretting hand; what is left out is at rest. */
export function frettingPosture(what: Partial<Omit<FrettingPosture, "hand" | "id">>): FrettingPosture {
  const { lean = 0, across = false, thumb = "behind", spare = NO_SPARE } = what;
  const laid = spare.kind === "none" ? 0 : spare.kind === "along" ? spare.string : spare.strings.reduce((mask, s) => mask | (1 << (s - 1)), 0);
  const fingers = (laid << 2) | SPARE_KINDS.indexOf(spare.kind);
  const code = (((fingers << STRING_BITS) | lean) << 2) | (across ? 2 : 0) | (thumb === "over" ? 1 : 0);
  return knownIn(frettingPostures, code, () => ({ hand: "fretting", id: frettingPostures.size, lean, across, thumb, spare }));
}

export function pickingPosture(at: HandAtStrings, beside: FingersBeside): PickingPosture {
  const lies = "from" in at ? at.from : "string" in at ? at.string : 0;
  const fingers = beside === null ? 0 : ((1 + BESIDE.indexOf(beside.part)) << STRING_BITS) | beside.at;
  const code = (((fingers << 4) | lies) << 3) | AT_KINDS.indexOf(at.kind);
  return knownIn(pickingPostures, code, () => ({ hand: "picking", id: pickingPostures.size, at, beside }));
}

export const FREE_PICKING = pickingPosture({ kind: "off" }, null);

export function sameSpare(a: SpareFingers, b: SpareFingers): boolean {
  if (a.kind === "laid" && b.kind === "laid") return a.strings.length === b.strings.length && a.strings.every((s, i) => s === b.strings[i]);
  if (a.kind === "along" && b.kind === "along") return a.string === b.string;
  return a.kind === b.kind;
}

/** Whether a keeps every string of b under its index. */
export function leansAsFar(a: FrettingPosture, b: FrettingPosture): boolean {
  return (b.lean & ~a.lean) === 0;
}

/** The lowest-numbered string under the palm, staying or following; 0 when it is over none. */
export function palmFrom({ at }: PickingPosture): number {
  return at.kind === "palm" || at.kind === "follow" ? at.from : 0;
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
  return at.kind === "thumb" || at.kind === "thumb-follow" ? at.string : 0;
}

/** Whether heel or palm lies on strings. */
export function isDown({ at }: PickingPosture): boolean {
  return at.kind === "heel" || ((at.kind === "palm" || at.kind === "follow") && at.from > 0);
}
