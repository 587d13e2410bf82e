import { TICKS_PER_WHOLE, type Ticks } from "../../music/ticks.ts";

/** Note values of MusicXML, longest first. */
export const TYPES = ["breve", "whole", "half", "quarter", "eighth", "16th", "32nd", "64th", "128th", "256th"] as const;

export interface Value {
  ticks: Ticks;
  /** Left out when no note value is so long. */
  type?: (typeof TYPES)[number];
  dots: readonly null[];
  triplet: boolean;
}

const VALUES: readonly Value[] = TYPES.flatMap((type, i) => {
  const ticks = (2 * TICKS_PER_WHOLE) / 2 ** i;
  return [
    { ticks: (ticks * 3) / 2, type, dots: [null], triplet: false },
    { ticks, type, dots: [], triplet: false },
    { ticks: (ticks * 2) / 3, type, dots: [], triplet: true },
  ];
}).sort((a, b) => b.ticks - a.ticks);

/** A length as note values to be tied; straight ones as long as they go, a triplet for the rest; one piece without a value when none fit. */
export function typesOf(ticks: Ticks): Value[] {
  const exact = VALUES.find((value) => value.ticks === ticks);
  if (exact) return [exact];
  const parts: Value[] = [];
  let left = ticks;
  while (left > 0) {
    const next = VALUES.find((value) => value.ticks === left) ?? VALUES.find((value) => !value.triplet && value.ticks < left);
    if (!next) return [{ ticks, dots: [], triplet: false }];
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
