import type { Bar } from "../../core/passage/schema.ts";
import { LONGEST_MIN } from "../../core/sound/wav-read.ts";
import type { Samples } from "../jobs/jobs.ts";
import { ClickTrack } from "../listen/click-track.ts";
import { delayMsOf } from "../microphone/delay.ts";
import { openMicrophone } from "../microphone/microphone.ts";

/** Whether a take is counted in for a bar, and whether the click goes on then. */
export const COUNTS = ["none", "in", "through"] as const;
export type Count = (typeof COUNTS)[number];

/** How a recording is going. */
export interface RecordingState {
  /** Its length; below 0 while it is counted in. */
  seconds: number;
  /** The loudest of the last moment, 1 at the end of the scale. */
  peak: number;
}

export interface Recording {
  /** What was recorded, without what was counted in; the microphone is let go. */
  stop(): Samples;
}

export interface RecordingOptions {
  bars: readonly Bar[];
  tempo: number;
  count: Count;
  /** Of the click, 0 to 1. */
  volume: number;
  onState(state: RecordingState): void;
  /** Why it ended by itself; what was recorded until then is kept. */
  onEnd(why: string): void;
  /** The browser holds the recording back, as a page that is hidden may be; null when it goes on. */
  onHeld(why: string | null): void;
}

/** A microphone that sends nothing for so long has a clock that stands still. */
const NOTHING_AFTER_MS = 4000;
const NOTHING_COMES = "Nothing comes in yet: the browser's sound stands still. Throw this away and try again, with a sound output connected.";

/** So much before the first beat is kept of what was recorded while it was counted in. */
const BEFORE_S = 0.3;

/** Records until it is stopped, until the microphone is unplugged, or for half an hour. Fails with why it cannot begin. */
export async function record({ bars, tempo, count, volume, onState, onEnd, onHeld }: RecordingOptions): Promise<Recording> {
  const context = new AudioContext();
  const pieces: Float32Array[] = [];
  let length = 0;
  let isSilent = true;
  let nothing: ReturnType<typeof setTimeout> | undefined;
  let begins = count === "none" ? 0 : Number.POSITIVE_INFINITY;
  const onPiece = (samples: Float32Array, frame: number) => {
    if (isSilent) {
      isSilent = false;
      clearTimeout(nothing);
      onHeld(null);
    }
    const peak = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
    const kept = samples.subarray(Math.min(samples.length, Math.max(0, begins - frame)));
    if (kept.length > 0) pieces.push(kept);
    length += kept.length;
    onState({ seconds: length > 0 ? length / context.sampleRate : (frame - begins) / context.sampleRate, peak });
    if (length > LONGEST_MIN * 60 * context.sampleRate) onEnd("Half an hour is recorded: that is as long as a take can be.");
  };
  let microphone: Awaited<ReturnType<typeof openMicrophone>>;
  try {
    microphone = await openMicrophone(context, onPiece, () => onEnd("The microphone went away: what was recorded until then is looked at."));
  } catch (error) {
    void context.close();
    throw error;
  }
  let clicks: ClickTrack | null = null;
  if (count !== "none") {
    const onRound = (at: number) => {
      if (begins === Number.POSITIVE_INFINITY) begins = Math.round((at - BEFORE_S + delayMsOf(context, microphone.device) / 1000) * context.sampleRate);
    };
    const heard = count === "through" ? { heard: 1, silent: 0 } : { heard: 0, silent: 1 };
    clicks = new ClickTrack(
      context,
      { bars, tempo, backing: () => null, onRound: ({ at }) => onRound(at) },
      { click: "beats", ...heard, countIn: 1 },
      volume,
      0,
    );
  }
  // A page that is hidden may be held back, and a call that comes in holds it: it goes on by itself as soon as it may.
  const look = () => {
    if (document.visibilityState === "visible" && context.state !== "running") void context.resume().catch(() => {});
    onHeld(
      context.state === "running" || context.state === "closed"
        ? null
        : "The browser holds the recording back while the page is hidden. What is recorded is kept.",
    );
  };
  if (isSilent) nothing = setTimeout(() => onHeld(NOTHING_COMES), NOTHING_AFTER_MS);
  context.addEventListener("statechange", look);
  document.addEventListener("visibilitychange", look);
  return {
    stop() {
      clearTimeout(nothing);
      context.removeEventListener("statechange", look);
      document.removeEventListener("visibilitychange", look);
      clicks?.stop();
      microphone.stop();
      void context.close();
      const samples = new Float32Array(length);
      let at = 0;
      for (const piece of pieces) {
        samples.set(piece, at);
        at += piece.length;
      }
      return { samples, sampleRate: context.sampleRate };
    },
  };
}
