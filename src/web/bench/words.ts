import type { ContactFinger } from "../../core/hands/fingers.ts";
import type { Kind } from "../../core/hands/parts.ts";
import type { Cause } from "../../core/hazards/types.ts";
import type { PlannedString } from "../../core/verdict/document.ts";
import { contactLabel } from "../../core/words/contacts.ts";

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

export function stateWords(string: PlannedString): string {
  return STATE_WORDS[string.state];
}

/** "underside, index (fretting hand)" and the like. */
export function touchWords(touch: Kind & { finger?: ContactFinger | undefined }): string {
  return `${contactLabel(touch)} (${touch.hand === "aid" ? "aid" : `${touch.hand} hand`})`;
}

/** Everything about one string at one step, for screen readers. */
export function stringWords(string: PlannedString): string {
  const touches = string.touchedBy.map(touchWords).join(" and ");
  const loud = string.strayDb === null ? "" : `, ${string.strayDb} decibels too loud`;
  return `string ${string.string}: ${stateWords(string)}${loud}${touches ? `, ${touches}` : ""}`;
}
