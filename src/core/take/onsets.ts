import { RATE, Spectrogram } from "./spectrum.ts";

/*
 * When something begins, to some milliseconds: the moment at which the strength of many frequencies rises most, looked for near where
 * the alignment expects it.
 */

const SIZE = 512;
const HOP = 64;
/** So far from where it is expected is it looked for, in ms. */
const REACH_MS = 75;
/** A window sees a beginning before it is there: half of it has to be. From trials with sounds whose beginnings are known. */
const EARLY_MS = 6.3;
/** Fainter than that against the loudest partial is nothing. */
const FLOOR = 0.0005;
/** Of its strength, when something has begun. */
const BEGUN = 0.75;
/** Against the strongest swing of its beginning, a note's first one (from trials with sampled basses). */
const SWINGS = 0.45;
/** Nothing takes longer to speak, in frames. */
const MOST_RISE = 20;

/** Strength is compared so many frames before and after: even, so that every other frame can do without those between. */
const APART = 2;
/** Against what is usual between beginnings. */
const LEAST_OVER = 2.5;
/** Beside a frame there is at least so much of what is in it: they are 3 ms apart, and their windows 23 ms long. */
const BESIDE = 0.6;

/** Where something begins, in ms, and how strongly. */
export interface Beginning {
  ms: number;
  strength: number;
  /** Where it begins if that was a low note's second swing. */
  swingMs: number | null;
}

/** How much begins, over time. */
export class Beginnings {
  private readonly spectrogram: Spectrogram;
  private readonly floor: number;
  private readonly known: Float32Array;
  /** What is usual between beginnings. */
  private readonly usual: number;

  constructor(
    samples: Float32Array,
    /** Hz of the lowest string; of clicks there is none. */
    private readonly lowestHz = Number.POSITIVE_INFINITY,
  ) {
    this.spectrogram = new Spectrogram(samples, SIZE, HOP);
    this.known = new Float32Array(this.spectrogram.frames).fill(-1);
    // Every other frame says where to look closer, and is not needed any more then.
    const coarse = new Spectrogram(samples, SIZE, 2 * HOP);
    let loudest = 0;
    for (let k = 0; k < coarse.frames; k++) for (const value of coarse.at(k)) loudest = Math.max(loudest, value);
    this.floor = Math.max(1e-7, FLOOR * loudest);
    const all = Float32Array.from({ length: coarse.frames }, (_, k) => this.rise(coarse, k, APART / 2));
    for (let k = 0; k < all.length; k++) this.known[2 * k] = all[k]!;
    this.usual = all.sort()[Math.floor(all.length * 0.5)] ?? 0;
  }

  private frameAt(ms: number): number {
    return Math.round((ms * RATE) / 1000 / HOP);
  }

  /** How much stronger all frequencies are just after a frame than just before it. */
  private flux(frame: number): number {
    if (this.known[frame]! < 0) this.known[frame] = this.rise(this.spectrogram, frame, APART);
    return this.known[frame]!;
  }

  private rise(spectrogram: Spectrogram, frame: number, apart: number): number {
    const { floor } = this;
    if (frame < apart || frame + apart >= spectrogram.frames) return 0;
    const [now, before] = [spectrogram.at(frame + apart), spectrogram.at(frame - apart)];
    let sum = 0;
    for (let bin = 1; bin < now.length; bin++)
      if (now[bin]! > before[bin]!) sum += Math.log((now[bin]! + floor) / (before[bin]! + floor)) * Math.sqrt(now[bin]!);
    return sum;
  }

  /** Frames at which more begins than just before and after. */
  private *peaks(from: number, to: number): Generator<number> {
    for (let coarse = from + (from % 2); coarse <= to; coarse += 2) {
      const here = this.flux(coarse);
      if (here < BESIDE * LEAST_OVER * this.usual) continue;
      if (here < this.flux(Math.max(0, coarse - 2)) || here < this.flux(Math.min(this.known.length - 1, coarse + 2))) continue;
      for (const frame of [coarse - 1, coarse, coarse + 1]) {
        if (frame < from || frame > to || this.flux(frame) < LEAST_OVER * this.usual) continue;
        if (this.flux(frame) >= this.flux(frame - 1) && this.flux(frame) >= this.flux(frame + 1)) yield frame;
      }
    }
  }

  /**
   * Of a low note, whose swings are longer than the window, each looks like a beginning, and often the second like more of one than
   * the first: the one a swing before, if it is nearly as strong.
   */
  private swingBefore(at: number): number | null {
    const swing = RATE / this.lowestHz / HOP;
    if (swing * HOP < (SIZE * 2) / 3) return null;
    for (const frame of this.peaks(Math.max(1, Math.round(at - swing)), at - 1)) if (this.flux(frame) > SWINGS * this.flux(at)) return frame;
    return null;
  }

  /** The beginning nearest to a moment; null where nothing begins. */
  near(ms: number, reach = REACH_MS): Beginning | null {
    const [from, to] = [Math.max(1, this.frameAt(ms - reach)), Math.min(this.known.length - 2, this.frameAt(ms + reach))];
    let best: { at: number; worth: number } | null = null;
    for (const frame of this.peaks(from, to)) {
      const away = ((frame * HOP * 1000) / RATE - ms) / reach;
      const worth = this.flux(frame) * (1 - 0.5 * away * away);
      if (!best || worth > best.worth) best = { at: frame, worth };
    }
    if (!best) return null;
    const before = this.swingBefore(best.at);
    return { ms: this.beginOf(best.at), strength: this.flux(best.at), swingMs: before === null ? null : this.beginOf(before) };
  }

  /** It begins where most of its strength is reached, however slowly it speaks. */
  private beginOf(peak: number): number {
    const enough = BEGUN * this.flux(peak);
    let at = peak;
    while (at > 1 && peak - at < MOST_RISE && this.flux(at - 1) > enough) at--;
    const [under, over] = [this.flux(at - 1), this.flux(at)];
    const shift = over > under && under <= enough ? (over - enough) / (over - under) : 0;
    return ((at - shift) * HOP * 1000) / RATE + EARLY_MS;
  }
}
