/** Partials softer than this no longer count (−100 dB below a full pluck). */
const SILENT = 1e-5;

/**
 * A bank of decaying partials, each a rotating complex amplitude whose real part is heard.
 * Sines start at zero, so that a new stroke never clicks.
 */
export class Modes {
  private readonly re: Float64Array;
  private readonly im: Float64Array;

  constructor(
    /** Hz per partial. */
    private readonly frequencies: Float64Array,
    /** Amplitude decay per partial in 1/s; may be changed between blocks. */
    public decays: Float64Array,
    private readonly sampleRate: number,
  ) {
    this.re = new Float64Array(frequencies.length);
    this.im = new Float64Array(frequencies.length);
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
  render(out: Float64Array, from: number, to: number, ratio = 1): void {
    const count = to - from;
    if (count <= 0) return;
    const bank: Resonance[] = [];
    for (let n = 0; n < this.re.length; n++) {
      const re = this.re[n]!;
      const im = this.im[n]!;
      if (Math.abs(re) < SILENT && Math.abs(im) < SILENT) {
        this.re[n] = 0;
        this.im[n] = 0;
        continue;
      }
      const omega = (2 * Math.PI * this.frequencies[n]! * ratio) / this.sampleRate;
      const decay = this.decays[n]! / this.sampleRate;
      if (omega < Math.PI) bank.push(resonance(re, im, omega, decay));
      const shrink = Math.exp(-decay * count);
      const c = Math.cos(omega * count) * shrink;
      const s = Math.sin(omega * count) * shrink;
      this.re[n] = re * c - im * s;
      this.im[n] = re * s + im * c;
    }
    const at = (n: number) => bank[n] ?? MUTE;
    for (let n = 0; n < bank.length; n += 6) resonate(out, from, to, at(n), at(n + 1), at(n + 2), at(n + 3), at(n + 4), at(n + 5));
  }
}

/** Re(z · e^((iω − σ)k)) for k = 0, 1, … as a two-term recursion y_k = a y_(k−1) − b y_(k−2). */
interface Resonance {
  a: number;
  b: number;
  /** y_0 and y_(−1). */
  y: number;
  before: number;
}

const MUTE: Resonance = { a: 0, b: 0, y: 0, before: 0 };

function resonance(re: number, im: number, omega: number, decay: number): Resonance {
  const r = Math.exp(-decay);
  return { a: 2 * r * Math.cos(omega), b: r * r, y: re, before: (re * Math.cos(omega) + im * Math.sin(omega)) / r };
}

/** Six at once: each waits for its own last value, so side by side they cost little more than one. */
function resonate(out: Float64Array, from: number, to: number, p: Resonance, q: Resonance, r: Resonance, s: Resonance, t: Resonance, u: Resonance): void {
  const { a: pa, b: pb } = p;
  const { a: qa, b: qb } = q;
  const { a: ra, b: rb } = r;
  const { a: sa, b: sb } = s;
  const { a: ta, b: tb } = t;
  const { a: ua, b: ub } = u;
  let { y: p1, before: p2 } = p;
  let { y: q1, before: q2 } = q;
  let { y: r1, before: r2 } = r;
  let { y: s1, before: s2 } = s;
  let { y: t1, before: t2 } = t;
  let { y: u1, before: u2 } = u;
  // Two samples a round: what was the last but one becomes the next, and nothing has to be moved.
  let i = from;
  for (; i < to - 1; i += 2) {
    out[i]! += p1 + q1 + r1 + (s1 + t1 + u1);
    p2 = pa * p1 - pb * p2;
    q2 = qa * q1 - qb * q2;
    r2 = ra * r1 - rb * r2;
    s2 = sa * s1 - sb * s2;
    t2 = ta * t1 - tb * t2;
    u2 = ua * u1 - ub * u2;
    out[i + 1]! += p2 + q2 + r2 + (s2 + t2 + u2);
    p1 = pa * p2 - pb * p1;
    q1 = qa * q2 - qb * q1;
    r1 = ra * r2 - rb * r1;
    s1 = sa * s2 - sb * s1;
    t1 = ta * t2 - tb * t1;
    u1 = ua * u2 - ub * u1;
  }
  if (i < to) out[i]! += p1 + q1 + r1 + (s1 + t1 + u1);
}
