/*
 * A spectrum as the sum of what may be in it: templates of what strings can sound at, and noise that falls and noise that rises with
 * frequency. None of it is negative; the divergence of Kullback and Leibler is least (Lee and Seung's multiplicative updates).
 */

/** What a string can sound at: a fret, and every how many partials. */
export interface Source {
  string: number;
  fret: number;
  partial: number;
}

export interface Template {
  source: Source;
  /** Bins, and how strong each is. */
  bins: Int32Array;
  /** The same ones, each once: peaks beside each other overlap. */
  within: Int32Array;
  values: Float64Array;
  /** Which partial each bin belongs to. */
  of: Int8Array;
  sum: number;
}

/** Each round goes further than the plain one: it settles at the same place, in fewer (over-relaxation below 2; from memory). */
const FASTER = 1.6;
/** What is in every bin besides. */
const LEAST = 1e-9;

/** How much of each template is in a spectrum after so many rounds (then of both noises), and what all of that makes together. */
export function sharesOf(seen: Float32Array, bins: number, templates: readonly Template[], rounds: number): { shares: Float64Array; model: Float64Array } {
  const [falling, rising] = [templates.length, templates.length + 1];
  const shares = new Float64Array(templates.length + 2).fill(0.05);
  const model = new Float64Array(bins);
  const ratio = new Float64Array(bins);
  let power = 0;
  for (let bin = 1; bin < bins; bin++) power += seen[bin]!;
  shares.fill((0.3 * power) / bins, falling);
  // Both noises are straight lines over the bins, one down to nothing, one up from it: as large as each other.
  const noiseSum = (bins - 1) / 2;
  for (let round = 0; round <= rounds; round++) {
    const from = LEAST + shares[falling]!;
    const slope = (shares[rising]! - shares[falling]!) / bins;
    model[0] = LEAST;
    for (let bin = 1; bin < bins; bin++) model[bin] = from + slope * bin;
    for (let j = 0; j < templates.length; j++) {
      const { bins: at, values } = templates[j]!;
      const share = shares[j]!;
      for (let i = 0; i < at.length; i++) model[at[i]!]! += share * values[i]!;
    }
    if (round === rounds) break;
    let [all, up] = [0, 0];
    for (let bin = 1; bin < bins; bin++) {
      const here = seen[bin]! / model[bin]!;
      ratio[bin] = here;
      all += here;
      up += here * bin;
    }
    up /= bins;
    for (let j = 0; j < templates.length; j++) {
      const { bins: at, values, sum } = templates[j]!;
      let own = 0;
      for (let i = 0; i < at.length; i++) own += values[i]! * ratio[at[i]!]!;
      shares[j]! *= (own / sum) ** FASTER;
    }
    shares[falling]! *= ((all - up) / noiseSum) ** FASTER;
    shares[rising]! *= (up / noiseSum) ** FASTER;
  }
  return { shares, model };
}
