import { Note, RomanNumeral } from "tonal";

/** A row of chords as steps: semitones above a root, 0 to 11; or the place of the first fault. */
export type StepsResult = { ok: true; steps: number[] } | { ok: false; at: number; says: string };

/** Reads "I IV V", "bVII", or roots such as "A D E", parted by blanks; the root is a pitch class, 0 for C. */
export function parseSteps(text: string, root: number): StepsResult {
  const steps: number[] = [];
  for (const { 0: word, index } of text.matchAll(/[^\s|]+/g)) {
    const degree = /^[#b]?[IViv]+$/.test(word) ? RomanNumeral.get(word) : null;
    const chroma = /^[A-G][#b]?$/.test(word) ? Note.chroma(word) : undefined;
    if (degree && !degree.empty) steps.push((((SEMITONES[degree.step]! + degree.alt) % 12) + 12) % 12);
    else if (chroma !== undefined && !Number.isNaN(chroma)) steps.push((chroma - root + 12) % 12);
    else return { ok: false, at: index, says: `"${word}" is neither a step such as IV nor a root such as D` };
  }
  return steps.length > 0 ? { ok: true, steps } : { ok: false, at: 0, says: "write steps such as IV V, or roots such as D E" };
}

/** The major scale's steps above its root. */
const SEMITONES = [0, 2, 4, 5, 7, 9, 11] as const;
