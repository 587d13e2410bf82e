import { Metronome } from "../../core/drills/metronome.ts";
import { soundClick } from "../listen/click-track.ts";

/*
 * A metronome that listens to the metronome: the clicks are rendered as they would sound, found again in the samples, and held
 * against an even beat.
 */

const RATE = 8000;
const TEMPO = 97;
/** As the trainer does it: some are put on the clock, then the next. */
const AT_ONCE_S = 30;
/** A sample of a click, and what is silence between two of them. */
const LOUD = 0.005;
const SILENT_S = 0.1;

export interface ClickCheck {
  clicks: number;
  /** How far the worst one is from an even beat, and how far the last, in ms. */
  worstMs: number;
  driftMs: number;
}

/** Renders so many seconds of clicks and measures them. */
export async function checkClicks(seconds: number): Promise<ClickCheck> {
  const context = new OfflineAudioContext(1, RATE * seconds, RATE);
  const metronome = new Metronome([{ meter: [4, 4], strokes: [] }], TEMPO, { click: "beats", heard: 1, silent: 0, countIn: 0 }, 0.5);
  const put = (until: number) => {
    for (const click of metronome.take(Math.min(until, seconds - 1))) soundClick(context, context.destination, click);
  };
  put(AT_ONCE_S + 1);
  for (let at = AT_ONCE_S; at < seconds; at += AT_ONCE_S)
    void context.suspend(at).then(() => {
      put(at + AT_ONCE_S + 1);
      return context.resume();
    });
  const samples = (await context.startRendering()).getChannelData(0);
  const found: number[] = [];
  let last = Number.NEGATIVE_INFINITY;
  for (const [i, sample] of samples.entries()) {
    if (Math.abs(sample) < LOUD) continue;
    if (i - last > SILENT_S * RATE) found.push(i / RATE);
    last = i;
  }
  const off = found.map((at, k) => 1000 * (at - found[0]! - (k * 60) / TEMPO));
  return { clicks: found.length, worstMs: Math.max(...off.map(Math.abs)), driftMs: off.at(-1)! };
}
