import type { Delay } from "../../core/take/delay.ts";
import { startJob } from "../jobs/use-job.ts";
import { soundClick } from "../listen/click-track.ts";
import { openMicrophone } from "./microphone.ts";

/*
 * How much later something comes in than it was meant: measured once for each device with clicks out of the loudspeaker, or clapped
 * along with headphones on, and remembered in this browser.
 */

const KEY = (device: string) => `rest-hand:delay:${device}`;
/** What a sound card needs besides what the browser says of itself, in ms. From memory. */
const USUAL_MS = 15;
const CLICKS = 8;
const EVERY_S = 0.6;
const BEFORE_S = 0.8;
const AFTER_S = 0.6;
/** A clock that has not moved for so long has no sound output behind it; on a busy machine it stands for seconds. */
const MUTE_AFTER_MS = 10_000;

/** The delay of a device in ms: as it was measured, or what the browser says of itself and a little. */
export function delayMsOf(context: Pick<AudioContext, "baseLatency" | "outputLatency">, device: string): number {
  const kept = Number(localStorage.getItem(KEY(device)) ?? Number.NaN);
  return kept >= 0 && kept <= 1000 ? kept : 1000 * ((context.baseLatency || 0) + (context.outputLatency || 0)) + USUAL_MS;
}

/** Measures the delay of the microphone that was chosen, and remembers it; null where the clicks are not heard in it. Fails with why nothing can be recorded, and when it is stopped. */
export async function measureDelay(signal: AbortSignal): Promise<Delay | null> {
  const context = new AudioContext();
  void context.resume().catch(() => {});
  const pieces: { samples: Float32Array; frame: number }[] = [];
  let gone: (error: Error) => void = () => {};
  const isGone = new Promise<never>((_, reject) => {
    gone = reject;
  });
  isGone.catch(() => {});
  try {
    const microphone = await openMicrophone(
      context,
      (samples, frame) => pieces.push({ samples, frame }),
      () => gone(new Error("the microphone went away")),
    );
    try {
      signal.throwIfAborted();
      const begins = context.currentTime + BEFORE_S;
      const clicks = Array.from({ length: CLICKS }, (_, k) => begins + k * EVERY_S);
      for (const at of clicks) soundClick(context, context.destination, { at, kind: "bar" });
      await Promise.race([isGone, until(context, clicks.at(-1)! + AFTER_S, signal)]);
      const first = pieces[0]?.frame ?? 0;
      const last = pieces.at(-1);
      const samples = new Float32Array(last ? last.frame + last.samples.length - first : 0);
      for (const piece of pieces) samples.set(piece.samples, piece.frame - first);
      const job = startJob();
      const sent = clicks.map((at) => 1000 * (at - first / context.sampleRate));
      const delay = await job.result(job.jobs.delay({ samples, sampleRate: context.sampleRate }, sent) as Promise<Delay | null>).finally(job.stop);
      if (delay) localStorage.setItem(KEY(microphone.device), String(Math.max(0, delay.ms)));
      return delay;
    } finally {
      microphone.stop();
    }
  } finally {
    void context.close();
  }
}

/** Waits for a moment of a context's clock. */
async function until(context: AudioContext, at: number, signal: AbortSignal): Promise<void> {
  let [last, since] = [context.currentTime, performance.now()];
  while (context.currentTime < at) {
    await new Promise((done) => setTimeout(done, 100));
    signal.throwIfAborted();
    if (context.currentTime !== last) [last, since] = [context.currentTime, performance.now()];
    else if (performance.now() - since > MUTE_AFTER_MS) throw new Error("no sound output answers on this device");
  }
}
