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

/** In a sentence a finger is called shortly: middle, ring. */
export function ofFinger(finger: ContactFinger): string {
  return FINGER_NAMES[finger].replace(" finger", "");
}

interface ContactWords {
  /** How it lies on strings, as the part of a sentence, with its finger and its strings in words. */
  lies(who: string, on: string): string;
  /** Giving it up. */
  gone(who: string): string;
}

const press: ContactWords = { lies: (who, on) => `${who} stays down on ${on}`, gone: (who) => `${who} off` };

const CONTACT_WORDS: { readonly [H in keyof typeof PARTS_BY_HAND]: Readonly<Record<PartOf<H>, ContactWords>> } = {
  fretting: {
    press,
    underside: { lies: (who, on) => `${who} over ${on}`, gone: (who) => `${who} up` },
    tip: { lies: (who, on) => `${who} tip on ${on}`, gone: (who) => `${who} tip off` },
    flat: { lies: (who, on) => `${who} flat over ${on}`, gone: (who) => `${who} up again` },
    ease: { lies: (who, on) => `${who} rests on ${on}`, gone: (who) => `${who} off` },
    roll: { lies: (who, on) => `${who} rolls, still on ${on}`, gone: (who) => `${who} clear` },
    spare: { lies: (_, on) => `idle fingers on ${on}`, gone: () => "idle fingers off" },
    lay: { lies: (_, on) => `hand across ${on}`, gone: () => "hand off" },
    slap: { lies: (_, on) => `slap across ${on}`, gone: () => "slapping hand off" },
    thumb: { lies: (_, on) => `thumb over onto ${on}`, gone: () => "thumb off" },
  },
  picking: {
    press,
    palm: { lies: (_, on) => `palm on ${on}`, gone: () => "palm off" },
    thumb: { lies: (_, on) => `thumb on ${on}`, gone: () => "thumb off" },
    "thumb-edge": { lies: (_, on) => `thumb's edge on ${on}`, gone: () => "thumb's edge off" },
    spare: { lies: (who, on) => `curled ${who} on ${on}`, gone: (who) => `curled ${who} off` },
    heel: { lies: (_, on) => `flat hand on ${on}`, gone: () => "flat hand off" },
    "rest-stroke": { lies: (who, on) => `${who} rests on ${on}`, gone: (who) => `${who} rests off` },
    replant: { lies: (who, on) => `${who || "pick"} back on ${on}`, gone: (who) => `${who || "pick"} off` },
    park: { lies: (who, on) => `${who} parked on ${on}`, gone: (who) => `${who} unparked` },
    "thumb-return": { lies: (_, on) => `thumb back on ${on}`, gone: () => "thumb off again" },
    plant: { lies: (who, on) => `${who} planted on ${on}`, gone: (who) => `${who} lifts` },
  },
  aid: {
    "fret-wrap": { lies: (_, on) => `fret wrap over ${on}`, gone: () => "fret wrap off" },
  },
};

/** How a part of a hand lies on strings, as the part of a sentence. */
export function liesWords({ hand, part, finger, strings }: Kind & { finger?: ContactFinger | undefined; strings: readonly number[] }): string {
  const on = runs(strings);
  const who = finger === undefined ? "" : ofFinger(finger);
  return wordsOf({ hand, part } as Kind)
    .lies(who, on)
    .trim();
}

/** What players call a kind of contact. */
export function wordsOf({ hand, part }: Kind): ContactWords {
  return (CONTACT_WORDS[hand] as Readonly<Record<string, ContactWords>>)[part]!;
}

/** How a part of a hand lies on one string: "index over it". */
export function contactLabel(contact: Kind & { finger?: ContactFinger | undefined }): string {
  // Idle fingers lie together; which of them is on this string nobody cares.
  if (contact.hand === "fretting" && contact.part === "spare") return "idle finger on it";
  const who = contact.finger === undefined ? "" : ofFinger(contact.finger);
  return contact.part === "press" ? `${who} presses it`.trim() : wordsOf(contact).lies(who, "it").trim();
}

/** "index over it (fretting hand)" and the like. */
export function touchWords(touch: Kind & { finger?: ContactFinger | undefined }): string {
  return `${contactLabel(touch)} (${touch.hand === "aid" ? "aid" : `${touch.hand} hand`})`;
}

/** "1 to 3", "2 and 5", "2, 3 and 5": strings, the treble ones first. */
export function runs(strings: readonly number[]): string {
  const sorted = [...new Set(strings)].sort((a, b) => a - b);
  const found: [number, number][] = [];
  for (const string of sorted) {
    const last = found.at(-1);
    if (last && last[1] === string - 1) last[1] = string;
    else found.push([string, string]);
  }
  const words = found.map(([a, b]) => (a === b ? `${a}` : b === a + 1 ? `${a}, ${b}` : `${a} to ${b}`));
  return words.length < 2 ? (words[0] ?? "") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`;
}
