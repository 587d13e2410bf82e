/** Frequency weightings of IEC 61672-1 (analytic form of annex E), in dB. */

const F1 = 20.598997;
const F2 = 107.65265;
const F3 = 737.86223;
const F4 = 12194.217;

function cGain(f: number): number {
  const f2 = f * f;
  return (F4 * F4 * f2) / ((f2 + F1 * F1) * (f2 + F4 * F4));
}

function aGain(f: number): number {
  const f2 = f * f;
  return (cGain(f) * f2) / Math.sqrt((f2 + F2 * F2) * (f2 + F3 * F3));
}

const A_1K = aGain(1000);
const C_1K = cGain(1000);

/** Amplitude factor of a weighting at f Hz, 1 at 1 kHz. */
export function weightingGain(weighting: "A" | "C", f: number): number {
  return weighting === "A" ? aGain(f) / A_1K : cGain(f) / C_1K;
}

export function dbOf(amplitude: number): number {
  return 20 * Math.log10(amplitude);
}
