import { describe, expect, it } from "vitest";
import { spectrum } from "../test/listen.ts";
import { Bands, bandFor } from "./bands.ts";
import { Modes } from "./modes.ts";

const RATE = 44100;
const SIZE = 2048;
/** The filters' delay, at most. */
const LATE = 12;

/** What one partial sounds like, struck at sample `at`, for `blocks` blocks. */
function partial(hz: number, decay: number, at: number, blocks: number, ratio = 1, rises = ratio): Float32Array {
  const modes = new Modes(Float64Array.of(hz), Float64Array.of(decay), RATE, rises);
  const bands = new Bands(SIZE);
  const out = new Float32Array(SIZE * blocks);
  for (let block = 0; block < blocks; block++) {
    if (block === 0) modes.strike([1], 1);
    modes.render(bands, block === 0 ? at : 0, SIZE, ratio);
    out.set(bands.taken(), block * SIZE);
  }
  return out;
}

describe("partials", () => {
  it("have the same pitch and level whichever band they are worked out in, and nothing beside them", () => {
    for (const hz of [82.4, 1000, 3800, 3900, 7000, 7800, 12000, 19000]) {
      const { binHz, amplitudes } = spectrum(partial(hz, 0, 5, 18).subarray(4096), 32768);
      const peak = amplitudes.indexOf(Math.max(...amplitudes));
      expect(Math.abs(peak * binHz - hz), `${hz} Hz`).toBeLessThan(binHz);
      // A Hann window takes at most 1.4 dB from a sine between two bins.
      expect(20 * Math.log10(amplitudes[peak]!), `${hz} Hz`).toBeGreaterThan(-1.5);
      expect(20 * Math.log10(amplitudes[peak]!), `${hz} Hz`).toBeLessThan(0.1);
      const beside = Math.max(...amplitudes.filter((_, k) => Math.abs(k - peak) > 200));
      expect(20 * Math.log10(beside), `beside ${hz} Hz`).toBeLessThan(-80);
    }
  });
  it("die as their decay says, in every band", () => {
    for (const hz of [500, 5000, 12000]) {
      const samples = partial(hz, 20, 0, 12);
      const level = (from: number) => Math.sqrt(samples.subarray(from, from + 2205).reduce((sum, x) => sum + x * x, 0));
      // e^(−σt): 20 per second over a fifth of a second.
      expect(Math.log(level(2205) / level(2205 + 8820)), `${hz} Hz`).toBeCloseTo(4, 1);
    }
  });
  it("do not stop with a click when they are too soft to be heard", () => {
    const samples = partial(500, 1500, 0, 2);
    const end = samples.findLastIndex((x) => Math.abs(x) > 1e-7);
    expect(end).toBeLessThan(SIZE);
    expect(Math.max(...samples.subarray(Math.round((Math.log(1e5) / 1500) * RATE) + LATE).map(Math.abs))).toBeLessThan(1e-5);
  });
  it("that will rise stay in a band that can carry them all the way", () => {
    const { binHz, amplitudes } = spectrum(partial(2900, 0, 0, 18, 2).subarray(4096), 32768);
    expect(Math.abs(amplitudes.indexOf(Math.max(...amplitudes)) * binHz - 5800)).toBeLessThan(binHz);
    expect(bandFor(2900, RATE)).toBe(2);
    expect(bandFor(5800, RATE)).toBe(1);
    expect(bandFor(11600, RATE)).toBe(0);
  });
});
