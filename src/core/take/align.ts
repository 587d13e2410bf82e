import { RATE, Spectrogram } from "./spectrum.ts";

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
function featuresOf(samples: Float32Array): { values: Float32Array; frames: number } {
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
  return { values, frames };
}

/** Aligns a take with the plan's sound; both mono at the rate of the analysis. */
export function aligned(plan: Float32Array, take: Float32Array): Alignment {
  const [a, b] = [featuresOf(plan), featuresOf(take)];
  const [rows, columns] = [a.frames, b.frames];
  const cost = distances(a.values, b.values, rows, columns);
  let all = 0;
  for (const d of cost) all += d;
  // Steps of (1,1), (1,2) and (2,1): never slower or faster than half and twice. It begins and ends anywhere in the take.
  const sum = new Float32Array(rows * columns).fill(Number.POSITIVE_INFINITY);
  const from = new Int8Array(rows * columns);
  sum.set(cost.subarray(0, columns));
  for (let i = 1; i < rows; i++)
    for (let j = 1; j < columns; j++) {
      const at = i * columns + j;
      const here = cost[at]!;
      let best = sum[at - columns - 1]! + here;
      let way = 0;
      if (j > 1) {
        const total = sum[at - columns - 2]! + here * (1 + SLOPE_COST);
        if (total < best) [best, way] = [total, 1];
      }
      if (i > 1) {
        const total = sum[at - 2 * columns - 1]! + cost[at - columns]! + here * (1 + SLOPE_COST);
        if (total < best) [best, way] = [total, 2];
      }
      sum[at] = best;
      from[at] = way;
    }
  let end = 0;
  for (let j = 1; j < columns; j++) if (sum[(rows - 1) * columns + j]! < sum[(rows - 1) * columns + end]!) end = j;
  const pairs: [number, number][] = [];
  for (let [i, j] = [rows - 1, end]; ; ) {
    pairs.push([i, j]);
    if (i === 0 || j === 0) break;
    const way = from[i * columns + j]!;
    i -= way === 2 ? 2 : 1;
    j -= way === 1 ? 2 : 1;
    if (i < 0 || j < 0) break;
  }
  pairs.reverse();
  const ms = (frame: number) => (frame * HOP * 1000) / RATE;
  return {
    plan: Float64Array.from(pairs, ([i]) => ms(i)),
    take: Float64Array.from(pairs, ([, j]) => ms(j)),
    misfit: sum[(rows - 1) * columns + end]! / rows / (all / (rows * columns)),
  };
}

/** How far every frame of one is from every frame of the other: by |a − b|² = |a|² + |b|² − 2 a·b. */
function distances(a: Float32Array, b: Float32Array, rows: number, columns: number): Float32Array {
  const width = 2 * BANDS;
  const [ofA, ofB] = [squares(a, rows), squares(b, columns)];
  const cost = new Float32Array(rows * columns);
  for (let i = 0; i < rows; i++) {
    const row = a.subarray(i * width, (i + 1) * width);
    for (let j = 0; j < columns; j++) {
      const base = j * width;
      // Four sums at once: none waits for another.
      let [p, q, r, s] = [0, 0, 0, 0];
      for (let k = 0; k < width; k += 4) {
        p += row[k]! * b[base + k]!;
        q += row[k + 1]! * b[base + k + 1]!;
        r += row[k + 2]! * b[base + k + 2]!;
        s += row[k + 3]! * b[base + k + 3]!;
      }
      cost[i * columns + j] = Math.sqrt(Math.max(0, ofA[i]! + ofB[j]! - 2 * (p + q + r + s)));
    }
  }
  return cost;
}

function squares(values: Float32Array, frames: number): Float64Array {
  const width = 2 * BANDS;
  return Float64Array.from({ length: frames }, (_, i) => values.subarray(i * width, (i + 1) * width).reduce((sum, value) => sum + value * value, 0));
}

/** What another tempo costs from moment to moment. */
const SLOPE_COST = 0.1;

/** The moment of the take for one of the plan. */
export function inTake({ plan, take }: Alignment, ms: number): number {
  let after = 0;
  while (after < plan.length && plan[after]! < ms) after++;
  if (after === 0) return take[0]! + (ms - plan[0]!);
  if (after === plan.length) return take[after - 1]! + (ms - plan[after - 1]!);
  const share = (ms - plan[after - 1]!) / (plan[after]! - plan[after - 1]!);
  return take[after - 1]! + share * (take[after]! - take[after - 1]!);
}
