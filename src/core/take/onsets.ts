import { RATE, Spectrogram } from "./spectrum.ts";

/*
 * When something begins, to some milliseconds: the moment at which the strength of many frequencies rises most, looked for near where
 * the alignment expects it.
 */

const SIZE = 512;
const HOP = 32;
/** So far from where it is expected is it looked for, in ms. */
const REACH_MS = 75;
/** A window sees a beginning before it is there: half of it has to be. From trials with sounds whose beginnings are known. */
const EARLY_MS = 6.3;
const FLOOR = 1e-5;

/** How much begins, over time. */
export class Beginnings {
  private readonly flux: Float32Array;
  /** What is usual between beginnings. */
  readonly usual: number;

  constructor(samples: Float32Array) {
    const spectrogram = new Spectrogram(samples, SIZE, HOP);
    const back = 6;
    this.flux = new Float32Array(spectrogram.frames);
    for (let frame = back; frame < spectrogram.frames; frame++) {
      const [now, before] = [spectrogram.at(frame), spectrogram.at(frame - back)];
      let sum = 0;
      for (let bin = 1; bin < now.length; bin++) sum += Math.max(0, Math.log((now[bin]! + FLOOR) / (before[bin]! + FLOOR)) * Math.sqrt(now[bin]!));
      this.flux[frame - back / 2] = sum;
    }
    this.usual = [...this.flux].sort((a, b) => a - b)[Math.floor(this.flux.length * 0.5)] ?? 0;
  }

  private frameAt(ms: number): number {
    return Math.round((ms * RATE) / 1000 / HOP);
  }

  /** The beginning nearest to a moment, in ms, and how strong it is; null where nothing begins. */
  near(ms: number, reach = REACH_MS): { ms: number; strength: number } | null {
    const [from, to] = [Math.max(1, this.frameAt(ms - reach)), Math.min(this.flux.length - 2, this.frameAt(ms + reach))];
    let best: { at: number; worth: number } | null = null;
    for (let frame = from; frame <= to; frame++) {
      const here = this.flux[frame]!;
      if (here < this.flux[frame - 1]! || here < this.flux[frame + 1]! || here < 2.5 * this.usual) continue;
      const away = ((frame * HOP * 1000) / RATE - ms) / reach;
      const worth = here * (1 - 0.5 * away * away);
      if (!best || worth > best.worth) best = { at: frame, worth };
    }
    if (!best) return null;
    // A parabola through the peak and its neighbours.
    const [a, b, c] = [-1, 0, 1].map((k) => this.flux[best.at + k]!) as [number, number, number];
    const shift = a - 2 * b + c === 0 ? 0 : (0.5 * (a - c)) / (a - 2 * b + c);
    return { ms: ((best.at + shift) * HOP * 1000) / RATE + EARLY_MS, strength: b };
  }
}
