import type { Instrument } from "../passage/schema.ts";
import { lastFret } from "../passage/settings.ts";
import { type ChordShape, looksLikeChordShape, parseChordShape } from "./chord-shape.ts";
import { parseChordName } from "./names.ts";
import { voicingsOf } from "./voicings.ts";

export interface WrittenChord {
  /** The name, or the shape where it was given without one. */
  name: string;
  shape: ChordShape;
}

export type SequenceResult = { ok: true; bars: WrittenChord[][] } | { ok: false; at: number; says: string };

/**
 * Reads chords in a row: "Am7 | D9/F# G | x02210". Bars are parted by "|", chords of one bar share its beats. A chord is
 * a name, a shape, or both as in "Am7=577555"; frets of two digits are parted by "-", as in "x-10-12-12-11-x".
 */
export function parseSequence(text: string, instrument: Instrument): SequenceResult {
  const bars: WrittenChord[][] = [[]];
  for (const { 0: word, index: at } of text.matchAll(/[^\s|]+|\|/g)) {
    if (word === "|") {
      if (bars.at(-1)!.length === 0) return { ok: false, at, says: "a bar without a chord: write one before this" };
      bars.push([]);
      continue;
    }
    const read = parseWord(word, instrument);
    if (!read.ok) return { ok: false, at: at + read.at, says: read.says };
    bars.at(-1)!.push(read.chord);
  }
  if (bars.at(-1)!.length === 0) bars.pop();
  return bars.length > 0 ? { ok: true, bars } : { ok: false, at: 0, says: "no chord yet: write a name such as Am7" };
}

function parseWord(word: string, instrument: Instrument): { ok: true; chord: WrittenChord } | { ok: false; at: number; says: string } {
  const equals = word.indexOf("=");
  const [name, frets] = equals >= 0 ? [word.slice(0, equals), word.slice(equals + 1)] : looksLikeChordShape(word.replaceAll("-", "")) ? ["", word] : [word, ""];
  if (frets !== "") {
    const read = parseChordShape(frets.replaceAll("-", " "), instrument.tuning.length);
    if (!read.ok) return { ok: false, at: Math.max(0, equals + 1), says: read.says };
    const high = read.shape.some((fret) => fret !== null && fret > lastFret(instrument));
    if (high) return { ok: false, at: Math.max(0, equals + 1), says: `this neck has ${lastFret(instrument)} frets` };
    return { ok: true, chord: { name: name || frets, shape: read.shape } };
  }
  const read = parseChordName(name);
  if (!read.ok) return { ok: false, at: 0, says: read.says };
  const [easiest] = voicingsOf(read.chord, instrument, 1);
  return easiest
    ? { ok: true, chord: { name: read.chord.name, shape: easiest.shape } }
    : { ok: false, at: 0, says: `no hand can hold ${name} on this instrument` };
}
