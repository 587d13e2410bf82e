import { AUDIBLE_DB } from "../acoustics/constants.ts";
import type { PlannedString } from "../document/plan.ts";
import type { Gain } from "../passage/schema.ts";
import { touchWords } from "./contacts.ts";
import { loudnessWords } from "./loudness.ts";

/** What a string does at a step: one word for each state, everywhere. */
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
