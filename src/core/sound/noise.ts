import { uniformFloat32 } from "pure-rand/distribution/uniformFloat32";
import { xoroshiro128plus } from "pure-rand/generator/xoroshiro128plus";
import type { Noise } from "./score.ts";

/** Short noises of strokes: amplitude against a full pluck, decay in ms, and how bright (0 to 1). From memory, adjustable. */
const NOISES: Readonly<Record<Noise, { level: number; decayMs: number; bright: number }>> = {
  pick: { level: 0.06, decayMs: 3, bright: 0.8 },
  finger: { level: 0.03, decayMs: 5, bright: 0.35 },
  chuck: { level: 0.3, decayMs: 9, bright: 0.55 },
  click: { level: 0.2, decayMs: 5, bright: 0.7 },
  slap: { level: 0.35, decayMs: 8, bright: 0.4 },
};

/** A noise without an edge at its beginning. From memory. */
const RISE_MS = 0.5;

/** Samples of a noise; the same seed gives the same samples. It starts and ends at zero. */
export function noiseOf(kind: Noise, seed: number, sampleRate: number): Float32Array {
  const { level, decayMs, bright } = NOISES[kind];
  const length = Math.round((sampleRate * decayMs * 6) / 1000);
  const samples = new Float32Array(length);
  const random = xoroshiro128plus(seed);
  let low = 0;
  for (let i = 0; i < length; i++) {
    low += bright * (uniformFloat32(random) * 2 - 1 - low);
    const ms = (i * 1000) / sampleRate;
    const rise = Math.min(1, ms / RISE_MS);
    const fall = Math.exp(-ms / decayMs) * (1 - i / length);
    samples[i] = level * low * rise * fall;
  }
  return samples;
}
