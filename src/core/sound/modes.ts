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
  /** At the ratio and with the decays of the last samples. */
  private course: Course | null = null;

  constructor(
    /** Hz per partial. */
    private readonly frequencies: Float64Array,
    /** Amplitude decay per partial in 1/s; see `decays`. */
    private fading: Float64Array,
    private readonly sampleRate: number,
    /** Highest ratio that it will be rendered at: a partial stays in its band, which has a delay of its own. */
    rises: number,
  ) {
    this.re = new Float64Array(frequencies.length);
    this.im = new Float64Array(frequencies.length);
    const bands = Array.from(frequencies, (frequency) => bandFor(frequency * rises, sampleRate));
    this.carried = EVERY.map((_, band) => [...bands.keys()].filter((n) => bands[n] === band));
  }

  /** Amplitude decay per partial in 1/s; may be changed between blocks. */
  get decays(): Float64Array {
    return this.fading;
  }

  set decays(decays: Float64Array) {
    this.fading = decays;
    this.course = null;
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
    if (this.course?.ratio !== ratio) this.course = new Course(ratio, this.frequencies, this.fading, this.carried, this.sampleRate);
    this.course.goOver(to - from);
    for (let band = 0; band < EVERY.length; band++) this.renderBand(out.of[band as Band], EVERY[band]!, this.carried[band]!, from, to, this.course);
  }

  private renderBand(out: Float64Array, every: number, partials: readonly number[], from: number, to: number, course: Course): void {
    const { re, im } = this;
    const first = Math.ceil(from / every);
    const end = Math.ceil(to / every);
    const ahead = first * every - from;
    let count = 0;
    for (let k = 0; k < partials.length; k++) {
      const n = partials[k]!;
      const loud = Math.max(Math.abs(re[n]!), Math.abs(im[n]!));
      if (loud < SILENT) {
        re[n] = 0;
        im[n] = 0;
        continue;
      }
      if (course.isCarried(n, every) && first < end) course.begin(BANK, count++, re[n]!, im[n]!, n, every, ahead, loud);
      course.turn(re, im, n);
    }
    for (let k = count; k % 4 !== 0; k++) BANK.silence(k);
    for (let k = 0; k < count; k += 4) resonate(out, first, Math.min(end, first + BANK.lasting(k)), BANK, k);
  }
}

/** How every partial of a bank goes on, at one ratio: what is the same from block to block. */
class Course {
  /** Radians and the natural logarithm of the fall per sample of the whole. */
  private readonly omega: Float64Array;
  private readonly decay: Float64Array;
  /** The recursion of its band; see `Bank`. */
  private readonly a: Float64Array;
  private readonly b: Float64Array;
  /** What a sample of its band before is, by the real and the imaginary part. */
  private readonly beforeRe: Float64Array;
  private readonly beforeIm: Float64Array;
  /** Over how many samples of the whole it goes now: what it is turned and shrunk by. */
  private over = 0;
  private readonly turnRe: Float64Array;
  private readonly turnIm: Float64Array;
  private readonly shrink: Float64Array;

  constructor(
    readonly ratio: number,
    frequencies: Float64Array,
    decays: Float64Array,
    carried: readonly (readonly number[])[],
    sampleRate: number,
  ) {
    const count = frequencies.length;
    this.omega = frequencies.map((hz) => (2 * Math.PI * hz * ratio) / sampleRate);
    this.decay = decays.map((decay) => decay / sampleRate);
    [this.a, this.b, this.beforeRe, this.beforeIm] = [new Float64Array(count), new Float64Array(count), new Float64Array(count), new Float64Array(count)];
    [this.turnRe, this.turnIm, this.shrink] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
    carried.forEach((partials, band) => {
      for (const n of partials) {
        const omega = this.omega[n]! * EVERY[band]!;
        const r = Math.exp(-this.decay[n]! * EVERY[band]!);
        this.a[n] = 2 * r * Math.cos(omega);
        this.b[n] = r * r;
        this.beforeRe[n] = Math.cos(omega) / r;
        this.beforeIm[n] = Math.sin(omega) / r;
      }
    });
  }

  /** Gets ready to go on by so many samples of the whole. */
  goOver(samples: number): void {
    if (samples === this.over) return;
    this.over = samples;
    for (let n = 0; n < this.omega.length; n++) {
      const shrink = Math.exp(-this.decay[n]! * samples);
      this.shrink[n] = shrink;
      this.turnRe[n] = Math.cos(this.omega[n]! * samples) * shrink;
      this.turnIm[n] = Math.sin(this.omega[n]! * samples) * shrink;
    }
  }

  /** Whether a band with a sample for so many of the whole can carry a partial. */
  isCarried(n: number, every: number): boolean {
    return this.omega[n]! * every < Math.PI;
  }

  /** Puts a partial into a bank, `ahead` samples of the whole from now. */
  begin(bank: Bank, at: number, re: number, im: number, n: number, every: number, ahead: number, loud: number): void {
    let [y, i] = [re, im];
    if (ahead > 0) {
      const shrink = Math.exp(-this.decay[n]! * ahead);
      const c = Math.cos(this.omega[n]! * ahead) * shrink;
      const s = Math.sin(this.omega[n]! * ahead) * shrink;
      y = re * c - im * s;
      i = re * s + im * c;
    }
    bank.a[at] = this.a[n]!;
    bank.b[at] = this.b[n]!;
    bank.y[at] = y;
    bank.before[at] = y * this.beforeRe[n]! + i * this.beforeIm[n]!;
    bank.lasts[at] = loud * this.shrink[n]! > INAUDIBLE ? Number.POSITIVE_INFINITY : Math.ceil(Math.log(loud / INAUDIBLE) / (this.decay[n]! * every));
  }

  /** What a partial is after the samples that it goes over. */
  turn(re: Float64Array, im: Float64Array, n: number): void {
    const y = re[n]!;
    const i = im[n]!;
    re[n] = y * this.turnRe[n]! - i * this.turnIm[n]!;
    im[n] = y * this.turnIm[n]! + i * this.turnRe[n]!;
  }
}

/** Re(z · e^((iω − σ)k)) for k = 0, 1, … as a two-term recursion y_k = a y_(k−1) − b y_(k−2), of many partials. */
class Bank {
  readonly a: number[] = [];
  readonly b: number[] = [];
  /** y_0 and y_(−1). */
  readonly y: number[] = [];
  readonly before: number[] = [];
  /** How many samples until it can no longer be heard. */
  readonly lasts: number[] = [];

  silence(k: number): void {
    this.a[k] = 0;
    this.b[k] = 0;
    this.y[k] = 0;
    this.before[k] = 0;
    this.lasts[k] = 0;
  }

  /** How long any of four is heard. */
  lasting(k: number): number {
    return Math.max(this.lasts[k]!, this.lasts[k + 1]!, this.lasts[k + 2]!, this.lasts[k + 3]!);
  }
}

/** Its places are used again for every band of every string. */
const BANK = new Bank();

/** Four at once, from place k on: each waits for its own last value, so side by side they cost little more than one. */
function resonate(out: Float64Array, from: number, to: number, { a, b, y, before }: Bank, k: number): void {
  const [pa, pb] = [a[k]!, b[k]!];
  const [qa, qb] = [a[k + 1]!, b[k + 1]!];
  const [ra, rb] = [a[k + 2]!, b[k + 2]!];
  const [sa, sb] = [a[k + 3]!, b[k + 3]!];
  let [p1, p2] = [y[k]!, before[k]!];
  let [q1, q2] = [y[k + 1]!, before[k + 1]!];
  let [r1, r2] = [y[k + 2]!, before[k + 2]!];
  let [s1, s2] = [y[k + 3]!, before[k + 3]!];
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
