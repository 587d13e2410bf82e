import FFT from "fft.js";

/** Everything is analysed at this rate: no partial that tells strings apart lies higher than half of it. */
export const RATE = 22_050;

/** Half length of the filter that resamples, in samples of the lower rate. */
const TAPS = 12;

/** Samples at the rate of the analysis: band-limited interpolation by a windowed sinc. */
export function resampled(samples: Float32Array, from: number): Float32Array {
  if (from === RATE) return samples;
  const step = from / RATE;
  const cut = Math.min(1, RATE / from);
  const half = TAPS / cut;
  const out = new Float32Array(Math.floor(samples.length / step));
  if (Number.isInteger(step)) {
    // The same filter at every place.
    const reach = Math.floor(half);
    const taps = Float64Array.from({ length: 2 * reach + 1 }, (_, k) => tap(k - reach, cut, half));
    for (let i = 0; i < out.length; i++) {
      let sum = 0;
      const from = i * step - reach;
      for (let k = Math.max(0, -from); k < taps.length && from + k < samples.length; k++) sum += samples[from + k]! * taps[k]!;
      out[i] = sum;
    }
    return out;
  }
  for (let i = 0; i < out.length; i++) {
    const centre = i * step;
    let sum = 0;
    for (let k = Math.max(0, Math.ceil(centre - half)); k <= Math.min(samples.length - 1, Math.floor(centre + half)); k++) {
      sum += samples[k]! * tap(k - centre, cut, half);
    }
    out[i] = sum;
  }
  return out;
}

/** A sinc in a Hann window, `x` samples from its middle. */
function tap(x: number, cut: number, half: number): number {
  const at = Math.PI * x * cut;
  return (x === 0 ? 1 : Math.sin(at) / at) * cut * (0.5 + 0.5 * Math.cos((Math.PI * x) / half));
}

/** Magnitudes over time: a Hann window of `size` samples every `hop`, frames told by their middle. A sine of amplitude 1 has magnitude 1. */
export class Spectrogram {
  readonly bins: number;
  readonly frames: number;
  readonly binHz: number;
  private readonly magnitudes: Float32Array;

  constructor(
    samples: Float32Array,
    readonly size: number,
    readonly hop: number,
  ) {
    this.bins = size / 2 + 1;
    this.binHz = RATE / size;
    this.frames = Math.max(1, Math.ceil(samples.length / hop));
    this.magnitudes = new Float32Array(this.frames * this.bins);
    const fft = new FFT(size);
    const window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
    const input = new Array<number>(size).fill(0);
    const spectrum = fft.createComplexArray() as number[];
    for (let frame = 0; frame < this.frames; frame++) {
      const from = frame * hop - size / 2;
      for (let i = 0; i < size; i++) input[i] = (samples[from + i] ?? 0) * window[i]!;
      fft.realTransform(spectrum, input);
      const at = frame * this.bins;
      for (let bin = 0; bin < this.bins; bin++) this.magnitudes[at + bin] = (4 / size) * Math.sqrt(spectrum[2 * bin]! ** 2 + spectrum[2 * bin + 1]! ** 2);
    }
  }

  frameAt(ms: number): number {
    return Math.min(this.frames - 1, Math.max(0, Math.round((ms * RATE) / 1000 / this.hop)));
  }

  msOf(frame: number): number {
    return (frame * this.hop * 1000) / RATE;
  }

  /** The magnitudes of one frame; a view, not a copy. */
  at(frame: number): Float32Array {
    return this.magnitudes.subarray(frame * this.bins, (frame + 1) * this.bins);
  }

  /** The magnitude near a frequency: the largest of its bin and those beside. */
  peak(frame: number, hz: number): number {
    const middle = Math.round(hz / this.binHz);
    let most = 0;
    for (let bin = Math.max(0, middle - 1); bin <= Math.min(this.bins - 1, middle + 1); bin++) most = Math.max(most, this.magnitudes[frame * this.bins + bin]!);
    return most;
  }
}
