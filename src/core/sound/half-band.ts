/**
 * Coefficients of the two branches of all-passes. What lies under 0.175 of the faster rate passes
 * unchanged, what lies over 0.325 comes out 85 dB down. An elliptic half-band filter, designed as
 * in Valenzuela and Constantinides, "Digital signal processing schemes for efficient interpolation
 * and decimation", IEE Proceedings 130(6), 1983; the test measures it.
 */
const EARLY = [0.06069013102679145, 0.4743376599749038] as const;
const LATE = [0.22801137585234285, 0.7955654775554291] as const;

/**
 * Doubles or halves the rate of a signal that comes in pieces; one object for one signal and one
 * direction. It is late by about two and a half samples of the faster rate.
 */
export class HalfBand {
  /** Of each branch: what last went in, what went from its first all-pass to its second, and what came out. */
  private early = [0, 0, 0] as [number, number, number];
  private late = [0, 0, 0] as [number, number, number];

  /** `to` has twice as many samples as `from`. */
  doubled(from: Float64Array, to: Float64Array): void {
    const [a, b] = EARLY;
    const [c, d] = LATE;
    let [x, p, q] = this.early;
    let [, r, s] = this.late;
    for (let i = 0; i < from.length; i++) {
      const next = from[i]!;
      const first = x + a * (next - p);
      q = p + b * (first - q);
      p = first;
      const second = x + c * (next - r);
      s = r + d * (second - s);
      r = second;
      x = next;
      to[2 * i] = q;
      to[2 * i + 1] = s;
    }
    this.early = [x, p, q];
    this.late = [x, r, s];
  }

  /** `to` has half as many samples as `from`. */
  halved(from: Float64Array, to: Float64Array): void {
    const [a, b] = EARLY;
    const [c, d] = LATE;
    let [x, p, q] = this.early;
    let [y, r, s] = this.late;
    for (let i = 0; i < to.length; i++) {
      const sooner = from[2 * i]!;
      const later = from[2 * i + 1]!;
      const first = x + a * (later - p);
      q = p + b * (first - q);
      p = first;
      x = later;
      const second = y + c * (sooner - r);
      s = r + d * (second - s);
      r = second;
      y = sooner;
      to[i] = (q + s) / 2;
    }
    this.early = [x, p, q];
    this.late = [y, r, s];
  }
}
