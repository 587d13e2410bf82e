import { fcnnlsVector } from "ml-fcnnls";
import { inverse, Matrix } from "ml-matrix";
import { describe, expect, it } from "vitest";
import { seededRandom } from "../perform/random.ts";
import { sharesOf, type Template } from "./mixture.ts";
import { standardErrors } from "./standard-errors.ts";

const BINS = 160;

/** Peaks at the multiples of a pitch, three bins each, weaker and weaker: so strings share partials where their pitches do. */
function harmonic(string: number, pitch: number, slope: number): Template {
  const peaks = Array.from({ length: Math.floor((BINS - 2) / pitch) }, (_, k) => Math.round((k + 1) * pitch));
  const bins = peaks.flatMap((bin) => [bin - 1, bin, bin + 1]);
  const values = peaks.flatMap((_, k) => [0.5, 1, 0.5].map((lobe) => lobe * (k + 1) ** -slope));
  return {
    source: { string, fret: 0, partial: 1 },
    bins: Int32Array.from(bins),
    within: Int32Array.from(new Set(bins)),
    values: Float64Array.from(values),
    of: Int8Array.from(peaks.flatMap((_, k) => [k, k, k])),
    sum: values.reduce((sum, value) => sum + value, 0),
  };
}

const columnOf = ({ bins, values }: Template): number[] => {
  const column = new Array<number>(BINS).fill(0);
  for (let i = 0; i < bins.length; i++) column[bins[i]!]! += values[i]!;
  return column;
};

/** Fourths and an octave, as strings are tuned: many partials lie in the same bins. */
const STRINGS = [harmonic(1, 24, 1), harmonic(2, 18, 0.8), harmonic(3, 13.5, 1.2), harmonic(4, 12, 1), harmonic(5, 9, 0.7)];
const COLUMNS = STRINGS.map(columnOf);

describe("a spectrum as the sum of what may be in it", () => {
  it.each([1, 2, 3, 4, 5, 6])(
    "has the shares that non-negative least squares find (Lawson and Hanson's active sets, by a package), silent strings among them (%i)",
    (seed) => {
      const random = seededRandom(seed);
      const meant = STRINGS.map(() => (random() < 0.4 ? 0 : 0.2 + random()));
      const seen = Float32Array.from({ length: BINS }, (_, bin) => COLUMNS.reduce((sum, column, s) => sum + meant[s]! * column[bin]!, 0));
      const rows = Array.from({ length: BINS }, (_, bin) => COLUMNS.map((column) => column[bin]!));
      const theirs = fcnnlsVector(rows, Array.from(seen)).K.to1DArray();
      const { shares } = sharesOf(seen, BINS, STRINGS, 400);
      for (const [s, share] of theirs.entries()) expect(shares[s]).toBeCloseTo(share, 1.7);
    },
  );
});

describe("how well each of several sources is known", () => {
  it.each([1, 2, 3])("is the root of the diagonal of (AᵀWA)⁻¹, inverted by a package (%i)", (seed) => {
    const random = seededRandom(seed);
    const weights = Float64Array.from({ length: BINS }, () => 0.1 + random());
    const a = new Matrix(Array.from({ length: BINS }, (_, bin) => COLUMNS.map((column) => column[bin]!)));
    const weighed = new Matrix(Array.from({ length: BINS }, (_, bin) => COLUMNS.map((column) => column[bin]! * weights[bin]!)));
    const theirs = inverse(a.transpose().mmul(weighed)).diagonal().map(Math.sqrt);
    const ours = standardErrors(
      STRINGS.map((string, s) => ({ values: Float64Array.from(COLUMNS[s]!), bins: string.within })),
      weights,
    );
    for (const [s, error] of theirs.entries()) expect(ours[s]! / error).toBeCloseTo(1, 4);
  });

  it("two sources alike are off by anything, and one beside them is known as before", () => {
    const weights = new Float64Array(BINS).fill(1);
    const column = (s: number) => ({ values: Float64Array.from(COLUMNS[s]!), bins: STRINGS[s]!.within });
    const [alone, other] = standardErrors([column(0), column(1)], weights) as unknown as [number, number];
    const [first, second, beside] = standardErrors([column(0), column(0), column(1)], weights) as unknown as [number, number, number];
    expect(first).toBeGreaterThan(100 * alone);
    expect(second).toBeGreaterThan(100 * alone);
    expect(beside / other).toBeCloseTo(1, 1);
  });
});
