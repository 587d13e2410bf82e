import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { WaveFile } from "wavefile";
import { wavHeader, wavPadding, wavSamples } from "./wav.ts";
import { readWav } from "./wav-read.ts";

const tone = Array.from({ length: 500 }, (_, i) => 0.8 * Math.sin(i / 5));
/** Written by another program (wavefile). */
const fileOf = (channels: number, rate: number, depth: string, samples: number[][] | number[] = tone) => {
  const wave = new WaveFile();
  const scale = depth === "32f" || depth === "64" ? 1 : depth === "8" ? 127 : 2 ** (Number(depth) - 1) - 1;
  const shift = depth === "8" ? 128 : 0;
  const scaled = (list: number[]) => list.map((sample) => (scale === 1 ? sample : Math.round(sample * scale) + shift));
  wave.fromScratch(channels, rate, depth, Array.isArray(samples[0]) ? (samples as number[][]).map(scaled) : scaled(samples as number[]));
  return new Uint8Array(wave.toBuffer());
};
const read = (bytes: Uint8Array) => {
  const found = readWav(bytes);
  if (!found.ok) throw new Error(found.faults[0]!.says);
  return found.value;
};
const says = (bytes: Uint8Array) => {
  const found = readWav(bytes);
  return found.ok ? "" : found.faults[0]!.says;
};

describe("a WAV file", () => {
  it.each(["8", "16", "24", "32", "32f", "64"])("of another program is read, %s bits", (depth) => {
    for (const rate of [8_000, 44_100, 96_000]) {
      const { samples, sampleRate } = read(fileOf(1, rate, depth));
      expect(sampleRate).toBe(rate);
      expect(samples).toHaveLength(tone.length);
      for (const [i, sample] of samples.entries()) expect(Math.abs(sample - tone[i]!)).toBeLessThan(depth === "8" ? 0.02 : 0.0002);
    }
  });
  it("channels are brought together: what is against itself in two of them is silence", () => {
    const { samples } = read(fileOf(2, 44_100, "16", [tone, tone.map((sample) => -sample)]));
    expect(Math.max(...samples.map(Math.abs))).toBeLessThan(0.0002);
    expect(read(fileOf(2, 44_100, "16", [tone, tone])).samples[3]).toBeCloseTo(tone[3]!, 3);
  });
  it("of our own comes back as it was", () => {
    const own = Float32Array.from(tone);
    for (const depth of ["16", "24", "float"] as const) {
      const bytes = new Uint8Array([...wavHeader(own.length, 44_100, depth), ...wavSamples(own, depth), ...wavPadding(own.length, depth)]);
      for (const [i, sample] of read(bytes).samples.entries()) expect(sample).toBeCloseTo(own[i]!, depth === "16" ? 3 : 5);
    }
  });
  it("other chunks are passed over, and one that was cut off is read as far as it goes", () => {
    const bytes = fileOf(1, 44_100, "16");
    const list = new Uint8Array([76, 73, 83, 84, 3, 0, 0, 0, 1, 2, 3, 0]);
    expect(read(new Uint8Array([...bytes.subarray(0, 12), ...list, ...bytes.subarray(12)])).samples).toHaveLength(tone.length);
    expect(read(bytes.subarray(0, 44 + 400)).samples).toHaveLength(200);
  });
  it("that is none, or is packed, or too long, is refused in words", () => {
    const bytes = fileOf(1, 44_100, "16");
    const changed = (at: number, ...values: number[]) => {
      const other = bytes.slice();
      other.set(values, at);
      return other;
    };
    expect(says(new Uint8Array(4))).toMatch(/not a WAV/);
    expect(says(bytes.subarray(0, 40))).toMatch(/no sound/);
    expect(says(changed(20, 85, 0))).toMatch(/packed in a way that is not read here \(format 85\)/);
    expect(says(changed(34, 12, 0))).toMatch(/12 bits/);
    expect(says(changed(22, 0, 0))).toMatch(/0 channels/);
    expect(says(changed(24, 1, 0, 0, 0))).toMatch(/1 samples a second/);
    const long = new Uint8Array(44 + 4_000 * 60 * 31);
    long.set(bytes.subarray(0, 44));
    const view = new DataView(long.buffer);
    view.setUint32(24, 4_000, true);
    view.setUint16(34, 8, true);
    view.setUint32(40, long.length - 44, true);
    expect(says(long)).toMatch(/31 minutes, more than the 30/);
  });
  it("whatever bytes stand in it, it is read or refused, and gives numbers", () => {
    const bytes = fileOf(1, 44_100, "16", tone.slice(0, 60));
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { maxLength: 8 }), fc.nat(bytes.length), (changes, length) => {
        const other = bytes.slice(0, length);
        for (const [at, value] of changes) if (at < other.length) other[at] = value;
        const found = readWav(other);
        if (found.ok) expect(found.value.samples.every(Number.isFinite)).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});
