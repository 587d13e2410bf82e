/** Sample formats of a WAV file: integer PCM of 16 or 24 bits, or 32-bit floating point. */
export const WAV_DEPTHS = ["16", "24", "float"] as const;
export type WavDepth = (typeof WAV_DEPTHS)[number];

const HEADER_BYTES = 44;
const BYTES: Readonly<Record<WavDepth, number>> = { "16": 2, "24": 3, float: 4 };

/**
 * Header of a mono RIFF/WAVE file with `samples` samples to follow (Multimedia Programming Interface and Data
 * Specifications 1.0, IBM and Microsoft 1991; format tag 1 is PCM, 3 IEEE floating point).
 */
export function wavHeader(samples: number, sampleRate: number, depth: WavDepth): Uint8Array {
  const bytes = BYTES[depth];
  const data = samples * bytes;
  const header = new DataView(new ArrayBuffer(HEADER_BYTES));
  const text = (at: number, word: string) => {
    for (let i = 0; i < word.length; i++) header.setUint8(at + i, word.charCodeAt(i));
  };
  text(0, "RIFF");
  // Chunks are padded to even lengths.
  header.setUint32(4, HEADER_BYTES - 8 + data + (data % 2), true);
  text(8, "WAVEfmt ");
  header.setUint32(16, 16, true);
  header.setUint16(20, depth === "float" ? 3 : 1, true);
  header.setUint16(22, 1, true);
  header.setUint32(24, sampleRate, true);
  header.setUint32(28, sampleRate * bytes, true);
  header.setUint16(32, bytes, true);
  header.setUint16(34, bytes * 8, true);
  text(36, "data");
  header.setUint32(40, data, true);
  return new Uint8Array(header.buffer);
}

/** Samples (-1 … 1, held to that) as the bytes that follow the header. */
export function wavSamples(samples: Float32Array, depth: WavDepth): Uint8Array {
  const bytes = BYTES[depth];
  const data = new DataView(new ArrayBuffer(samples.length * bytes));
  samples.forEach((sample, i) => {
    const x = Math.max(-1, Math.min(1, sample));
    const at = i * bytes;
    if (depth === "float") data.setFloat32(at, x, true);
    else if (depth === "16") data.setInt16(at, Math.round(x * 0x7fff), true);
    else {
      const value = Math.round(x * 0x7fffff);
      data.setUint16(at, value & 0xffff, true);
      data.setInt8(at + 2, value >> 16);
    }
  });
  return new Uint8Array(data.buffer);
}

/** What pads the data of an odd number of bytes. */
export function wavPadding(samples: number, depth: WavDepth): Uint8Array {
  return new Uint8Array((samples * BYTES[depth]) % 2);
}
