import { PICKING_FINGERS, type PickingFinger } from "../hands/fingers.ts";

/**
 * Patterns on one line. Blanks part the beats, bars are parted by "|"; the signs of a beat share it evenly, so a beat of two is
 * eighths, of three triplets, of four sixteenths, of six sextuplets.
 */

/** What the stroking hand does at one place. */
export type PatternSign =
  /** All notes of the chord. */
  | "strum"
  /** All of them under the palm. */
  | "muted"
  /** Its lowest note. */
  | "bass"
  /** The next of its bass notes in turn, beginning with the lowest at each chord. */
  | "walk"
  /** All but its lowest note. */
  | "treble"
  /** Some of its strings at once, or a single one. */
  | "strings"
  /** The stroke goes through all strings, and only some of them sound. */
  | "through"
  /** Fingers at once, or a single one: the thumb its lowest note, the others the string that is theirs. */
  | "fingers"
  | "chuck"
  | "ghost"
  /** Its bass string, dead. */
  | "dead-bass"
  | "click"
  /** The hand passes over, what sounds goes on. */
  | "air"
  /** What sounds is held on, over a bar line too. */
  | "tie"
  /** What sounds ends. */
  | "rest";

export interface PatternPlace {
  sign: PatternSign;
  accent: boolean;
  /** Another way than the pendulum's. */
  stroke: "down" | "up" | null;
  /** Which ones, for `strings` and `through`; lowest first. */
  strings?: readonly number[];
  /** Which ones, for `fingers`; thumb first. */
  fingers?: readonly PickingFinger[];
}

/** Bars of beats of places. */
export type Pattern = readonly (readonly (readonly PatternPlace[])[])[];

export type PatternResult = { ok: true; pattern: Pattern } | { ok: false; at: number; says: string };

/** The letters and points of the notation. */
export const PATTERN_SIGNS = {
  s: "strum",
  m: "muted",
  b: "bass",
  w: "walk",
  t: "treble",
  k: "chuck",
  g: "ghost",
  x: "dead-bass",
  c: "click",
  ".": "air",
  _: "tie",
  ",": "rest",
} as const satisfies Readonly<Record<string, PatternSign>>;

/** What brackets put together, and what they say of it. */
const BRACKETS = { "(": ")", "[": "]", "{": "}" } as const;
type Bracket = keyof typeof BRACKETS;

/** What can be accented: by a capital letter, or by "!" behind it. */
const ACCENTED: ReadonlySet<PatternSign> = new Set(["strum", "muted", "bass", "walk", "treble", "strings", "through", "fingers"]);
/** What no stroke goes through: it has no way of its own. */
const WITHOUT_STROKE: ReadonlySet<PatternSign> = new Set(["air", "tie", "rest", "fingers"]);
const WAYS = { ">": "down", "<": "up" } as const;
const MOST_IN_A_BEAT = 8;

class Fault extends Error {
  constructor(
    readonly at: number,
    says: string,
  ) {
    super(says);
  }
}

export function parsePattern(text: string): PatternResult {
  try {
    return { ok: true, pattern: read([...text]) };
  } catch (error) {
    if (error instanceof Fault) return { ok: false, at: error.at, says: error.message };
    throw error;
  }
}

function read(letters: readonly string[]): Pattern {
  const bars: PatternPlace[][][] = [[]];
  let beat: PatternPlace[] | null = null;
  for (let at = 0; at < letters.length; at++) {
    const letter = letters[at]!;
    if (letter === " ") beat = null;
    else if (letter === "|") {
      if (bars.at(-1)!.length === 0) throw new Fault(at, "an empty bar: write a beat before this");
      bars.push([]);
      beat = null;
    } else {
      if (!beat) {
        beat = [];
        bars.at(-1)!.push(beat);
      }
      const { places, next } = placesAt(letters, at);
      if (beat.length + places.length > MOST_IN_A_BEAT) throw new Fault(at, `more than ${MOST_IN_A_BEAT} in one beat: part the beats by blanks`);
      beat.push(...places);
      at = next - 1;
    }
  }
  if (bars.at(-1)!.length > 0) return bars;
  if (bars.length === 1) throw new Fault(0, "an empty pattern: write a beat such as s.");
  throw new Fault(letters.length - 1, "an empty bar: write a beat behind this");
}

/** One sign with its way and accent, or fingers in turn. */
function placesAt(letters: readonly string[], begin: number): { places: PatternPlace[]; next: number } {
  let at = begin;
  const way = WAYS[letters[at] as keyof typeof WAYS];
  if (way) at++;
  const letter = letters[at];
  const stray = () => new Fault(begin, `"${letters[begin]}" needs a stroke behind it`);
  if (letter === undefined || letter === " " || letter === "|" || letter in WAYS) throw stray();
  let places: PatternPlace[];
  let isCapital = false;
  if (letter in BRACKETS) {
    const group = groupAt(letters, at, letter as Bracket);
    places = group.places;
    at = group.next;
  } else {
    const sign = signOf(letter);
    if (!sign) throw new Fault(at, `"${letter}" is no sign here: ${Object.keys(PATTERN_SIGNS).join(" ")}, a string 1 to 8, or ( [ {`);
    isCapital = letter !== letter.toLowerCase();
    if (isCapital && !ACCENTED.has(sign.sign)) throw new Fault(at, `"${letter}" cannot be accented: write ${letter.toLowerCase()}`);
    places = [sign];
    at++;
  }
  if (way && WITHOUT_STROKE.has(places[0]!.sign))
    throw places[0]!.sign === "fingers" ? new Fault(begin, "fingers pluck, they go neither down nor up") : stray();
  const isMarked = letters[at] === "!";
  if (isMarked && !places.every(({ sign }) => ACCENTED.has(sign))) throw new Fault(at, "nothing here can be accented");
  if (isMarked) at++;
  return { places: places.map((place) => ({ ...place, stroke: way ?? null, accent: isCapital || isMarked })), next: at };
}

function signOf(letter: string): PatternPlace | null {
  const plain = { accent: false, stroke: null };
  if (/^[1-8]$/.test(letter)) return { ...plain, sign: "strings", strings: [Number(letter)] };
  const name = letter.toLowerCase();
  return Object.hasOwn(PATTERN_SIGNS, name) ? { ...plain, sign: PATTERN_SIGNS[name as keyof typeof PATTERN_SIGNS] } : null;
}

/** (432) strings at once, (pma) fingers at once, {pima} fingers in turn, [432] through all strings. */
function groupAt(letters: readonly string[], open: number, bracket: Bracket): { places: PatternPlace[]; next: number } {
  const plain = { accent: false, stroke: null };
  const strings: number[] = [];
  const fingers: PickingFinger[] = [];
  let at = open + 1;
  for (; letters[at] !== BRACKETS[bracket]; at++) {
    const letter = letters[at];
    if (letter === undefined || letter === " " || letter === "|") throw new Fault(open, `"${bracket}" is not closed by "${BRACKETS[bracket]}"`);
    const isString = /^[1-8]$/.test(letter) && bracket !== "{";
    const isFinger = PICKING_FINGERS.some((finger) => finger === letter) && letter !== "c" && bracket !== "[";
    if (!(isString && fingers.length === 0) && !(isFinger && strings.length === 0))
      throw new Fault(at, `"${letter}" does not belong between ${bracket} and ${BRACKETS[bracket]}: ${WITHIN[bracket]}`);
    if (bracket !== "{" && (strings.includes(Number(letter)) || fingers.some((finger) => finger === letter))) throw new Fault(at, `${letter} twice`);
    if (isString) strings.push(Number(letter));
    else fingers.push(letter as PickingFinger);
  }
  if (strings.length + fingers.length === 0) throw new Fault(open, `nothing between ${bracket} and ${BRACKETS[bracket]}: ${WITHIN[bracket]}`);
  const next = at + 1;
  if (bracket === "{") return { places: fingers.map((finger) => ({ ...plain, sign: "fingers", fingers: [finger] })), next };
  if (fingers.length > 0) return { places: [{ ...plain, sign: "fingers", fingers: PICKING_FINGERS.filter((finger) => fingers.includes(finger)) }], next };
  return { places: [{ ...plain, sign: bracket === "[" ? "through" : "strings", strings: strings.sort((a, b) => b - a) }], next };
}

const WITHIN: Readonly<Record<Bracket, string>> = {
  "(": "strings such as 432, or fingers such as pma",
  "[": "strings such as 432",
  "{": "fingers such as pima",
};
