import { unitLength } from "../music/beats.ts";
import { gcd, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Bar } from "../passage/schema.ts";

/** A place in a bar as it is counted. */
export interface CountedPlace {
  /** From 1. */
  beat: number;
  /** "e", "&", "a", "trip", "let"; empty on the beat, null for a finer part, which has no name. */
  part: string | null;
  /** All of it: "2", "2 &"; finer places by the part of the beat, "2, 4th of 6". */
  says: string;
}

/** The meter's place as players count it. */
export function countOf(atTicks: Ticks, bar: Pick<Bar, "meter">): string {
  return placeOf(atTicks, bar).says;
}

export function placeOf(atTicks: Ticks, bar: Pick<Bar, "meter">): CountedPlace {
  const beat = unitLength(bar.meter);
  const number = Math.floor(atTicks / beat) + 1;
  const rest = atTicks % beat;
  if (rest === 0) return { beat: number, part: "", says: `${number}` };
  const parts = beat / gcd(rest, beat);
  const part = rest / gcd(rest, beat);
  // Below the quarter players count halves of the beat alone.
  const names = bar.meter[1] <= 4 ? NAMED_PARTS : { 2: ["&"], 3: ["trip", "let"] };
  const name = (names as Readonly<Record<number, readonly string[]>>)[parts]?.[part - 1];
  if (name === undefined) return { beat: number, part: null, says: `${number}, ${ordinal(part + 1)} of ${parts}` };
  return { beat: number, part: name, says: `${number} ${name}` };
}

const NAMED_PARTS = { 2: ["&"], 3: ["trip", "let"], 4: ["e", "&", "a"] };

function ordinal(number: number): string {
  const last = number % 10;
  const isTeen = number % 100 > 10 && number % 100 < 14;
  return `${number}${isTeen || last < 1 || last > 3 ? "th" : ["st", "nd", "rd"][last - 1]}`;
}

/** A place of a bar that is counted, and what is said there. */
export interface Count {
  tick: Ticks;
  says: string;
  isBeat: boolean;
}

/**
 * What is counted in a bar: every beat, between beats halves or quarters of them (all over the bar where one stroke asks for
 * them), thirds where strokes are triplets; of finer parts those that are struck, by number.
 */
export function countsIn({ meter, strokes }: Pick<Bar, "meter" | "strokes">): Count[] {
  const beat = unitLength(meter);
  const struck = strokes.map(({ at }) => ticksOf(at));
  const partsOf = (rests: readonly Ticks[]) => rests.reduce((grid, rest) => beat / gcd(beat / grid, rest), 1);
  const beats = Array.from({ length: meter[0] }, (_, i) => struck.filter((tick) => Math.floor(tick / beat) === i).map((tick) => tick % beat));
  const isFine = beats.some((rests) => partsOf(rests) === 4);
  const usual = meter[1] > 4 ? 1 : isFine ? 4 : 2;
  return beats.flatMap((rests, i): Count[] => {
    const parts = partsOf(rests);
    const named = parts === 3 ? 3 : usual % parts === 0 ? usual : parts <= 4 ? parts : 0;
    const places = named > 0 ? Array.from({ length: named }, (_, k) => (k * beat) / named) : [...new Set([0, ...rests])].sort((a, b) => a - b);
    const names = places.map((rest) => placeOf(i * beat + rest, { meter }).part);
    // Where one part has no name, all are counted by their number in the beat.
    const areNamed = named > 0 && names.every((name) => name !== null);
    return places.map((rest, k) => {
      const says = rest === 0 ? `${i + 1}` : areNamed ? names[k]! : `${rest / (beat / (named || parts)) + 1}`;
      return { tick: i * beat + rest, says, isBeat: rest === 0 };
    });
  });
}
