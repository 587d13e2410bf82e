/** Pitches as MIDI note numbers (60 = C4) and their frequencies. */
export type Midi = number;

/** ISO 16:1975, standard tuning frequency. */
export const A4_HZ = 440;
const A4_MIDI = 69;

const STEPS: Readonly<Record<string, number>> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
const NAMES = ["C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "A♭", "A", "B♭", "B"] as const;
const ASCII_NAMES = ["C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"] as const;

/** Reads scientific pitch notation ("E2", "F#3", "Bb1"); null when the text is none. */
export function parsePitch(text: string): Midi | null {
  const match = /^([A-Ga-g])([#♯b♭]?)(-?\d)$/.exec(text.trim());
  if (!match) return null;
  const step = STEPS[(match[1] as string).toUpperCase()] as number;
  const alter = match[2] === "" ? 0 : match[2] === "#" || match[2] === "♯" ? 1 : -1;
  const midi = 12 * (Number(match[3]) + 1) + step + alter;
  return midi >= 0 && midi <= 127 ? midi : null;
}

/** Writes a pitch for people, e.g. "F♯3". */
export function pitchName(midi: Midi): string {
  return `${NAMES[((midi % 12) + 12) % 12]}${Math.floor(midi / 12) - 1}`;
}

/** Writes a pitch for documents, e.g. "F#3". */
export function pitchText(midi: Midi): string {
  return `${ASCII_NAMES[((midi % 12) + 12) % 12]}${Math.floor(midi / 12) - 1}`;
}

/** Equal-tempered frequency in Hz of a (possibly fractional) MIDI pitch. */
export function frequencyOf(midi: Midi): number {
  return A4_HZ * 2 ** ((midi - A4_MIDI) / 12);
}
