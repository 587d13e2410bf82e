import { HalfBand } from "./half-band.ts";

/** Every how many samples of the sound a band has one, by band: all of it, half, a quarter. */
export const EVERY = [1, 2, 4] as const;

export type Band = 0 | 1 | 2;

/** Highest frequency that a band may carry, as a share of its own rate; what is higher would come back as something lower. */
const CARRIES = 0.35;

/** The slowest band that carries a partial up to this frequency, Hz. */
export function bandFor(highest: number, sampleRate: number): Band {
  if (highest * EVERY[2] < CARRIES * sampleRate) return 2;
  return highest * EVERY[1] < CARRIES * sampleRate ? 1 : 0;
}

/**
 * Where a sound is put together, `size` samples at a time: low partials are worked out at a half or
 * a quarter of the rate, which takes as much less time, and brought to the whole rate together.
 */
export class Bands {
  /** Samples of each band, to add to. */
  readonly of: readonly [Float64Array, Float64Array, Float64Array];
  private readonly toHalf = new HalfBand();
  private readonly toWhole = new HalfBand();
  private readonly raised: readonly [Float64Array, Float64Array];

  /** `size` is a multiple of four. */
  constructor(size: number) {
    this.of = [new Float64Array(size), new Float64Array(size / 2), new Float64Array(size / 4)];
    this.raised = [new Float64Array(size), new Float64Array(size / 2)];
  }

  /** All bands together; the next samples begin with silence. The array is used again for them. */
  taken(): Float64Array {
    const [whole, half, quarter] = this.of;
    const [raisedHalf, raisedQuarter] = this.raised;
    this.toHalf.doubled(quarter, raisedQuarter);
    for (let i = 0; i < half.length; i++) half[i]! += raisedQuarter[i]!;
    this.toWhole.doubled(half, raisedHalf);
    for (let i = 0; i < whole.length; i++) raisedHalf[i]! += whole[i]!;
    for (const band of this.of) band.fill(0);
    return raisedHalf;
  }
}
