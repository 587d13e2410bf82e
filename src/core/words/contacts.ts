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
  /** How it lies on strings, as the part of a sentence, with its finger and its strings in words. */
  lies(who: string, on: string): string;
  /** Giving it up. */
  gone(who: string): string;
}

const press: ContactWords = { label: "pressed", sign: "tap", lies: (who, on) => `${who} stays down on ${on}`, gone: (who) => `${who} off` };

const CONTACT_WORDS: { readonly [H in keyof typeof PARTS_BY_HAND]: Readonly<Record<PartOf<H>, ContactWords>> } = {
  fretting: {
    press,
    underside: { label: "underside", sign: "flat", lies: (who, on) => `${who} over ${on}`, gone: (who) => `${who} up` },
    tip: { label: "tip", sign: "tip", lies: (who, on) => `${who} tip on ${on}`, gone: (who) => `${who} tip off` },
    flat: { label: "flattened pad", sign: "pad", lies: (who, on) => `${who} flat over ${on}`, gone: (who) => `${who} up again` },
    ease: { label: "eased", sign: "eased", lies: (who, on) => `${who} rests on ${on}`, gone: (who) => `${who} off` },
    roll: { label: "rolled off", sign: "rolled", lies: (who, on) => `${who} rolls, still on ${on}`, gone: (who) => `${who} clear` },
    spare: { label: "spare finger", sign: "spare", lies: (who, on) => `idle ${who} on ${on}`, gone: (who) => `idle ${who} off` },
    lay: { label: "laid across", sign: "across", lies: (_, on) => `hand across ${on}`, gone: () => "hand off" },
    slap: { label: "slap", sign: "slap", lies: (_, on) => `slap across ${on}`, gone: () => "hand off" },
    thumb: { label: "thumb", sign: "thumb", ownFinger: true, lies: (_, on) => `thumb over onto ${on}`, gone: () => "thumb off" },
  },
  picking: {
    press,
    palm: { label: "palm", sign: "palm", lies: (_, on) => `palm on ${on}`, gone: () => "palm off" },
    thumb: { label: "thumb", sign: "thumb", ownFinger: true, lies: (_, on) => `thumb on ${on}`, gone: () => "thumb off" },
    "thumb-edge": { label: "edge of the thumb", sign: "edge", ownFinger: true, lies: (_, on) => `thumb's edge on ${on}`, gone: () => "thumb's edge off" },
    spare: { label: "curled fingers", sign: "curled", ownFinger: true, lies: (who, on) => `curled ${who} on ${on}`, gone: (who) => `curled ${who} off` },
    heel: { label: "flat hand", sign: "flat hand", lies: (_, on) => `flat hand on ${on}`, gone: () => "flat hand off" },
    "rest-stroke": { label: "rest stroke", sign: "rest", lies: (who, on) => `${who} rests on ${on}`, gone: (who) => `${who} rests off` },
    replant: { label: "set back", sign: "reset", lies: (who, on) => `${who || "pick"} back on ${on}`, gone: (who) => `${who || "pick"} off` },
    park: { label: "parked finger", sign: "parked", lies: (who, on) => `${who} parked on ${on}`, gone: (who) => `${who} unparked` },
    "thumb-return": { label: "thumb back on it", sign: "thumb", ownFinger: true, lies: (_, on) => `thumb back on ${on}`, gone: () => "thumb off again" },
    plant: { label: "finger back on it", sign: "planted", lies: (who, on) => `${who} planted on ${on}`, gone: (who) => `${who} planted no more` },
  },
  aid: {
    "fret-wrap": { label: "fret wrap", sign: "fret wrap", lies: (_, on) => `fret wrap over ${on}`, gone: () => "fret wrap off" },
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
