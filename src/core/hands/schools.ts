import type { InstrumentKind } from "../music/instruments.ts";
import type { Kind } from "./parts.ts";

/*
 * The catalogue of schools: every question about how someone plays, its answers, what is taken where the player has not
 * said, and what choosing another answer gives up as a remedy. The schema, settings, refusals, remedies and Setup read it;
 * docs/hands.md says how to add one. Common practice.
 */

interface SchoolOption {
  value: string;
  says: string;
  /** In a word or two, where somebody chooses it for one passage. */
  brief?: string;
  /** As a remedy: what the player does, and the dB of stray ring it must at least take away; left out where nobody would propose it. */
  remedy?: { what: string; priceDb: number };
}

interface SchoolRow {
  /** What it is about, in a list of what someone has chosen. */
  short: string;
  asks: string;
  options: readonly SchoolOption[];
  /** What is taken where the player has not chosen: the first option, or by instrument. */
  default?: Readonly<Record<InstrumentKind, string>>;
  /** What is taken of players who slap, whatever the instrument. */
  slapDefault?: string;
  /** Asked of players who strike the strings with one of these; of everybody when left out. */
  askedOf?: readonly string[];
  /** Which contacts it rules in or out or makes dearer. */
  changes: readonly Kind[];
}

/** What a change of school gives up, in dB of stray ring; a wrap hides what technique should do. From memory, adjustable. */
const SCHOOL_DB = 3;
const WRAP_DB = 8;

const remedy = (what: string, priceDb = SCHOOL_DB) => ({ what, priceDb });

export const SCHOOLS = {
  playsWith: {
    short: "plays with",
    asks: "What strikes the strings?",
    options: [
      { value: "pick", says: "a pick" },
      { value: "fingers", says: "fingers" },
      { value: "thumb", says: "thumb and nails" },
      { value: "slap", says: "slap and pop" },
    ],
    default: { "electric-guitar": "pick", "acoustic-guitar": "pick", "nylon-guitar": "fingers", "electric-bass": "fingers" },
    changes: [
      { hand: "picking", part: "palm" },
      { hand: "picking", part: "thumb" },
      { hand: "picking", part: "thumb-return" },
      { hand: "picking", part: "plant" },
    ],
  },
  damps: {
    short: "damps with",
    asks: "Which hand damps?",
    options: [
      { value: "both", says: "both, as it comes", remedy: remedy("Let both hands damp") },
      { value: "fretting", says: "the fretting hand; the other one only plays" },
      { value: "picking", says: "the picking hand, ghosts too; the other one only presses" },
    ],
    changes: [
      { hand: "picking", part: "heel" },
      { hand: "picking", part: "palm" },
      { hand: "fretting", part: "tip" },
      { hand: "fretting", part: "underside" },
      { hand: "fretting", part: "ease" },
    ],
  },
  index: {
    short: "index",
    asks: "How does the index lie?",
    options: [
      { value: "laid", says: "flat over the treble strings", remedy: remedy("Lay the index flat over the treble side") },
      { value: "arched", says: "arched; spare fingers lie there", remedy: remedy("Arch the index and lay spare fingers on the treble strings") },
    ],
    changes: [
      { hand: "fretting", part: "underside" },
      { hand: "fretting", part: "spare" },
      { hand: "fretting", part: "flat" },
    ],
  },
  neighbour: {
    short: "neighbour",
    asks: "Who has the string beside a single note, on the bass side?",
    options: [
      { value: "fingertip", says: "the fingertip; the palm stays one string away", remedy: remedy("Give the bass-side neighbour to the fingertip") },
      { value: "palm", says: "the palm, right up to the note", remedy: remedy("Let the palm come right up to the sounding string") },
    ],
    askedOf: ["pick"],
    changes: [{ hand: "picking", part: "palm" }],
  },
  pickHand: {
    short: "picking hand",
    asks: "Where does the picking hand rest?",
    options: [
      { value: "palm", says: "palm at the bridge", remedy: remedy("Rest the palm at the bridge") },
      { value: "thumb", says: "thumb on the bass-side strings", remedy: remedy("Rest the picking thumb on the bass-side strings") },
    ],
    askedOf: ["pick"],
    changes: [
      { hand: "picking", part: "palm" },
      { hand: "picking", part: "thumb" },
    ],
  },
  chuck: {
    short: "chuck",
    asks: "How do you make a chuck?",
    options: [
      { value: "flat-hand", says: "the flat hand, through all strings", remedy: remedy("Make chucks with the flat hand") },
      { value: "edge", says: "the edge of the hand, through the first three or four" },
      { value: "release", says: "by letting the chord go", remedy: remedy("Make chucks by releasing the chord") },
    ],
    changes: [{ hand: "picking", part: "heel" }],
  },
  strumPalmMute: {
    short: "muted strums",
    asks: "Palm-muted strums:",
    options: [
      { value: "anchored", says: "the palm stays down, both ways", remedy: remedy("Keep the palm down through up-strokes") },
      { value: "percussive", says: "it lands with the down-stroke only" },
    ],
    askedOf: ["pick"],
    changes: [{ hand: "picking", part: "palm" }],
  },
  strokes: {
    short: "strokes",
    asks: "Which way do strokes go, where nothing is written?",
    options: [
      { value: "pendulum", brief: "pendulum", says: "as the hand swings: down on the numbers, up on the “&”" },
      { value: "down", brief: "all down", says: "all down" },
      { value: "economy", brief: "economy", says: "on in the same way over a change of string" },
      { value: "free", brief: "own order", says: "down, and up where it says so" },
    ],
    askedOf: ["pick", "thumb"],
    changes: [],
  },
  thumbOver: {
    short: "thumb over",
    asks: "Does the thumb come over the edge?",
    options: [
      { value: "no", says: "no, it stays behind the neck" },
      { value: "yes", says: "yes, onto the lowest string", remedy: remedy("Bring the thumb over the edge onto the lowest string") },
    ],
    slapDefault: "yes",
    changes: [{ hand: "fretting", part: "thumb" }],
  },
  bassThumb: {
    short: "bass thumb",
    asks: "On bass, the plucking thumb",
    options: [
      { value: "floating", says: "floats from string to string", remedy: remedy("Let the thumb float from string to string") },
      {
        value: "anchored",
        says: "stays on the lowest string; a finger parks between",
        remedy: remedy("Anchor the thumb and park a finger between"),
      },
      { value: "pickup", says: "stays on the pickup; ring and little finger park on the low strings" },
    ],
    askedOf: ["fingers"],
    changes: [
      { hand: "picking", part: "thumb" },
      { hand: "picking", part: "park" },
    ],
  },
  pullOff: {
    short: "leaving fingers",
    asks: "A finger that leaves a string:",
    options: [
      { value: "flick", says: "flicks across it (clear)" },
      { value: "between", says: "something between" },
      { value: "lift", says: "lifts off (soft)", remedy: remedy("Lift fingers off softly instead of flicking them") },
    ],
    changes: [],
  },
  fretWrap: {
    short: "fret wrap",
    asks: "A fret wrap near the nut?",
    options: [
      { value: "never", says: "never" },
      {
        value: "on",
        says: "on, for tapping and recording (no open strings then)",
        remedy: remedy("Use a fret wrap (for tapping and for recording)", WRAP_DB),
      },
    ],
    changes: [{ hand: "aid", part: "fret-wrap" }],
  },
} as const satisfies Record<string, SchoolRow>;

type Table = typeof SCHOOLS;
export type SchoolKey = keyof Table;
export type SchoolValue<K extends SchoolKey> = Table[K]["options"][number]["value"];
/** An answer to every question. */
export type Schools = { [K in SchoolKey]: SchoolValue<K> };

export const SCHOOL_KEYS = Object.keys(SCHOOLS) as readonly SchoolKey[];

/** A school's row, whichever it is. */
export function schoolOf(key: SchoolKey): SchoolRow {
  return SCHOOLS[key];
}

/** What is taken where the player has not chosen. */
export function defaultSchool<K extends SchoolKey>(key: K, kind: InstrumentKind, playsWith?: SchoolValue<"playsWith">): SchoolValue<K> {
  const { options, default: byKind, slapDefault } = schoolOf(key);
  return ((playsWith === "slap" ? slapDefault : undefined) ?? byKind?.[kind] ?? options[0]!.value) as SchoolValue<K>;
}

/** Every question answered: by the player where there is an answer, else as is usual on the instrument. */
export function schoolsOf(chosen: Readonly<{ [K in SchoolKey]?: Schools[K] | undefined }>, kind: InstrumentKind): Schools {
  const playsWith = chosen.playsWith ?? defaultSchool("playsWith", kind);
  return Object.fromEntries(SCHOOL_KEYS.map((key) => [key, chosen[key] ?? defaultSchool(key, kind, playsWith)])) as Schools;
}
