import { type Band, type Bands, bandFor, EVERY } from "./bands.ts";

/** Partials softer than this no longer count (−100 dB below a full pluck). */
const SILENT = 1e-5;

/** How far a partial is followed inside a block: it ends there without a click. */
const INAUDIBLE = SILENT / 10;

/**
 * A bank of decaying partials, each a rotating complex amplitude whose real part is heard.
 * Sines start at zero, so that a new stroke never clicks.
 */
export class Modes {
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  /** Partials by the band that carries them, lowest first in each. */
  private readonly carried: readonly (readonly number[])[];

  constructor(
    /** Hz per partial. */
    private readonly frequencies: Float64Array,
    /** Amplitude decay per partial in 1/s; may be changed between blocks. */
    public decays: Float64Array,
    private readonly sampleRate: number,
    /** Highest ratio that it will be rendered at: a partial stays in its band, which has a delay of its own. */
    rises: number,
  ) {
    this.re = new Float64Array(frequencies.length);
    this.im = new Float64Array(frequencies.length);
    const bands = Array.from(frequencies, (frequency) => bandFor(frequency * rises, sampleRate));
    this.carried = EVERY.map((_, band) => [...bands.keys()].filter((n) => bands[n] === band));
  }

  /** Adds a stroke: every partial's amplitude times `level`. */
  strike(amplitudes: ArrayLike<number>, level: number): void {
    for (let n = 0; n < this.im.length; n++) this.im[n]! -= amplitudes[n]! * level;
  }

  /** Amplitude of every partial now. */
  amplitudes(): Float64Array {
    return this.re.map((re, n) => Math.hypot(re, this.im[n]!));
  }

  get isSilent(): boolean {
    for (let n = 0; n < this.re.length; n++) if (Math.abs(this.re[n]!) > SILENT || Math.abs(this.im[n]!) > SILENT) return false;
    return true;
  }

  /** Adds samples `from` to `to` of `out`; the pitch is `ratio` times that of the bank throughout. */
  render(out: Bands, from: number, to: number, ratio = 1): void {
    if (to <= from) return;
    this.carried.forEach((partials, band) => {
      this.renderBand(out.of[band as Band], EVERY[band]!, partials, from, to, ratio);
    });
  }

  private renderBand(out: Float64Array, every: number, partials: readonly number[], from: number, to: number, ratio: number): void {
    const first = Math.ceil(from / every);
    const end = Math.ceil(to / every);
    const bank: Resonance[] = [];
    for (const n of partials) {
      const re = this.re[n]!;
      const im = this.im[n]!;
      const loud = Math.max(Math.abs(re), Math.abs(im));
      if (loud < SILENT) {
        this.re[n] = 0;
        this.im[n] = 0;
        continue;
      }
      const omega = (2 * Math.PI * this.frequencies[n]! * ratio) / this.sampleRate;
      const decay = this.decays[n]! / this.sampleRate;
      if (omega * every < Math.PI && first < end) {
        const ahead = turned(re, im, omega, decay, first * every - from);
        bank.push(resonance(ahead.re, ahead.im, omega * every, decay * every, Math.ceil(Math.log(loud / INAUDIBLE) / (decay * every))));
      }
      const after = turned(re, im, omega, decay, to - from);
      this.re[n] = after.re;
      this.im[n] = after.im;
    }
    const at = (n: number) => bank[n] ?? MUTE;
    for (let n = 0; n < bank.length; n += 4) {
      const four = [at(n), at(n + 1), at(n + 2), at(n + 3)] as const;
      const heard = Math.max(...four.map(({ lasts }) => lasts));
      resonate(out, first, Math.min(end, first + heard), ...four);
    }
  }
}

/** z · e^((iω − σ)k). */
function turned(re: number, im: number, omega: number, decay: number, k: number): { re: number; im: number } {
  if (k === 0) return { re, im };
  const shrink = Math.exp(-decay * k);
  const c = Math.cos(omega * k) * shrink;
  const s = Math.sin(omega * k) * shrink;
  return { re: re * c - im * s, im: re * s + im * c };
}

/** Re(z · e^((iω − σ)k)) for k = 0, 1, … as a two-term recursion y_k = a y_(k−1) − b y_(k−2). */
interface Resonance {
  a: number;
  b: number;
  /** y_0 and y_(−1). */
  y: number;
  before: number;
  /** How many samples until it can no longer be heard. */
  lasts: number;
}

const MUTE: Resonance = { a: 0, b: 0, y: 0, before: 0, lasts: 0 };

function resonance(re: number, im: number, omega: number, decay: number, lasts: number): Resonance {
  const r = Math.exp(-decay);
  return { a: 2 * r * Math.cos(omega), b: r * r, y: re, before: (re * Math.cos(omega) + im * Math.sin(omega)) / r, lasts };
}

/** Four at once: each waits for its own last value, so side by side they cost little more than one. */
function resonate(out: Float64Array, from: number, to: number, p: Resonance, q: Resonance, r: Resonance, s: Resonance): void {
  const { a: pa, b: pb } = p;
  const { a: qa, b: qb } = q;
  const { a: ra, b: rb } = r;
  const { a: sa, b: sb } = s;
  let { y: p1, before: p2 } = p;
  let { y: q1, before: q2 } = q;
  let { y: r1, before: r2 } = r;
  let { y: s1, before: s2 } = s;
  // Two samples a round: what was the last but one becomes the next, and nothing has to be moved.
  let i = from;
  for (; i < to - 1; i += 2) {
    out[i]! += p1 + q1 + (r1 + s1);
    p2 = pa * p1 - pb * p2;
    q2 = qa * q1 - qb * q2;
    r2 = ra * r1 - rb * r2;
    s2 = sa * s1 - sb * s2;
    out[i + 1]! += p2 + q2 + (r2 + s2);
    p1 = pa * p2 - pb * p1;
    q1 = qa * q2 - qb * q1;
    r1 = ra * r2 - rb * r1;
    s1 = sa * s2 - sb * s1;
  }
  if (i < to) out[i]! += p1 + q1 + (r1 + s1);
}
