import { COINCIDENCE_HZ, COINCIDENCE_SHARE } from "./constants.ts";
import type { LiveString } from "./modal.ts";

/** Weighted amplitude with which one string answers another through the bridge. */
export function answerAmplitude(answering: LiveString, played: LiveString, coupling: number): number {
  return Math.sqrt(answersOf(answering, played, coupling).reduce((power, amplitude) => power + amplitude * amplitude, 0));
}

/** Weighted amplitude with which every partial of a string answers another string's: a resonance curve around each coincidence. */
export function answersOf(answering: LiveString, played: LiveString, coupling: number): Float64Array {
  const answers = new Float64Array(answering.frequencies.length);
  for (let i = 0; i < answering.frequencies.length; i++) {
    const f = answering.frequencies[i]!;
    const width = COINCIDENCE_HZ + COINCIDENCE_SHARE * f;
    let amplitude = 0;
    for (let j = 0; j < played.frequencies.length; j++) {
      const off = (played.frequencies[j]! - f) / width;
      if (Math.abs(off) < 40) amplitude += (coupling * played.loudness[j]!) / (1 + off * off);
    }
    answers[i] = amplitude;
  }
  return answers;
}
