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
/** Nothing takes longer to speak, in frames. */
const MOST_RISE = 20;

/** How much begins, over time. */
export class Beginnings {
  private readonly flux: Float32Array;
  /** What is usual between beginnings. */
  readonly usual: number;

  constructor(samples: Float32Array) {
    const spectrogram = new Spectrogram(samples, SIZE, HOP);
    const back = 4;
    let loudest = 0;
    for (let frame = 0; frame < spectrogram.frames; frame++) for (const value of spectrogram.at(frame)) loudest = Math.max(loudest, value);
    const floor = Math.max(1e-7, FLOOR * loudest);
    this.flux = new Float32Array(spectrogram.frames);
    for (let frame = back; frame < spectrogram.frames; frame++) {
      const [now, before] = [spectrogram.at(frame), spectrogram.at(frame - back)];
      let sum = 0;
      for (let bin = 1; bin < now.length; bin++)
        if (now[bin]! > before[bin]!) sum += Math.log((now[bin]! + floor) / (before[bin]! + floor)) * Math.sqrt(now[bin]!);
      this.flux[frame - back / 2] = sum;
    }
    this.usual = this.flux.slice().sort()[Math.floor(this.flux.length * 0.5)] ?? 0;
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
    // It begins where most of its strength is reached, however slowly it speaks.
    const strength = this.flux[best.at]!;
    const enough = BEGUN * strength;
    let at = best.at;
    while (at > 1 && best.at - at < MOST_RISE && this.flux[at - 1]! > enough) at--;
    const [under, over] = [this.flux[at - 1]!, this.flux[at]!];
    const shift = over > under && under <= enough ? (over - enough) / (over - under) : 0;
    return { ms: ((at - shift) * HOP * 1000) / RATE + EARLY_MS, strength };
  }
}
