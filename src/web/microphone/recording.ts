import { LONGEST_MIN } from "../../core/sound/wav-read.ts";
import type { Samples } from "../jobs/jobs.ts";
import workletUrl from "./recorder-worklet.ts?worker&url";

/** How a recording is going: its length, and the loudest of the last moment, 1 at the end of the scale. */
export interface RecordingState {
  seconds: number;
  peak: number;
}

export interface Recording {
  /** What was recorded; the microphone is let go. */
  stop(): Samples;
}

/** Nothing of what browsers do to make speech clearer: they would take rings away, and bring noise up. */
const RAW = { echoCancellation: false, noiseSuppression: false, autoGainControl: false } as const;

const REASONS: Readonly<Record<string, string>> = {
  NotAllowedError: "this page may not use the microphone: allow it in the browser's address line, then try again",
  NotFoundError: "there is no microphone: plug one in, then try again",
  NotReadableError: "another program holds the microphone: close it there, then try again",
  OverconstrainedError: "that microphone is not there any more: choose another one",
};

/** The microphones that there are; without names until one was allowed. */
export async function microphones(): Promise<{ value: string; says: string }[]> {
  const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
  return devices.filter(({ kind, label }) => kind === "audioinput" && label !== "").map(({ deviceId, label }) => ({ value: deviceId, says: label }));
}

/**
 * Records from a microphone until it is stopped, until it is unplugged, or for half an hour: `onEnd` says why it ended by itself, and
 * what was recorded until then is kept. Fails with why it cannot begin.
 */
export async function record(deviceId: string, onState: (state: RecordingState) => void, onEnd: (why: string) => void): Promise<Recording> {
  if (!navigator.mediaDevices) throw new Error("this browser lets no page use a microphone here: open it as localhost, or over https");
  const stream = await navigator.mediaDevices
    .getUserMedia({ audio: { ...RAW, ...(deviceId ? { deviceId: { exact: deviceId } } : {}) } })
    .catch((error: DOMException) => {
      throw new Error(REASONS[error.name] ?? error.message);
    });
  const context = new AudioContext();
  const letGo = () => {
    for (const track of stream.getTracks()) track.stop();
    void context.close();
  };
  try {
    await context.audioWorklet.addModule(workletUrl);
  } catch (error) {
    letGo();
    throw new Error(`recording could not begin: ${(error as Error).message}`);
  }
  const recorder = new AudioWorkletNode(context, "recorder", { numberOfOutputs: 0 });
  const pieces: Float32Array[] = [];
  let length = 0;
  recorder.port.onmessage = ({ data }: MessageEvent<Float32Array>) => {
    pieces.push(data);
    length += data.length;
    onState({ seconds: length / context.sampleRate, peak: data.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0) });
    if (length > LONGEST_MIN * 60 * context.sampleRate) onEnd(`Half an hour is recorded: that is as long as a take can be.`);
  };
  stream.getAudioTracks()[0]?.addEventListener("ended", () => onEnd("The microphone went away: what was recorded until then is looked at."));
  context.createMediaStreamSource(stream).connect(recorder);
  return {
    stop() {
      recorder.port.onmessage = null;
      letGo();
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
