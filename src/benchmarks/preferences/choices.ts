import { parsePassage } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { HANDS, type HandOfWork } from "../yardstick/figures.ts";
import { YARDSTICK } from "../yardstick/passages.ts";
import type { Sequence } from "./sequences.ts";

/** Why the one plan is taken and the other is not, in a teacher's words. */
export const WHY = {
  guard: "A string that a hand has held stays held: a guard that is up is left there.",
  flutter: "The index covers these strings already; idle fingers that come down and leave at every note are flutter.",
  curl: "Nobody curls picking fingers onto the treble strings for a note or two.",
  lean: "The index leans over the strings beside its own: that is this player's home, and idle fingers need not do its work.",
  lying: "With an arched index the idle fingers lie together on the strings: that is this player's home.",
  follow: "The side of the hand travels with the pick in no time; a palm that is planted somewhere has to move.",
  float: "The hand lies on the strings on the bass side of what it plays; in the air it guards nothing.",
  crowd: "The palm stops one string short of the string that is played, as this player has learned it.",
  stretch: "The heel lies where the tone asks for it; nobody stretches it flat over all the strings.",
  lift: "The palm stays where it is: nobody lifts it for a neighbour, for one stroke or for a rest.",
  edge: "The edge of the thumb is for a string that nothing else reaches, not for every note.",
  replant: "Nobody sets the pick or a finger back on a string that the other hand has stopped already.",
  across: "Nobody lays the whole hand over the strings where letting go under the leaning index does it.",
  extra: "No finger and no thumb is put down for what is quiet without it.",
  hop: "The thumb does not hop from string to string where it is not needed.",
  planted: "Fingers that pluck go back to their own strings, and the thumb to its own: that is their home.",
  flat: "Nobody flattens a finger that presses where the index covers the strings.",
} as const;

export interface Choice {
  /** Title of the passage in the yardstick. */
  passage: string;
  takes: Sequence;
  not: readonly (Partial<Sequence> & { why: keyof typeof WHY; lost?: true })[];
}

/** One passage and two whole plans of it, of which a good player takes the first. */
export interface Pair {
  hand: HandOfWork;
  passage: Passage;
  takes: Sequence;
  not: Sequence;
  why: string;
  lost: boolean;
}

/** Pairs passage by passage. */
export function pairsOf(choices: readonly Choice[]): Pair[][] {
  return choices.map(({ passage: title, takes, not }) => {
    const raw = YARDSTICK.find((one) => (one as { title: string }).title === title);
    if (!raw) throw new Error(`no passage "${title}" in the yardstick`);
    const parsed = parsePassage(raw);
    if (!parsed.ok) throw new Error(`${title}: ${parsed.faults[0]!.says}`);
    const hand = HANDS.find((one) => title.startsWith(`${one}:`))!;
    return not.map(({ why, lost = false, ...other }) => ({ hand, passage: parsed.value, takes, not: { ...takes, ...other }, why: WHY[why], lost }));
  });
}
