/**
 * Strum patterns on one line. Blanks part the beats, bars are parted by "|"; the signs of a beat share it evenly, so a
 * beat of two is eighths, of three triplets, of four sixteenths.
 */

/** What the stroking hand does at one place. */
export type PatternSign =
  /** All notes of the chord. */
  | "strum"
  /** All of them under the palm. */
  | "muted"
  /** Its lowest note. */
  | "bass"
  /** All but its lowest note. */
  | "treble"
  | "chuck"
  | "ghost"
  | "click"
  /** The hand passes over, what sounds goes on. */
  | "air"
  /** What sounds ends. */
  | "rest";

export interface PatternPlace {
  sign: PatternSign;
  accent: boolean;
  /** Another way than the pendulum's. */
  stroke: "down" | "up" | null;
}

/** Bars of beats of places. */
export type Pattern = readonly (readonly (readonly PatternPlace[])[])[];

export type PatternResult = { ok: true; pattern: Pattern } | { ok: false; at: number; says: string };

const SIGNS: Readonly<Record<string, PatternSign>> = {
  s: "strum",
  m: "muted",
  b: "bass",
  t: "treble",
  k: "chuck",
  g: "ghost",
  c: "click",
  ".": "air",
  ",": "rest",
};
/** What a capital letter accents. */
const ACCENTED: ReadonlySet<PatternSign> = new Set(["strum", "muted", "bass", "treble"]);
const WAYS = { ">": "down", "<": "up" } as const;
const MOST_IN_A_BEAT = 8;

export function parsePattern(text: string): PatternResult {
  const bars: PatternPlace[][][] = [[]];
  let beat: PatternPlace[] | null = null;
  let way: { stroke: "down" | "up"; at: number } | null = null;
  const fault = (at: number, says: string): PatternResult => ({ ok: false, at, says });
  for (const [at, letter] of [...text].entries()) {
    if (way && (letter === " " || letter === "|" || letter in WAYS)) return fault(way.at, `"${text[way.at]}" needs a stroke behind it`);
    if (letter === " ") {
      beat = null;
      continue;
    }
    if (letter === "|") {
      if (bars.at(-1)!.length === 0) return fault(at, "an empty bar: write a beat before this");
      bars.push([]);
      beat = null;
      continue;
    }
    if (letter === ">" || letter === "<") {
      way = { stroke: WAYS[letter], at };
      continue;
    }
    const sign = SIGNS[letter.toLowerCase()];
    if (!sign) return fault(at, `"${letter}" is no sign here: ${Object.keys(SIGNS).join(" ")}`);
    const accent = letter !== letter.toLowerCase();
    if (accent && !ACCENTED.has(sign)) return fault(at, `"${letter}" cannot be accented: write ${letter.toLowerCase()}`);
    if (way && (sign === "air" || sign === "rest")) return fault(way.at, `"${text[way.at]}" needs a stroke behind it`);
    if (!beat) {
      beat = [];
      bars.at(-1)!.push(beat);
    }
    if (beat.length === MOST_IN_A_BEAT) return fault(at, `more than ${MOST_IN_A_BEAT} in one beat: part the beats by blanks`);
    beat.push({ sign, accent, stroke: way?.stroke ?? null });
    way = null;
  }
  if (way) return fault(way.at, `"${text[way.at]}" needs a stroke behind it`);
  if (bars.at(-1)!.length === 0) {
    if (bars.length === 1) return fault(0, "an empty pattern: write a beat such as s.");
    return fault([...text].length - 1, "an empty bar: write a beat behind this");
  }
  return { ok: true, pattern: bars };
}
