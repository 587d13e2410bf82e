import { describe, expect, it } from "vitest";
import { spectrum } from "../test/listen.ts";
import { Drive, shape } from "./drive.ts";

const SIZE = 1024;
const LENGTH = 16384;

/** A loud sine of so many turns in `LENGTH` samples. */
const sine = (turns: number) => Float64Array.from({ length: 2 * LENGTH }, (_, i) => 0.5 * Math.sin((2 * Math.PI * turns * i) / LENGTH));

function driven(gain: "clean" | "edge" | "high", samples: Float64Array): Float64Array {
  const drive = new Drive(gain, SIZE);
  const out = Float64Array.from(samples);
  for (let at = 0; at < out.length; at += SIZE) drive.process(out.subarray(at, at + SIZE));
  return out;
}

/** The loudest thing that is no multiple of the sine, dB under the loudest that is. */
function strange(samples: Float64Array, turns: number): number {
  const { amplitudes } = spectrum(Float32Array.from(samples.subarray(LENGTH)), LENGTH);
  let multiple = 0;
  let other = 0;
  for (let k = 20; k < (LENGTH / 2) * 0.9; k++) {
    const away = Math.min(k % turns, turns - (k % turns));
    if (away === 0) multiple = Math.max(multiple, amplitudes[k]!);
    if (away > 8) other = Math.max(other, amplitudes[k]!);
  }
  return 20 * Math.log10(multiple / other);
}

describe("the drive", () => {
  it("leaves clean sound as it is", () => {
    expect(driven("clean", sine(373))).toEqual(sine(373));
  });
  it("adds odd multiples of a tone, as a symmetric curve does, and hardly anything that is none", () => {
    for (const turns of [373, 741]) {
      const { amplitudes } = spectrum(Float32Array.from(driven("high", sine(turns)).subarray(LENGTH)), LENGTH);
      // A square wave has a third of the fundamental there (Fourier); a driven sine comes near it.
      expect(amplitudes[3 * turns]! / amplitudes[turns]!).toBeGreaterThan(0.28);
      expect(amplitudes[3 * turns]! / amplitudes[turns]!).toBeLessThan(0.36);
      expect(amplitudes[2 * turns]! / amplitudes[turns]!).toBeLessThan(1e-4);
      expect(strange(driven("high", sine(turns)), turns)).toBeGreaterThan(55);
    }
  });
  it("folds back far less than the same curve at the sound's own rate", () => {
    for (const turns of [373, 741, 1481])
      expect(
        strange(driven("high", sine(turns)), turns) -
          strange(
            sine(turns).map((x) => shape(40 * x)),
            turns,
          ),
        `${turns}`,
      ).toBeGreaterThan(20);
  });
  it("never exceeds its ceiling by more than the filter's ripple", () => {
    expect(Math.max(...driven("high", sine(101)).map(Math.abs))).toBeLessThan(0.26 * 1.2);
  });
});
