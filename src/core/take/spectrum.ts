import FFT from "fft.js";

/** Everything is analysed at this rate: no partial that tells strings apart lies higher than half of it. */
export const RATE = 22_050;

/** Half length of the filter that resamples, in samples of the lower rate. */
const TAPS = 8;

/** Samples at the rate of the analysis: band-limited interpolation by a windowed sinc. */
export function resampled(samples: Float32Array, sampleRate: number): Float32Array {
  const from = Math.round(sampleRate);
  if (from === RATE) return samples;
  const step = from / RATE;
  const cut = Math.min(1, RATE / from);
  const half = TAPS / cut;
  const reach = Math.ceil(half);
  // A little longer than the filter, so that its sums go four by four.
  const length = 4 * Math.ceil((2 * reach + 1) / 4);
  const padded = new Float32Array(samples.length + length);
  padded.set(samples, reach);
  // Places between two samples come again and again: each has its filter.
  const places = RATE / commonDivisor(from, RATE);
  const filters: (Float64Array | undefined)[] = new Array(places);
  const filterOf = (shift: number) => Float64Array.from({ length }, (_, k) => (Math.abs(k - reach - shift) > half ? 0 : tap(k - reach - shift, cut, half)));
  const out = new Float32Array(Math.floor(samples.length / step));
  for (let i = 0; i < out.length; i++) {
    const place = i % places;
    const first = Math.floor((i * from) / RATE);
    filters[place] ??= filterOf((i * from) / RATE - first);
    out[i] = filtered(padded, first, filters[place]);
  }
  return out;
}

/** Four sums side by side, so that none waits for another. */
function filtered(samples: Float32Array, first: number, taps: Float64Array): number {
  let p = 0;
  let q = 0;
  let r = 0;
  let s = 0;
  for (let k = 0; k < taps.length; k += 4) {
    p += samples[first + k]! * taps[k]!;
    q += samples[first + k + 1]! * taps[k + 1]!;
    r += samples[first + k + 2]! * taps[k + 2]!;
    s += samples[first + k + 3]! * taps[k + 3]!;
  }
  return p + q + (r + s);
}

function commonDivisor(a: number, b: number): number {
  return b === 0 ? a : commonDivisor(b, a % b);
}

/** A sinc in a Hann window, `x` samples from its middle. */
function tap(x: number, cut: number, half: number): number {
  const at = Math.PI * x * cut;
  return (x === 0 ? 1 : Math.sin(at) / at) * cut * (0.5 + 0.5 * Math.cos((Math.PI * x) / half));
}

/**
 * Magnitudes over time: a Hann window of `size` samples every `hop`, frames told by their middle, each worked out when it is looked at.
 * A sine of amplitude 1 has magnitude 1.
 */
export class Spectrogram {
  readonly bins: number;
  readonly frames: number;
  readonly binHz: number;
  private readonly known: (Float32Array | undefined)[];
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly input: Float64Array;
  private readonly spectrum: Float64Array;

  constructor(
    private readonly samples: Float32Array,
    readonly size: number,
    readonly hop: number,
    /** Bins that are kept, from the lowest on. */
    most = Number.POSITIVE_INFINITY,
  ) {
    this.bins = Math.min(most, size / 2 + 1);
    this.binHz = RATE / size;
    this.frames = Math.max(1, Math.ceil(samples.length / hop));
    this.known = new Array(this.frames);
    this.fft = new FFT(size);
    this.window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
    this.input = new Float64Array(size);
    this.spectrum = new Float64Array(2 * size);
  }

  frameAt(ms: number): number {
    return Math.min(this.frames - 1, Math.max(0, Math.round((ms * RATE) / 1000 / this.hop)));
  }

  msOf(frame: number): number {
    return (frame * this.hop * 1000) / RATE;
  }

  /** The magnitudes of one frame. */
  at(frame: number): Float32Array {
    this.known[frame] ??= this.workOut(frame);
    return this.known[frame];
  }

  private workOut(frame: number): Float32Array {
    const { samples, size, input, spectrum } = this;
    const from = frame * this.hop - size / 2;
    if (from >= 0 && from + size <= samples.length) for (let i = 0; i < size; i++) input[i] = samples[from + i]! * this.window[i]!;
    else for (let i = 0; i < size; i++) input[i] = (samples[from + i] ?? 0) * this.window[i]!;
    this.fft.realTransform(spectrum, input);
    const magnitudes = new Float32Array(this.bins);
    for (let bin = 0; bin < this.bins; bin++) magnitudes[bin] = (4 / size) * Math.sqrt(spectrum[2 * bin]! ** 2 + spectrum[2 * bin + 1]! ** 2);
    return magnitudes;
  }

  /** The magnitude near a frequency: the largest of its bin and those beside. */
  peak(frame: number, hz: number): number {
    const magnitudes = this.at(frame);
    const middle = Math.round(hz / this.binHz);
    let most = 0;
    for (let bin = Math.max(0, middle - 1); bin <= Math.min(this.bins - 1, middle + 1); bin++) most = Math.max(most, magnitudes[bin]!);
    return most;
  }
}
