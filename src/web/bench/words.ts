import type { Cause } from "../../core/hazards/types.ts";
import type { PlannedString, TouchedBy } from "../../core/verdict/document.ts";

/** The core's codes in a player's words. */

export const CAUSE_WORDS: Readonly<Record<Cause, string>> = {
  struck: "it is struck in passing",
  "carry-over": "its note is over, but the string goes on",
  "pull-off": "the finger leaving it would pluck it",
  sympathy: "it answers another string",
  bend: "a bend shoves it",
  jolt: "the stroke shakes it",
  chime: "a light touch over a node lets it chime",
};

const STATE_WORDS: Readonly<Record<PlannedString["state"], string>> = {
  ring: "sounds",
  muffled: "palm-muted",
  thud: "dead stroke",
  free: "may ring on",
  damped: "kept silent",
  still: "still by itself",
  stray: "stray ring",
};

const PART_WORDS: Readonly<Record<TouchedBy["part"], string>> = {
  press: "pressed",
  underside: "underside",
  tip: "tip",
  flat: "flattened pad",
  ease: "eased",
  roll: "rolled off",
  spare: "spare finger",
  lay: "laid across",
  slap: "slap",
  thumb: "thumb",
  palm: "palm",
  "thumb-edge": "edge of the thumb",
  heel: "flat hand",
  "rest-stroke": "rest stroke",
  replant: "set back",
  park: "parked finger",
  "thumb-return": "thumb back on it",
  plant: "finger back on it",
  "fret-wrap": "fret wrap",
};

const FINGER_WORDS: Readonly<Record<string, string>> = {
  1: "index",
  2: "middle",
  3: "ring finger",
  4: "little finger",
  T: "thumb",
  p: "thumb",
  i: "index",
  m: "middle",
  a: "ring finger",
  c: "little finger",
};

export function stateWords(string: PlannedString): string {
  return STATE_WORDS[string.state];
}

/** "underside of the index (fretting hand)" and the like. */
export function touchWords(touch: Pick<TouchedBy, "hand" | "part"> & { finger?: TouchedBy["finger"] | undefined }): string {
  const finger = touch.finger === undefined || ["thumb", "thumb-edge", "thumb-return"].includes(touch.part) ? "" : `, ${FINGER_WORDS[touch.finger]}`;
  const hand = touch.hand === "aid" ? "aid" : `${touch.hand} hand`;
  return `${PART_WORDS[touch.part]}${finger} (${hand})`;
}

/** Everything about one string at one step, for screen readers. */
export function stringWords(string: PlannedString): string {
  const touches = string.touchedBy.map(touchWords).join(" and ");
  const loud = string.strayDb === null ? "" : `, ${string.strayDb} decibels too loud`;
  return `string ${string.string}: ${stateWords(string)}${loud}${touches ? `, ${touches}` : ""}`;
}
