import type { Gain } from "../passage/schema.ts";
import { HalfBand } from "./half-band.ts";

/** Gain before the shaper and level after it, so that the three sound about equally loud. From memory, adjustable. */
const DRIVES: Readonly<Record<Gain, { into: number; out: number } | null>> = { clean: null, edge: { into: 5, out: 0.34 }, high: { into: 40, out: 0.26 } };

/**
 * Bends the signal as an overdriven amplifier does: y = x (27 + x²) / (27 + 9 x²), a rational
 * approximation of tanh that reaches ±1 at ±3, four times oversampled so that what it adds above
 * half the sample rate is filtered out instead of folded back. Clean passes unchanged.
 */
export class Drive {
  private readonly twice: Float64Array;
  private readonly fourTimes: Float64Array;
  private readonly up = [new HalfBand(), new HalfBand()] as const;
  private readonly down = [new HalfBand(), new HalfBand()] as const;

  /** Works on `size` samples at a time. */
  constructor(
    private readonly gain: Gain,
    size: number,
  ) {
    this.twice = new Float64Array(2 * size);
    this.fourTimes = new Float64Array(4 * size);
  }

  /** Changes the samples in place. */
  process(samples: Float64Array): void {
    const drive = DRIVES[this.gain];
    if (!drive) return;
    const { twice, fourTimes, up, down } = this;
    for (let i = 0; i < samples.length; i++) samples[i]! *= drive.into;
    up[0].doubled(samples, twice);
    up[1].doubled(twice, fourTimes);
    for (let i = 0; i < fourTimes.length; i++) fourTimes[i] = shape(fourTimes[i]!);
    down[0].halved(fourTimes, twice);
    down[1].halved(twice, samples);
    for (let i = 0; i < samples.length; i++) samples[i]! *= drive.out;
  }
}

/** The documented curve; see `Drive`. */
export function shape(x: number): number {
  if (x >= 3) return 1;
  if (x <= -3) return -1;
  return (x * (27 + x * x)) / (27 + 9 * x * x);
}
