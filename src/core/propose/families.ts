import type { PatternSign } from "../passage/pattern.ts";
import type { Player } from "../passage/schema.ts";
import type { Grid, Slot } from "./grid.ts";

/* Rhythms, and ways to fill them: common practice, see docs/decisions.md. */

/** Which places sound. */
export interface Rhythm {
  name: string;
  sounds(slot: Slot, i: number, grid: Grid): boolean;
}

export const RHYTHMS: readonly Rhythm[] = [
  { name: "on every place", sounds: () => true },
  { name: "on the numbers", sounds: ({ part }) => part === 0 },
  { name: "on the numbers and the “&”", sounds: ({ part }, _, { perBeat }) => part === 0 || 2 * part === perBeat },
  { name: "off the beat", sounds: ({ part }, _, { perBeat }) => (perBeat % 2 === 0 ? 2 * part === perBeat : part === perBeat - 1) },
  // 3 + 3 + 2 over half a bar, in the bar's own places.
  { name: "in threes against the beat", sounds: (_, i, { slots }) => (i % Math.max(1, Math.ceil(slots.length / 2))) % 3 === 0 },
  {
    name: "leaning into the next beat",
    sounds: ({ beat, part }, _, { perBeat }) => (beat % 2 === 0 ? part === 0 : part === perBeat - 1) || (beat === 0 && part === perBeat - 1),
  },
  { name: "long at first, then moving", sounds: ({ beat, part }) => (beat === 0 ? part === 0 : beat % 2 === 1 || part > 0) },
  {
    name: "with room",
    sounds: ({ beat, part }, i, { slots, perBeat }) => i === 0 || (beat === Math.floor(slots.length / perBeat / 2) && part === perBeat - 1),
  },
];

export type PlaysWith = NonNullable<Player["playsWith"]>;

/** What stands at a place: a sign of the pattern line. */
export interface Sign {
  text: string;
  sign: PatternSign;
}

const sign = (text: string, of: PatternSign): Sign => ({ text, sign: of });
export const SIGNS = {
  strum: sign("s", "strum"),
  accent: sign("S", "strum"),
  muted: sign("m", "muted"),
  bass: sign("b", "bass"),
  treble: sign("t", "treble"),
  chuck: sign("k", "chuck"),
  ghost: sign("g", "ghost"),
  click: sign("c", "click"),
  air: sign(".", "air"),
  rest: sign(",", "rest"),
  pinch: sign("(pima)", "fingers"),
  accentPinch: sign("(pima)!", "fingers"),
  upper: sign("(ima)", "fingers"),
  thumb: sign("(p)", "fingers"),
  index: sign("(i)", "fingers"),
  middle: sign("(m)", "fingers"),
  ring: sign("(a)", "fingers"),
} as const;

/** A way to fill a rhythm. */
export interface Family {
  name: string;
  playsWith: readonly PlaysWith[];
  /** Asks for this many places a beat, if not for any. */
  perBeat?: readonly number[];
  /** Only where the feel is swung, or only where it is straight. */
  feel?: "swung" | "straight";
  /** It lives on the backbeat. */
  onBackbeat?: boolean;
  fill(slot: Slot, sounds: boolean, grid: Grid): Sign;
}

const STRUMS = ["pick", "thumb"] as const;
const { strum, muted, bass, treble, chuck, ghost, click, air, rest, pinch, upper, thumb, index, middle, ring } = SIGNS;

/** Where the bass has its turn: every other beat; the first of three (common practice). */
function isBoom(beat: number, { slots, perBeat }: Grid): boolean {
  return beat % ((slots.length / perBeat) % 3 === 0 ? 3 : 2) === 0;
}

export const FAMILIES: readonly Family[] = [
  { name: "Open strum", playsWith: STRUMS, fill: (_, sounds) => (sounds ? strum : air) },
  { name: "Backbeat chucks", playsWith: STRUMS, onBackbeat: true, fill: ({ isBackbeat }, sounds) => (isBackbeat ? chuck : sounds ? strum : air) },
  { name: "Ghosts between", playsWith: STRUMS, perBeat: [4], fill: (_, sounds) => (sounds ? strum : ghost) },
  {
    name: "Ghosts and chucks",
    playsWith: STRUMS,
    perBeat: [2, 3, 4],
    onBackbeat: true,
    fill: ({ isBackbeat }, sounds) => (isBackbeat ? chuck : sounds ? strum : ghost),
  },
  // A dead up-stroke just before each down-stroke.
  { name: "Limping shuffle", playsWith: STRUMS, perBeat: [2], feel: "swung", fill: ({ part }, sounds) => (part === 1 ? ghost : sounds ? strum : air) },
  { name: "Muted, accents open", playsWith: ["pick"], fill: (_, sounds) => (sounds ? muted : air) },
  {
    name: "Boom and brush",
    playsWith: STRUMS,
    perBeat: [1, 2, 3],
    fill: ({ beat, part }, sounds, grid) => (part === 0 ? (isBoom(beat, grid) ? bass : treble) : sounds && !isBoom(beat, grid) ? treble : air),
  },
  { name: "Stabs", playsWith: STRUMS, fill: ({ part }, sounds, { perBeat }) => (sounds ? strum : part === 0 || perBeat === 1 ? rest : air) },
  { name: "Plucked chords", playsWith: ["fingers"], fill: (_, sounds) => (sounds ? pinch : air) },
  {
    name: "Plucked chords with clicks",
    playsWith: ["fingers"],
    onBackbeat: true,
    fill: ({ isBackbeat }, sounds) => (isBackbeat ? click : sounds ? pinch : air),
  },
  {
    name: "Bass and chord",
    playsWith: ["fingers"],
    fill: ({ beat, part }, sounds, grid) => (part === 0 ? (isBoom(beat, grid) ? thumb : upper) : sounds ? upper : air),
  },
  {
    name: "Arpeggio",
    playsWith: ["fingers"],
    // The thumb every other beat, the fingers up and down in between.
    fill: ({ beat, part }, sounds, { perBeat }) => {
      const since = (beat % 2) * perBeat + part;
      return since === 0 ? thumb : sounds ? [index, middle, ring, middle][(since - 1) % 4]! : air;
    },
  },
];
