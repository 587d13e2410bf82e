import { expect, it } from "vitest";
import { WaveFile } from "wavefile";
import { WAV_DEPTHS, wavHeader, wavPadding, wavSamples } from "./wav.ts";

const SAMPLES = Float32Array.from([0, 0.5, -0.5, 1, -1, 0.001, -0.001]);

it.each(WAV_DEPTHS)("%s is read back by another package as the same sound", (depth) => {
  const file = Buffer.concat([wavHeader(SAMPLES.length, 44100, depth), wavSamples(SAMPLES, depth), wavPadding(SAMPLES.length, depth)]);
  const read = new WaveFile(file);
  const format = read.fmt as { sampleRate: number; numChannels: number; bitsPerSample: number };
  expect([format.sampleRate, format.numChannels, format.bitsPerSample]).toEqual([44100, 1, depth === "float" ? 32 : Number(depth)]);
  expect(file.length % 2).toBe(0);
  const scale = depth === "float" ? 1 : 2 ** (Number(depth) - 1) - 1;
  const got = Array.from(read.getSamples(false) as unknown as ArrayLike<number>, (x) => x / scale);
  expect(got).toHaveLength(SAMPLES.length);
  for (const [i, x] of got.entries()) expect(x).toBeCloseTo(SAMPLES[i]!, depth === "16" ? 4 : 6);
});

it("samples beyond full scale are held there, not wrapped round", () => {
  expect([...new Int16Array(wavSamples(Float32Array.from([2, -2]), "16").buffer)]).toEqual([32767, -32767]);
});
