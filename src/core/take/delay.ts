import { median } from "./levels.ts";
import { Beginnings } from "./onsets.ts";
import { resampled } from "./spectrum.ts";

/** How much later clicks come in than they were sent, and how surely, in ms. */
export interface Delay {
  ms: number;
  withinMs: number;
}

/** Longer ones no device has, in ms. */
const LONGEST_MS = 400;
/** Who claps along may be early. */
const EARLY_MS = 40;
/** Those further from the middle than that are something else. */
const FAR_MS = 60;
/** So many of the clicks have to be heard, and so near to each other in the middle: a clap beside a click is some ms off. */
const LEAST_SHARE = 0.6;
const MOST_SPREAD_MS = 25;

/** The delay of a loudspeaker and a microphone, or of one who claps along, from sound and when its clicks were sent; null where they are not heard. */
export function delayOf(samples: Float32Array, sampleRate: number, clicksMs: readonly number[]): Delay | null {
  const beginnings = new Beginnings(resampled(samples, sampleRate));
  const offs = clicksMs.flatMap((at) => {
    const heard = beginnings.near(at + LONGEST_MS / 2, LONGEST_MS / 2 + EARLY_MS);
    return heard && heard.strength > 0 ? [heard.ms - at] : [];
  });
  const middle = median(offs);
  if (middle === null) return null;
  const near = offs.filter((off) => Math.abs(off - middle) <= FAR_MS);
  const ms = median(near)!;
  const withinMs = median(near.map((off) => Math.abs(off - ms)))!;
  if (near.length < LEAST_SHARE * clicksMs.length || withinMs > MOST_SPREAD_MS) return null;
  return { ms: Math.round(ms), withinMs: Math.max(1, Math.round(withinMs)) };
}
