import type { Gain } from "../passage/schema.ts";

/** Gain before the shaper and level after it, so that the three sound about equally loud. From memory, adjustable. */
const DRIVES: Readonly<Record<Gain, { into: number; out: number } | null>> = { clean: null, edge: { into: 5, out: 0.34 }, high: { into: 40, out: 0.26 } };

const OVERSAMPLED = 4;
/** Taps of the low-pass filter at four times the rate: a windowed sinc. */
const TAPS = 40;
const CUTOFF = 0.45;
/** Samples filtered together: four times as many numbers should fit the processor's nearest memory. */
const PIECE = 512;
/** Samples of the sound that the filter reaches over. */
const KEPT = TAPS / OVERSAMPLED;

/**
 * Bends the signal as an overdriven amplifier does: y = x (27 + x²) / (27 + 9 x²), a rational
 * approximation of tanh that reaches ±1 at ±3, four times oversampled so that what it adds above
 * half the sample rate is filtered out instead of folded back. Clean passes unchanged.
 */
export class Drive {
  private readonly filter = lowPass();
  /** The last samples of the stretch before, at the rate of the sound and at four times that. */
  private before = new Float64Array(KEPT - 1);
  private shapedBefore = new Float64Array(TAPS - 1);

  constructor(private readonly gain: Gain) {}

  /** Changes the samples in place. */
  process(samples: Float64Array): void {
    const drive = DRIVES[this.gain];
    if (!drive) return;
    for (let from = 0; from < samples.length; from += PIECE) this.piece(samples.subarray(from, from + PIECE), drive);
  }

  private piece(samples: Float64Array, drive: { into: number; out: number }): void {
    const { filter } = this;
    const input = after(this.before, samples.length);
    for (let i = 0; i < samples.length; i++) input[KEPT - 1 + i] = samples[i]! * drive.into;
    const shaped = after(this.shapedBefore, samples.length * OVERSAMPLED);
    for (let i = 0, at = TAPS - 1; i < samples.length; i++, at += OVERSAMPLED) {
      let first = 0;
      let second = 0;
      let third = 0;
      let fourth = 0;
      for (let k = 0; k < KEPT; k++) {
        const x = input[KEPT - 1 + i - k]!;
        first += x * filter[k * OVERSAMPLED]!;
        second += x * filter[k * OVERSAMPLED + 1]!;
        third += x * filter[k * OVERSAMPLED + 2]!;
        fourth += x * filter[k * OVERSAMPLED + 3]!;
      }
      shaped[at] = shape(first * OVERSAMPLED);
      shaped[at + 1] = shape(second * OVERSAMPLED);
      shaped[at + 2] = shape(third * OVERSAMPLED);
      shaped[at + 3] = shape(fourth * OVERSAMPLED);
    }
    // The filter is symmetric: either half of it takes the same weights. Four sums side by side, so that none waits for another.
    for (let i = 0; i < samples.length; i++) {
      const oldest = (i + 1) * OVERSAMPLED - 1;
      const newest = oldest + TAPS - 1;
      let a = 0;
      let b = 0;
      let c = 0;
      let d = 0;
      for (let k = 0; k < TAPS / 2; k += 4) {
        a += filter[k]! * (shaped[newest - k]! + shaped[oldest + k]!);
        b += filter[k + 1]! * (shaped[newest - k - 1]! + shaped[oldest + k + 1]!);
        c += filter[k + 2]! * (shaped[newest - k - 2]! + shaped[oldest + k + 2]!);
        d += filter[k + 3]! * (shaped[newest - k - 3]! + shaped[oldest + k + 3]!);
      }
      samples[i] = (a + b + c + d) * drive.out;
    }
    this.before = input.slice(samples.length);
    this.shapedBefore = shaped.slice(samples.length * OVERSAMPLED);
  }
}

function after(before: Float64Array, more: number): Float64Array {
  const all = new Float64Array(before.length + more);
  all.set(before);
  return all;
}

/** The documented curve; see `Drive`. */
export function shape(x: number): number {
  if (x >= 3) return 1;
  if (x <= -3) return -1;
  return (x * (27 + x * x)) / (27 + 9 * x * x);
}

/** Blackman-windowed sinc with unit gain at 0 Hz. */
function lowPass(): Float64Array {
  const taps = new Float64Array(TAPS);
  let sum = 0;
  for (let k = 0; k < TAPS; k++) {
    const t = k - (TAPS - 1) / 2;
    const x = (2 * CUTOFF * t) / OVERSAMPLED;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    const turn = (2 * Math.PI * k) / (TAPS - 1);
    taps[k] = sinc * (0.42 - 0.5 * Math.cos(turn) + 0.08 * Math.cos(2 * turn));
    sum += taps[k]!;
  }
  return taps.map((tap) => tap / sum);
}
