import { expect, it } from "vitest";
import { dbOf, weightingGain } from "./weighting.ts";

// IEC 61672-1:2013, table 3: nominal frequency, A and C weighting in dB.
const IEC_61672_1 = [
  [31.5, -39.4, -3.0],
  [63, -26.2, -0.8],
  [125, -16.1, -0.2],
  [250, -8.6, 0],
  [500, -3.2, 0],
  [1000, 0, 0],
  [2000, 1.2, -0.2],
  [4000, 1.0, -0.8],
  [8000, -1.1, -3.0],
  [16000, -6.6, -8.5],
] as const;

it.each(IEC_61672_1)("weights %f Hz by A %f dB and C %f dB (IEC 61672-1, table 3)", (hz, a, c) => {
  // The table holds for exact third-octave frequencies; nominal 31.5 Hz is 31.62 Hz and so on.
  const exact = 1000 * 10 ** (Math.round(10 * Math.log10(hz / 1000)) / 10);
  expect(Math.abs(dbOf(weightingGain("A", exact)) - a)).toBeLessThan(0.06);
  expect(Math.abs(dbOf(weightingGain("C", exact)) - c)).toBeLessThan(0.06);
});
