import { TICKS_PER_WHOLE, type Ticks } from "../../music/ticks.ts";

/** Note values of MusicXML, longest first. */
export const TYPES = ["breve", "whole", "half", "quarter", "eighth", "16th", "32nd", "64th", "128th", "256th"] as const;

export interface Value {
  ticks: Ticks;
  /** Left out when no note value is so long. */
  type?: (typeof TYPES)[number];
  dots: readonly null[];
  /** So many in the time of `normal`; null for straight values. */
  tuplet: Tuplet | null;
}

export interface Tuplet {
  actual: number;
  normal: number;
}

/** Triplets, quintuplets and septuplets, the tuplets that ticks hold exactly. */
const TUPLETS: readonly Tuplet[] = [
  { actual: 3, normal: 2 },
  { actual: 5, normal: 4 },
  { actual: 7, normal: 4 },
];

const VALUES: readonly Value[] = TYPES.flatMap((type, i) => {
  const ticks = (2 * TICKS_PER_WHOLE) / 2 ** i;
  return [
    { ticks: (ticks * 3) / 2, type, dots: [null], tuplet: null },
    { ticks, type, dots: [], tuplet: null },
    ...TUPLETS.map((tuplet) => ({ ticks: (ticks * tuplet.normal) / tuplet.actual, type, dots: [], tuplet })),
  ];
})
  .filter(({ ticks }) => Number.isInteger(ticks))
  .sort((a, b) => b.ticks - a.ticks);

/** Whether a length is one straight note value. */
export function isStraight(ticks: Ticks): boolean {
  return VALUES.some((value) => value.tuplet === null && value.ticks === ticks);
}

/**
 * A length as note values to be tied: straight ones if they go, else a straight one beside the longest tuplet value that
 * goes; one piece without a value when none fit. What begins inside a tuplet first goes to its end.
 */
export function typesOf(ticks: Ticks, start: Ticks): Value[] {
  const exact = VALUES.find((value) => value.ticks === ticks);
  if (exact) return [exact];
  const straight = straightOnes(ticks);
  if (straight) return straight;
  for (const value of VALUES) {
    if (value.tuplet === null || value.ticks >= ticks) continue;
    const rest = straightOnes(ticks - value.ticks);
    if (rest) return start % (TICKS_PER_WHOLE / 128) === 0 ? [...rest, value] : [value, ...rest];
  }
  return [{ ticks, dots: [], tuplet: null }];
}

/** Straight values that make up a length, longest first; null when none do. */
function straightOnes(ticks: Ticks): Value[] | null {
  const parts: Value[] = [];
  for (let left = ticks; left > 0; ) {
    const next = VALUES.find((value) => value.tuplet === null && value.ticks <= left);
    if (!next) return null;
    parts.push(next);
    left -= next.ticks;
  }
  return parts;
}

const SPELLINGS = [
  ["C", 0],
  ["C", 1],
  ["D", 0],
  ["E", -1],
  ["E", 0],
  ["F", 0],
  ["F", 1],
  ["G", 0],
  ["A", -1],
  ["A", 0],
  ["B", -1],
  ["B", 0],
] as const;

export function spelled(midi: number): { step: string; alter: number; octave: number } {
  const [step, alter] = SPELLINGS[((midi % 12) + 12) % 12]!;
  return { step, alter, octave: Math.floor(midi / 12) - 1 };
}
