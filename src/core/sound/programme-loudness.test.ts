import { describe, expect, it } from "vitest";
import { highPass, ProgrammeLoudness, shelf } from "./programme-loudness.ts";

/** A sine of a peak in dB of full scale. */
function sine(hz: number, db: number, seconds: number, sampleRate: number): Float32Array {
  return Float32Array.from({ length: seconds * sampleRate }, (_, i) => 10 ** (db / 20) * Math.sin((2 * Math.PI * hz * i) / sampleRate));
}
function loudnessOf(sampleRate: number, ...pieces: Float32Array[]): number | null {
  const meter = new ProgrammeLoudness(sampleRate);
  for (const piece of pieces) meter.feed(piece);
  return meter.integrated();
}

describe("loudness of a piece of sound (ITU-R BS.1770-4)", () => {
  it("has the filters that the standard prints for 48 kHz (tables 1 and 2)", () => {
    const [head, low] = [shelf(48_000), highPass(48_000)];
    const close = (own: readonly number[], printed: readonly number[]) => {
      for (const [i, value] of printed.entries()) expect(own[i]).toBeCloseTo(value, 8);
    };
    close(head.b, [1.53512485958697, -2.69169618940638, 1.19839281085285]);
    close(head.a, [-1.69065929318241, 0.73248077421585]);
    close(low.b, [1, -2, 1]);
    close(low.a, [-1.99004745483398, 0.99007225036621]);
  });

  it.each([44_100, 48_000, 22_050])("a sine of 997 Hz at full scale in one channel reads -3.01 LKFS, at %i Hz", (rate) => {
    expect(loudnessOf(rate, sine(997, 0, 5, rate))).toBeCloseTo(-3.01, 1);
  });

  it("10 dB less reads 10 dB less", () => {
    expect(loudnessOf(48_000, sine(997, -23, 20, 48_000))! - loudnessOf(48_000, sine(997, -33, 20, 48_000))!).toBeCloseTo(10, 2);
  });

  it("silence and very quiet stretches count for nothing (the test signals of EBU Tech 3341, cases 3 and 4, in one channel)", () => {
    const at = (db: number, seconds: number) => sine(997, db, seconds, 48_000);
    const middle = loudnessOf(48_000, at(-23, 60))!;
    expect(loudnessOf(48_000, at(-36, 10), at(-23, 60), at(-36, 10))).toBeCloseTo(middle, 1);
    expect(loudnessOf(48_000, at(-72, 10), at(-36, 10), at(-23, 60), at(-36, 10), at(-72, 10))).toBeCloseTo(middle, 1);
    expect(loudnessOf(48_000, new Float32Array(48_000))).toBeNull();
    expect(loudnessOf(48_000, at(-23, 0.3))).toBeNull();
  });

  it("a low string counts for less than a high one of the same power", () => {
    expect(loudnessOf(48_000, sine(41.2, -10, 5, 48_000))!).toBeLessThan(loudnessOf(48_000, sine(997, -10, 5, 48_000))! - 3);
    expect(loudnessOf(48_000, sine(3000, -10, 5, 48_000))!).toBeGreaterThan(loudnessOf(48_000, sine(997, -10, 5, 48_000))! + 2);
  });
});
