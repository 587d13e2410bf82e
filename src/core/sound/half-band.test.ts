import { describe, expect, it } from "vitest";
import { HalfBand } from "./half-band.ts";

const LENGTH = 4096;
const sine = (perSample: number) => Float64Array.from({ length: LENGTH }, (_, i) => Math.sin(2 * Math.PI * perSample * i));

/** Amplitude of what is in the second half at so many turns a sample, by projection on sine and cosine (a direct Fourier sum). */
function amplitudeAt(samples: Float64Array, perSample: number): number {
  const half = samples.subarray(samples.length / 2);
  let re = 0;
  let im = 0;
  let weight = 0;
  half.forEach((x, i) => {
    // Hann window: nothing of a neighbour leaks in.
    const hann = 1 - Math.cos((2 * Math.PI * i) / half.length);
    re += hann * x * Math.cos(2 * Math.PI * perSample * i);
    im += hann * x * Math.sin(2 * Math.PI * perSample * i);
    weight += hann;
  });
  return (2 * Math.hypot(re, im)) / weight;
}

const dB = (amplitude: number) => 20 * Math.log10(amplitude);

describe("a half-band filter", () => {
  it("doubles the rate: what is low keeps its level, and its mirror image is 80 dB down", () => {
    for (const share of [0.01, 0.1, 0.2, 0.3, 0.34]) {
      const doubled = new Float64Array(2 * LENGTH);
      new HalfBand().doubled(sine(share), doubled);
      expect(dB(amplitudeAt(doubled, share / 2)), `at ${share}`).toBeCloseTo(0, 2);
      expect(dB(amplitudeAt(doubled, 0.5 - share / 2)), `image of ${share}`).toBeLessThan(-80);
    }
  });
  it("halves it: what the slower rate cannot carry is 80 dB down and does not come back as something lower", () => {
    for (const share of [0.01, 0.1, 0.17]) {
      const halved = new Float64Array(LENGTH / 2);
      new HalfBand().halved(sine(share), halved);
      expect(dB(amplitudeAt(halved, 2 * share)), `at ${share}`).toBeCloseTo(0, 2);
    }
    for (const share of [0.33, 0.4, 0.49]) {
      const halved = new Float64Array(LENGTH / 2);
      new HalfBand().halved(sine(share), halved);
      expect(dB(amplitudeAt(halved, 1 - 2 * share)), `fold of ${share}`).toBeLessThan(-80);
    }
  });
  it("gives the same in pieces as in one", () => {
    const whole = new Float64Array(2 * LENGTH);
    new HalfBand().doubled(sine(0.1), whole);
    const pieces = new Float64Array(2 * LENGTH);
    const filter = new HalfBand();
    for (let at = 0; at < LENGTH; at += 64) filter.doubled(sine(0.1).subarray(at, at + 64), pieces.subarray(2 * at, 2 * (at + 64)));
    expect(pieces).toEqual(whole);
    const back = new Float64Array(LENGTH);
    new HalfBand().halved(whole, back);
    const down = new HalfBand();
    const backInPieces = new Float64Array(LENGTH);
    for (let at = 0; at < LENGTH; at += 64) down.halved(whole.subarray(2 * at, 2 * (at + 64)), backInPieces.subarray(at, at + 64));
    expect(backInPieces).toEqual(back);
  });
  it("is late by about two and a half samples of the faster rate", () => {
    const doubled = new Float64Array(2 * LENGTH);
    new HalfBand().doubled(
      Float64Array.from({ length: LENGTH }, (_, i) => (i === 100 ? 1 : 0)),
      doubled,
    );
    // The centre of what a click becomes, by its samples: the delay of what is lowest.
    const total = doubled.reduce((sum, x) => sum + x, 0);
    const centre = doubled.reduce((sum, x, i) => sum + i * x, 0) / total;
    expect(centre - 200).toBeGreaterThan(2);
    expect(centre - 200).toBeLessThan(3);
  });
});
