import type { ContactFinger } from "../hands/fingers.ts";
import type { Kind, PARTS_BY_HAND, PartOf } from "../hands/parts.ts";

/* What players call every contact of the catalogue: one row for each, or the types do not fit. */

export const FINGER_NAMES: Readonly<Record<ContactFinger, string>> = {
  1: "index",
  2: "middle finger",
  3: "ring finger",
  4: "little finger",
  T: "thumb",
  p: "thumb",
  i: "index",
  m: "middle finger",
  a: "ring finger",
  c: "little finger",
};

interface ContactWords {
  /** In lists, after which the finger is named unless `ownFinger`. */
  label: string;
  /** Short enough for a drawing. */
  sign: string;
  /** The label says which finger it is. */
  ownFinger?: true;
  /** Taking it, with its strings in words and its finger, as the part of a sentence. */
  takes(on: string, finger: string): string;
  /** Giving it up, where that is worth saying. */
  leaves?: string;
}

const press = (finger: string): ContactWords => ({ label: "pressed", sign: "tap", takes: (on) => `${finger} presses ${on}` });

const CONTACT_WORDS: { readonly [H in keyof typeof PARTS_BY_HAND]: Readonly<Record<PartOf<H>, ContactWords>> } = {
  fretting: {
    press: press("finger"),
    underside: {
      label: "underside",
      sign: "flat",
      takes: (on) => `lay the index flat so that its underside touches ${on}`,
      leaves: "arch the index",
    },
    tip: { label: "tip", sign: "tip", takes: (on, finger) => `let the tip of the ${finger} bump ${on}` },
    flat: { label: "flattened pad", sign: "pad", takes: (on, finger) => `flatten the ${finger} onto ${on}` },
    ease: { label: "eased", sign: "eased", takes: (on, finger) => `ease the ${finger} and leave it on ${on}` },
    roll: { label: "rolled off", sign: "rolled", takes: (on, finger) => `roll the ${finger} off ${on} and leave it resting there` },
    spare: { label: "spare finger", sign: "spare", takes: (on, finger) => `lay the spare ${finger} on ${on}`, leaves: "take the spare finger off" },
    lay: { label: "laid across", sign: "across", takes: (on) => `lay the fingers across ${on}`, leaves: "take the fingers off" },
    slap: { label: "slap", sign: "slap", takes: (on) => `slap the fingers across ${on}` },
    thumb: { label: "thumb", sign: "thumb", ownFinger: true, takes: (on) => `thumb over the edge onto ${on}` },
  },
  picking: {
    press: press("tapping finger"),
    palm: { label: "palm", sign: "palm", takes: (on) => `palm at the bridge on ${on}`, leaves: "lift the palm" },
    thumb: { label: "thumb", sign: "thumb", ownFinger: true, takes: (on) => `thumb rests on ${on}` },
    "thumb-edge": { label: "edge of the thumb", sign: "edge", ownFinger: true, takes: (on) => `the edge of the thumb stops ${on}` },
    spare: { label: "curled fingers", sign: "curled", ownFinger: true, takes: (on) => `rest the curled fingers on ${on}`, leaves: "take the spare finger off" },
    heel: { label: "flat hand", sign: "flat hand", takes: (on) => `hand lands flat on ${on} just before the stroke`, leaves: "lift the hand" },
    "rest-stroke": { label: "rest stroke", sign: "rest", takes: (on) => `come to rest on ${on}` },
    replant: { label: "set back", sign: "reset", takes: (on, finger) => `set the ${finger || "pick"} back on ${on}` },
    park: { label: "parked finger", sign: "parked", takes: (on, finger) => `the ${finger} parks on ${on}` },
    "thumb-return": { label: "thumb back on it", sign: "thumb", ownFinger: true, takes: (on) => `lay the thumb back on ${on}` },
    plant: { label: "finger back on it", sign: "planted", takes: (on, finger) => `the ${finger} comes back to ${on}` },
  },
  aid: {
    "fret-wrap": { label: "fret wrap", sign: "fret wrap", takes: (on) => `the fret wrap keeps ${on} still` },
  },
};

/** What players call a kind of contact. */
export function wordsOf({ hand, part }: Kind): ContactWords {
  return (CONTACT_WORDS[hand] as Readonly<Record<string, ContactWords>>)[part]!;
}

/** "underside, index" and the like. */
export function contactLabel(contact: Kind & { finger?: ContactFinger | undefined }): string {
  const { label, ownFinger } = wordsOf(contact);
  return contact.finger === undefined || ownFinger ? label : `${label}, ${FINGER_NAMES[contact.finger]}`;
}

/** "underside, index (fretting hand)" and the like. */
export function touchWords(touch: Kind & { finger?: ContactFinger | undefined }): string {
  return `${contactLabel(touch)} (${touch.hand === "aid" ? "aid" : `${touch.hand} hand`})`;
}

/** "string 4", "strings 1 to 3", "strings 2 and 4". */
export function stringsInWords(numbers: readonly number[]): string {
  const sorted = [...new Set(numbers)].sort((a, b) => a - b);
  if (sorted.length === 1) return `string ${sorted[0]}`;
  const first = sorted[0]!;
  const last = sorted.at(-1)!;
  if (sorted.length > 2 && last - first === sorted.length - 1) return `strings ${first} to ${last}`;
  return `strings ${sorted.slice(0, -1).join(", ")} and ${last}`;
}
