import type { Remote } from "comlink";
import { LONGEST_MIN } from "../../core/sound/wav-read.ts";
import type { Jobs, Samples } from "../jobs/jobs.ts";

/** Larger files are no takes: half an hour of two channels in 32 bits, and a little. */
const LARGEST_BYTES = 1_000_000_000;

/** The sound of a file: WAV by our own reader, whatever else this browser reads by the browser. Fails with what is wrong with it. */
export async function openSound(file: File, jobs: Remote<Jobs>): Promise<Samples> {
  if (file.size > LARGEST_BYTES) throw new Error(`it is larger than half an hour of sound (${Math.round(file.size / 1e6)} MB)`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  const isWav = String.fromCharCode(...bytes.subarray(0, 4)) === "RIFF";
  const sound = isWav ? await read(bytes, jobs) : await decoded(bytes);
  const minutes = sound.samples.length / sound.sampleRate / 60;
  if (minutes > LONGEST_MIN) throw new Error(`it is ${Math.round(minutes)} minutes long: ${LONGEST_MIN} at most are looked at`);
  return sound;
}

async function read(bytes: Uint8Array, jobs: Remote<Jobs>): Promise<Samples> {
  const found = await jobs.readSound(bytes);
  if (!found.ok) throw new Error(found.faults.map(({ place, says }) => `${place}: ${says}`).join("; "));
  return found.value;
}

async function decoded(bytes: Uint8Array): Promise<Samples> {
  const context = new OfflineAudioContext(1, 1, 44_100);
  const buffer = await context.decodeAudioData(bytes.buffer as ArrayBuffer).catch(() => {
    throw new Error("this browser reads no sound in it");
  });
  const samples = new Float32Array(buffer.length);
  for (let channel = 0; channel < buffer.numberOfChannels; channel++) {
    const own = buffer.getChannelData(channel);
    for (let i = 0; i < samples.length; i++) samples[i]! += own[i]! / buffer.numberOfChannels;
  }
  return { samples, sampleRate: buffer.sampleRate };
}
