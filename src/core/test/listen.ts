import FFT from "fft.js";
import { weightingGain } from "../acoustics/weighting.ts";
import { planStages } from "../engine.ts";
import type { Passage } from "../passage/schema.ts";
import { Rendering, type RenderOptions, SAMPLE_RATE } from "../sound/render.ts";
import type { PlannedStages } from "../verdict/verdict.ts";

/** Ears for tests: what is in a stretch of sound, by a library's Fourier transform. */

export function sound(passage: Passage, options: Partial<RenderOptions> = {}): Float32Array {
  return renderAll(passage, planStages(passage), { damping: "none", gain: "clean", ...options });
}

/** Samples rendered at a time. */
const CHUNK = 1 << 16;

/** All of it at once. */
export function renderAll(passage: Passage, planned: PlannedStages, options: RenderOptions): Float32Array {
  const rendering = new Rendering(passage, planned, options);
  const chunks: Float32Array[] = [];
  for (let chunk = rendering.take(CHUNK); chunk; chunk = rendering.take(CHUNK)) chunks.push(chunk);
  const all = new Float32Array(chunks.reduce((sum, chunk) => sum + chunk.length, 0));
  let at = 0;
  for (const chunk of chunks) {
    all.set(chunk, at);
    at += chunk.length;
  }
  return all;
}

export function slice(samples: Float32Array, fromMs: number, lengthMs: number): Float32Array {
  const from = Math.round((fromMs * SAMPLE_RATE) / 1000);
  return samples.slice(from, from + Math.round((lengthMs * SAMPLE_RATE) / 1000));
}

/** Root mean square in dB. */
export function rmsDb(samples: Float32Array): number {
  let power = 0;
  for (const x of samples) power += x * x;
  return 10 * Math.log10(power / samples.length);
}

/** Loudness in dB under a weighting curve of IEC 61672-1. */
export function loudnessDb(samples: Float32Array, weighting: "A" | "C"): number {
  const size = 2 ** Math.ceil(Math.log2(samples.length));
  const { binHz, amplitudes } = spectrum(samples, size);
  let power = 0;
  for (let k = 1; k < amplitudes.length; k++) power += (amplitudes[k]! * weightingGain(weighting, k * binHz)) ** 2;
  // A Hann window spreads a sine over three halves of a bin; shorter sound than the transform over more.
  return 10 * Math.log10((power / 1.5) * (samples.length / size));
}

export interface Spectrum {
  /** Hz between two bins. */
  binHz: number;
  /** Amplitude of a steady sine at each bin. */
  amplitudes: Float64Array;
}

/** Hann-windowed spectrum of the first `size` samples, a power of two; shorter sound is followed by silence. */
export function spectrum(samples: Float32Array, size: number): Spectrum {
  const fft = new FFT(size);
  const input = new Array<number>(size).fill(0);
  const length = Math.min(size, samples.length);
  for (let i = 0; i < length; i++) input[i] = samples[i]! * (1 - Math.cos((2 * Math.PI * i) / length));
  const out = fft.createComplexArray();
  fft.realTransform(out, input);
  const amplitudes = new Float64Array(size / 2);
  for (let k = 0; k < size / 2; k++) amplitudes[k] = (2 * Math.hypot(out[2 * k]!, out[2 * k + 1]!)) / length;
  return { binHz: SAMPLE_RATE / size, amplitudes };
}

/** Frequency of the strongest peak near a frequency, between bins by a parabola through the log amplitudes. */
export function peakNear({ binHz, amplitudes }: Spectrum, hz: number, withinHz: number): { hz: number; amplitude: number } {
  const from = Math.max(1, Math.floor((hz - withinHz) / binHz));
  const to = Math.min(amplitudes.length - 2, Math.ceil((hz + withinHz) / binHz));
  let best = from;
  for (let k = from; k <= to; k++) if (amplitudes[k]! > amplitudes[best]!) best = k;
  const [a, b, c] = [best - 1, best, best + 1].map((k) => Math.log(amplitudes[k]! + 1e-30)) as [number, number, number];
  const shift = (a - c) / (2 * (a - 2 * b + c));
  return { hz: (best + shift) * binHz, amplitude: amplitudes[best]! };
}

export function cents(hz: number, against: number): number {
  return 1200 * Math.log2(hz / against);
}
