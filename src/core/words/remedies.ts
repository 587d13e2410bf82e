import type { RemedyKind, Stray } from "../document/plan.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { FINGER_NAMES } from "./contacts.ts";
import { loudnessWords } from "./loudness.ts";

/** What the player does; "…" stands for one of several choices. */
export const DO = {
  tempo: (tempo: number) => `Play it at ${tempo} quarters a minute`,
  finger: (string: number, fret: number) => `Take the … for string ${string}, fret ${fret}`,
  hold: (fingers: readonly ContactFinger[]) => `Hold it with ${fingers.map((finger) => FINGER_NAMES[finger]).join(" and ")}`,
  barre: (finger: ContactFinger, fret: number, instead: number) => `Lay the ${FINGER_NAMES[finger]} across fret ${fret} instead of ${instead} fingers`,
  place: (string: number, fret: number) => `Play the note of string ${string}, fret ${fret} on …`,
  narrower: (strings: readonly number[]) => `Narrow the stroke so that it misses string ${strings.join(" and ")}`,
  direction: (way: "down" | "up") => `Strike ${way} instead`,
  shorten: (string: number) => `End the note on string ${string} … early`,
  palmMute: (string: number) => `Palm-mute the note on string ${string}`,
} as const;

export function placeName(string: number, fret: number): string {
  return `string ${string}, ${fret === 0 ? "open" : `fret ${fret}`}`;
}

/** Parts of a whole note. */
export const SHARES = { 16: "a sixteenth", 32: "a thirty-second", 64: "a sixty-fourth" } as const;

/** A change as it is said. */
export interface Said {
  kind: RemedyKind;
  what: string;
  choice?: string;
  where?: string;
}

/** What to do, its choice in place. */
export function whatOf({ what, choice = "" }: Said): string {
  return what.replace("…", choice);
}

/** What to do, with all choices that do as well: "Take the ring or little finger for string 3". */
export function saysOf(same: readonly Said[]): string {
  const { kind, what, where } = same[0]!;
  const all = [...new Set(same.flatMap(({ choice }) => (choice ? [choice] : [])))];
  // Who ends a note early ends it no earlier than needed.
  const choices = kind === "shorten" ? all.slice(0, 1) : all.map((choice, i) => (i < all.length - 1 ? choice.replace(" finger", "") : choice));
  const said = choices.length < 3 ? choices.join(" or ") : `${choices.slice(0, -1).join(", ")} or ${choices.at(-1)}`;
  return `${what.replace("…", said)}${where ? ` (${where})` : ""}`;
}

/** What a change comes to, by what is left of the ringing. */
export function effectWords(left: readonly Stray[], audibleDb: number): string {
  if (left.length === 0) return "then nothing rings astray.";
  const loudest = new Map<number, number>();
  for (const { string, db } of left) loudest.set(string, Math.max(db, loudest.get(string) ?? 0));
  const strings = [...loudest].sort((a, b) => b[1] - a[1]);
  if (strings.length > 2) return `then ${strings.length} strings still ring.`;
  return `then only ${strings.map(([string, db]) => `string ${string} (${loudnessWords(db, audibleDb)})`).join(" and ")} still ring${strings.length === 1 ? "s" : ""}.`;
}
