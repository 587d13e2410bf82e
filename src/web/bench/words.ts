import { AUDIBLE_DB } from "../../core/acoustics/constants.ts";
import type { Gain } from "../../core/passage/schema.ts";
import type { PlannedString } from "../../core/verdict/document.ts";
import { touchWords } from "../../core/words/contacts.ts";
import { loudnessWords } from "../../core/words/loudness.ts";

/** The core's codes in a player's words. */

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

/** Everything about one string at one step, for screen readers. */
export function stringWords(string: PlannedString, gain: Gain): string {
  const touches = string.touchedBy.map(touchWords).join(" and ");
  const loud = string.strayDb === null ? "" : `, ${loudnessWords(string.strayDb, AUDIBLE_DB[gain])}`;
  return `string ${string.string}: ${stateWords(string)}${loud}${touches ? `, ${touches}` : ""}`;
}
