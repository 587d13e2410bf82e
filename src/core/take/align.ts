import { RATE, Spectrogram } from "./spectrum.ts";
import { type Band, cheapestWay, distance, everywhere, type Features } from "./warping.ts";

/*
 * Where in a take each moment of the plan is: dynamic time warping of the plan as it would sound against the take, over the strengths
 * of half-tones and their beginnings. The take may begin late and end late, and its tempo may drift.
 */

const SIZE = 2048;
/** 30 ms. */
const HOP = 661;
const LOWEST_MIDI = 28;
const BANDS = 72;
/** Beginnings weigh so much more than what goes on. */
const FLUX_WEIGHT = 2;
/** Quieter than that against the loudest is nothing. */
const FLOOR = 0.002;

export interface Alignment {
  /** ms of the plan's sound, and of the take, in pairs that rise. */
  readonly plan: Float64Array;
  readonly take: Float64Array;
  /** How far the two are apart along the way, against any two moments of them: 1 is as good as chance. */
  readonly misfit: number;
}

/** Half-tone strengths and how they begin, frame by frame. */
function featuresOf(samples: Float32Array): Features {
  const spectrogram = new Spectrogram(samples, SIZE, HOP);
  const { frames } = spectrogram;
  const bands = new Float32Array(frames * BANDS);
  const bandOf = new Int32Array(spectrogram.bins).fill(-1);
  for (let bin = 2; bin < spectrogram.bins; bin++) {
    const band = Math.round(69 + 12 * Math.log2((bin * spectrogram.binHz) / 440)) - LOWEST_MIDI;
    if (band >= 0 && band < BANDS) bandOf[bin] = band;
  }
  let loudest = 0;
  for (let frame = 0; frame < frames; frame++) {
    const magnitudes = spectrogram.at(frame);
    for (let bin = 2; bin < magnitudes.length; bin++) if (bandOf[bin]! >= 0) bands[frame * BANDS + bandOf[bin]!]! += magnitudes[bin]! ** 2;
    for (let band = 0; band < BANDS; band++) loudest = Math.max(loudest, bands[frame * BANDS + band]!);
  }
  const floor = FLOOR * FLOOR * loudest || 1;
  const values = new Float32Array(frames * 2 * BANDS);
  for (let frame = 0; frame < frames; frame++)
    for (let band = 0; band < BANDS; band++) {
      const now = Math.log10(1 + bands[frame * BANDS + band]! / floor);
      const before = frame === 0 ? 0 : Math.log10(1 + bands[(frame - 1) * BANDS + band]! / floor);
      values[frame * 2 * BANDS + band] = now;
      values[frame * 2 * BANDS + BANDS + band] = FLUX_WEIGHT * Math.max(0, now - before);
    }
  return { values, frames, width: 2 * BANDS };
}

/** Where a take is known to be: who played to a click began at a moment of it, in ms, and is never further off. */
export interface Clock {
  atMs: number;
  withinMs: number;
}

/** Aligns a take with the plan's sound; both mono at the rate of the analysis. */
export function aligned(plan: Float32Array, take: Float32Array, clock: Clock | null = null): Alignment {
  const [a, b] = [featuresOf(plan), featuresOf(take)];
  const { pairs, cost } = cheapestWay(a, b, clock ? besideClock(a, b, clock) : roughly(a, b));
  return {
    plan: Float64Array.from(pairs, ([i]) => msOf(i)),
    take: Float64Array.from(pairs, ([, j]) => msOf(j)),
    misfit: cost / a.frames / usualDistance(a, b),
  };
}

/** How far any two frames are apart in the middle, looked at here and there. */
function usualDistance(a: Features, b: Features): number {
  let [sum, many] = [0, 0];
  const stride = Math.max(1, Math.floor(Math.sqrt((a.frames * b.frames) / LOOKED_AT)));
  for (let i = 0; i < a.frames; i += stride)
    for (let j = 0; j < b.frames; j += stride) {
      sum += distance(a, i, b, j);
      many++;
    }
  return sum / Math.max(1, many);
}
const LOOKED_AT = 10_000;

function besideClock(a: Features, b: Features, { atMs, withinMs }: Clock): Band {
  const around = Math.max(2, Math.round(withinMs / msOf(1)));
  const at = Int32Array.from({ length: a.frames }, (_, i) => Math.round(atMs / msOf(1)) + i);
  return { from: at.map((j) => Math.max(0, Math.min(b.frames - 1, j - around))), to: at.map((j) => Math.max(1, Math.min(b.frames, j + around + 1))) };
}

/** The frames around a way that is found where some are taken together; all frames of what is short. */
function roughly(a: Features, b: Features): Band {
  if (a.frames * b.frames < LEAST_ROUGH) return everywhere(a, b);
  const [roughA, roughB] = [pooled(a), pooled(b)];
  const { pairs } = cheapestWay(roughA, roughB, everywhere(roughA, roughB));
  const from = new Int32Array(a.frames).fill(b.frames);
  const to = new Int32Array(a.frames);
  const [first, last] = [pairs[0]!, pairs.at(-1)!];
  // Every other frame may have no pair of its own, nor have those before the first and after the last.
  const all: [number, number][] = [
    [first[0] - 1, first[1] - 1],
    ...pairs.flatMap(([i, j]): [number, number][] => [
      [i, j],
      [i + 1, j + 1],
    ]),
    [last[0] + 1, last[1] + 1],
  ];
  for (const [i, j] of all)
    for (let k = Math.max(0, i * POOL); k < Math.min(a.frames, (i + 1) * POOL); k++) {
      from[k] = Math.min(from[k]!, Math.max(0, j * POOL - AROUND));
      to[k] = Math.max(to[k]!, Math.min(b.frames, (j + 1) * POOL + AROUND));
    }
  return { from, to };
}
const LEAST_ROUGH = 150_000;
const POOL = 6;
const AROUND = 24;

/** Some frames as one: the middle of them. */
function pooled({ values, frames, width }: Features): Features {
  const fewer = Math.ceil(frames / POOL);
  const found = new Float32Array(fewer * width);
  for (let frame = 0; frame < frames; frame++) {
    const to = Math.floor(frame / POOL) * width;
    for (let k = 0; k < width; k++) found[to + k]! += values[frame * width + k]! / POOL;
  }
  return { values: found, frames: fewer, width };
}

/** The moment of a frame. */
function msOf(frame: number): number {
  return (frame * HOP * 1000) / RATE;
}

/** The moment of the take for one of the plan. */
export function inTake({ plan, take }: Alignment, ms: number): number {
  let after = 0;
  while (after < plan.length && plan[after]! < ms) after++;
  if (after === 0) return take[0]! + (ms - plan[0]!);
  if (after === plan.length) return take[after - 1]! + (ms - plan[after - 1]!);
  const share = (ms - plan[after - 1]!) / (plan[after]! - plan[after - 1]!);
  return take[after - 1]! + share * (take[after]! - take[after - 1]!);
}
