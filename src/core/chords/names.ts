import { Chord, Interval, Note } from "tonal";

/** A chord by name: which pitch classes it is made of (0 is C). */
export interface ChordTones {
  /** As it was written, without spaces around it. */
  name: string;
  /** Pitch class of the lowest note: the root, or what stands after the stroke of "C/G". */
  bass: number;
  /** Every pitch class that may sound. */
  tones: ReadonlySet<number>;
  /** Those without which it would be another chord. */
  needed: ReadonlySet<number>;
}

export type ChordResult = { ok: true; chord: ChordTones } | { ok: false; says: string };

/**
 * Reads a chord name ("Am7", "F#m7b5", "D9/F#"). What may be left out is common practice: the perfect fifth of a chord
 * of four tones and more, the third under an eleventh, the ninth and eleventh under a thirteenth.
 */
export function parseChordName(text: string): ChordResult {
  const name = text.trim();
  const [body = "", under, ...rest] = splitBass(name);
  if (body === "") return { ok: false, says: "a chord begins with its root, A to G" };
  if (!/^[A-G]/.test(body)) return { ok: false, says: `"${name}" does not begin with a root: A to G, then # or b` };
  const found = Chord.get(body);
  const root = Note.chroma(found.tonic ?? "");
  if (found.empty || Number.isNaN(root)) return { ok: false, says: `"${body}" is not a chord name known here` };
  const bass = under === undefined ? root : Note.chroma(under);
  if (rest.length > 0 || Number.isNaN(bass)) return { ok: false, says: `"${under}" is not a bass note: A to G, then # or b` };
  const steps = found.intervals.map((interval) => ({ number: Interval.num(interval), pitchClass: (root + Interval.semitones(interval)) % 12, interval }));
  const tones = new Set([...steps.map((s) => s.pitchClass), bass]);
  const numbers = new Set(steps.map((s) => s.number));
  const needed = new Set([...steps.filter((s) => !mayBeLeftOut(s.interval, numbers)).map((s) => s.pitchClass), bass]);
  return { ok: true, chord: { name, bass, tones, needed } };
}

/** "D9/F#" is D9 over F#; the stroke of "C6/9" belongs to the name. */
function splitBass(name: string): string[] {
  const at = name.search(/\/(?=[A-G][#b]?$)/);
  if (at >= 0) return [name.slice(0, at), name.slice(at + 1)];
  const stray = name.search(/\/(?!9)/);
  return stray < 0 ? [name] : [name.slice(0, stray), name.slice(stray + 1)];
}

function mayBeLeftOut(interval: string, numbers: ReadonlySet<number>): boolean {
  if (interval === "5P") return numbers.size >= 4;
  if (interval === "3M") return numbers.has(11) && !numbers.has(13);
  if (interval === "9M" || interval === "11P") return numbers.has(13);
  return false;
}
