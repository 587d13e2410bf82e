import type { Cause } from "../hazards/types.ts";

/** Why a string would ring, or rings, as the end of a sentence about it. */
export const CAUSE_WORDS: Readonly<Record<Cause, string>> = {
  struck: "it is struck in passing",
  "carry-over": "its note is over, but the string goes on",
  "pull-off": "the finger leaving it would pluck it",
  sympathy: "it answers another string",
  bend: "a bend shoves it",
  jolt: "the stroke shakes it",
  chime: "a light touch over a node lets it chime",
};
