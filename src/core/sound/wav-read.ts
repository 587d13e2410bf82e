import type { Parsed } from "../passage/parse.ts";

/** Sound of a file: one channel, samples from -1 to 1. */
export interface ReadSound {
  samples: Float32Array;
  sampleRate: number;
}

/** Longer takes are cut before they are looked at, in minutes. */
export const LONGEST_MIN = 30;
const RATES = [4_000, 384_000] as const;
const MOST_CHANNELS = 32;
const [PCM, FLOAT, EXTENSIBLE] = [1, 3, 0xfffe];

/**
 * Reads a RIFF/WAVE file (Multimedia Programming Interface and Data Specifications 1.0, IBM and Microsoft 1991; WAVE_FORMAT_EXTENSIBLE
 * as Microsoft describes it): integers of 8, 16, 24 and 32 bits and floating point of 32 and 64, any rate, channels brought together. A
 * file that was cut off is read as far as it goes.
 */
export function readWav(bytes: Uint8Array): Parsed<ReadSound> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || word(0) !== "RIFF" || word(8) !== "WAVE") return refused("file", "this is not a WAV file");
  let format: Format | null = null;
  for (let at = 12; at + 8 <= bytes.length; ) {
    const [name, size] = [word(at), view.getUint32(at + 4, true)];
    const from = at + 8;
    if (name === "fmt ") {
      const read = formatOf(view, from, Math.min(size, bytes.length - from));
      if (typeof read === "string") return refused(`byte ${from}`, read);
      format = read;
    }
    if (name === "data") {
      if (!format) return refused(`byte ${at}`, "sound begins before it is said how it is written");
      return soundOf(view, from, Math.min(size, bytes.length - from), format);
    }
    at = from + size + (size % 2);
  }
  return refused("file", "there is no sound in it");
}

interface Format {
  isFloat: boolean;
  channels: number;
  sampleRate: number;
  bytes: number;
}

/** How the sound is written, or what is wrong with that. */
function formatOf(view: DataView, at: number, size: number): Format | string {
  if (size < 16) return "how the sound is written is cut off";
  const tag = view.getUint16(at, true);
  const [channels, sampleRate, bits] = [view.getUint16(at + 2, true), view.getUint32(at + 4, true), view.getUint16(at + 14, true)];
  // What it really is stands further on, as the first word of a GUID.
  const kind = tag === EXTENSIBLE && size >= 26 ? view.getUint16(at + 24, true) : tag;
  if (kind !== PCM && kind !== FLOAT) return `the sound is packed in a way that is not read here (format ${kind})`;
  const sizes = kind === FLOAT ? [32, 64] : [8, 16, 24, 32];
  if (!sizes.includes(bits)) return `samples of ${bits} bits are not read here`;
  if (channels < 1 || channels > MOST_CHANNELS) return `${channels} channels`;
  if (sampleRate < RATES[0] || sampleRate > RATES[1]) return `${sampleRate} samples a second`;
  return { isFloat: kind === FLOAT, channels, sampleRate, bytes: bits / 8 };
}

function soundOf(view: DataView, from: number, size: number, { isFloat, channels, sampleRate, bytes }: Format): Parsed<ReadSound> {
  const frames = Math.floor(size / (bytes * channels));
  if (frames === 0) return refused("file", "there is no sound in it");
  if (frames > LONGEST_MIN * 60 * sampleRate) return refused("file", `${Math.ceil(frames / sampleRate / 60)} minutes, more than the ${LONGEST_MIN} a take has`);
  const sampleAt = readerOf(view, isFloat, bytes);
  const samples = new Float32Array(frames);
  for (let i = 0; i < frames; i++) {
    let sum = 0;
    for (let c = 0; c < channels; c++) sum += sampleAt(from + (i * channels + c) * bytes);
    // What is no number, or none that a sample can be, is silence.
    const sample = Math.fround(sum / channels);
    samples[i] = Number.isFinite(sample) ? sample : 0;
  }
  return { ok: true, value: { samples, sampleRate } };
}

function readerOf(view: DataView, isFloat: boolean, bytes: number): (at: number) => number {
  if (isFloat) return bytes === 8 ? (at) => view.getFloat64(at, true) : (at) => view.getFloat32(at, true);
  if (bytes === 1) return (at) => (view.getUint8(at) - 128) / 128;
  if (bytes === 2) return (at) => view.getInt16(at, true) / 0x8000;
  if (bytes === 3) return (at) => (view.getUint16(at, true) + view.getInt8(at + 2) * 0x10000) / 0x800000;
  return (at) => view.getInt32(at, true) / 0x80000000;
}

function refused(place: string, says: string): { ok: false; faults: { place: string; says: string }[] } {
  return { ok: false, faults: [{ place, says }] };
}
