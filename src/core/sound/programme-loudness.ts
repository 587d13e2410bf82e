/*
 * Loudness of a piece of sound as a listener has it: ITU-R BS.1770-4, one channel. Two filters (a head's shelf, and a high-pass
 * for what ears hardly hear), mean squares over blocks of 400 ms, and two gates that leave silence and very quiet blocks out.
 */

const BLOCK_S = 0.4;
/** Blocks begin every quarter of a block. */
const HOPS = 4;
const OFFSET_DB = -0.691;
const ABSOLUTE_GATE = -70;
const RELATIVE_GATE = -10;

/** Measures what it is fed, piece by piece. */
export class ProgrammeLoudness {
  private readonly filters: readonly Biquad[];
  private readonly hop: number;
  private energy = 0;
  private inHop = 0;
  /** Energy of every hop. */
  private readonly hops: number[] = [];

  constructor(sampleRate: number) {
    this.filters = [shelf(sampleRate), highPass(sampleRate)];
    this.hop = Math.round((BLOCK_S / HOPS) * sampleRate);
  }

  feed(samples: Float32Array): void {
    const [head, low] = this.filters as [Biquad, Biquad];
    for (const sample of samples) {
      const weighted = low.next(head.next(sample));
      this.energy += weighted * weighted;
      if (++this.inHop < this.hop) continue;
      this.hops.push(this.energy);
      this.energy = 0;
      this.inHop = 0;
    }
  }

  /** In LKFS; null where all of it is silence, or it is shorter than a block. */
  integrated(): number | null {
    const powers: number[] = [];
    for (let i = HOPS; i <= this.hops.length; i++) powers.push(this.hops.slice(i - HOPS, i).reduce((sum, energy) => sum + energy, 0) / (HOPS * this.hop));
    const heard = powers.filter((power) => levelOf(power) > ABSOLUTE_GATE);
    if (heard.length === 0) return null;
    const gate = levelOf(mean(heard)) + RELATIVE_GATE;
    return levelOf(mean(heard.filter((power) => levelOf(power) > gate)));
  }
}

function levelOf(power: number): number {
  return OFFSET_DB + 10 * Math.log10(power);
}

function mean(all: readonly number[]): number {
  return all.reduce((sum, one) => sum + one, 0) / all.length;
}

/** A filter of second order. */
class Biquad {
  private x1 = 0;
  private x2 = 0;
  private y1 = 0;
  private y2 = 0;

  constructor(
    readonly b: readonly [number, number, number],
    readonly a: readonly [number, number],
  ) {}

  next(x: number): number {
    const y = this.b[0] * x + this.b[1] * this.x1 + this.b[2] * this.x2 - this.a[0] * this.y1 - this.a[1] * this.y2;
    this.x2 = this.x1;
    this.x1 = x;
    this.y2 = this.y1;
    this.y1 = y;
    return y;
  }
}

/*
 * The standard prints its coefficients for 48 kHz alone. These are the analogue filters that give just those there by the
 * bilinear transform (the values are those of the open implementations of the standard, from memory; the test compares the
 * coefficients at 48 kHz with the printed ones), so that any other rate has the same curve.
 */
const SHELF = { hz: 1681.974450955533, gainDb: 3.999843853973347, q: 0.7071752369554196, slope: 0.4996667741545416 } as const;
const HIGH_PASS = { hz: 38.13547087602444, q: 0.5003270373238773 } as const;

export function shelf(sampleRate: number): Biquad {
  const { hz, gainDb, q, slope } = SHELF;
  const k = Math.tan((Math.PI * hz) / sampleRate);
  const high = 10 ** (gainDb / 20);
  const band = high ** slope;
  const a0 = 1 + k / q + k * k;
  return new Biquad(
    [(high + (band * k) / q + k * k) / a0, (2 * (k * k - high)) / a0, (high - (band * k) / q + k * k) / a0],
    [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0],
  );
}

export function highPass(sampleRate: number): Biquad {
  const { hz, q } = HIGH_PASS;
  const k = Math.tan((Math.PI * hz) / sampleRate);
  const a0 = 1 + k / q + k * k;
  return new Biquad([1, -2, 1], [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0]);
}
