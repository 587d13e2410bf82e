import { StringSet } from "../acoustics/modal.ts";
import type { Gain, Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { type Outcome, outcomesOf, type PlannedStages } from "../verdict/verdict.ts";
import { Bands } from "./bands.ts";
import { Drive } from "./drive.ts";
import { noiseOf } from "./noise.ts";
import { type Damping, type SoundScore, type StringEvent, scoreOf, type Without } from "./score.ts";
import { SoundingString } from "./sounding-string.ts";

export const SAMPLE_RATE = 44100;

/** Partials that are rendered; the hazards look at the first of them only. */
export const RENDERED_PARTIALS = 24;

/** Amplitude of a full pluck in the output, which leaves room for six strings at once. */
export const HEADROOM = 0.12;

/** How long the last sounds are followed after the passage's end. */
export const TAIL_MS = 1500;

export interface RenderOptions {
  damping: Damping;
  /** This kind of contact fails: what it sounds like without it. */
  without?: Without | undefined;
  /** Only this string is heard. */
  string?: number | undefined;
  gain?: Gain;
  /** From here on, in ms of the passage; what was struck up to `LOOK_BACK_MS` earlier is still heard. */
  fromMs?: number;
  toMs?: number;
  sampleRate?: number;
  /** What happens on the strings, in place of what the plan says. */
  score?: SoundScore | undefined;
}

const LOOK_BACK_MS = 4000;

/** How strongly a finger that pulls off plucks, as an amplitude against a full pluck; from memory, adjustable. */
const PULL_LEVELS = { flick: 0.63, between: 0.4, lift: 0.2 } as const;

/**
 * The passage as sound, rendered piece by piece with bounded memory: the modal model of the
 * hazards with more partials, each touch acting on them by the same formula. The same input gives
 * the same samples.
 */
export class Rendering {
  readonly sampleRate: number;
  /** Samples in all. */
  readonly length: number;
  private readonly strings: SoundingString[];
  private readonly score: SoundScore;
  private readonly next: number[];
  private noises: { at: number; samples: Float32Array }[] = [];
  private readonly drive: Drive;
  private readonly startMs: number;
  private readonly bands = new Bands(BLOCK);
  /** The block that is being given out, and how much of it was. */
  private ready: Float64Array = new Float64Array(0);
  private given = 0;
  /** Samples in the blocks so far. */
  private done = 0;

  constructor(passage: Passage, planned: PlannedStages, options: RenderOptions, outcomes: readonly Outcome[] = outcomesOf(planned)) {
    const settings = settingsOf(passage);
    const { damping, without, string, fromMs = 0, toMs = planned.timeline.endMs + TAIL_MS, sampleRate = SAMPLE_RATE } = options;
    this.sampleRate = sampleRate;
    const set = new StringSet(passage.instrument, RENDERED_PARTIALS);
    const pullLevel = PULL_LEVELS[settings.pullOff];
    this.strings = passage.instrument.tuning.map((_, s) => new SoundingString(s + 1, set, sampleRate, pullLevel));
    const whole = options.score ?? scoreOf(planned, outcomes, set, settings, damping, without);
    this.score = whole.map((list, s) => (string === undefined || string === s + 1 ? list : []));
    this.next = this.score.map(() => 0);
    this.drive = new Drive(options.gain ?? settings.gain, BLOCK);
    this.startMs = Math.max(0, fromMs - LOOK_BACK_MS);
    this.length = Math.max(0, Math.round(((toMs - this.startMs) * sampleRate) / 1000));
    this.score.forEach((list, s) => {
      while (list[this.next[s]!] && list[this.next[s]!]!.ms < this.startMs) this.next[s]!++;
    });
    // What is struck before `fromMs` is worked out and left away.
    const early = Math.round(((fromMs - this.startMs) * sampleRate) / 1000);
    for (let left = early; left > 0; left -= CHUNK) this.take(Math.min(left, CHUNK));
  }

  /** The next samples, `count` at most; null when the end is reached. */
  take(count: number): Float32Array | null {
    const frames = Math.min(count, this.length - (this.done - this.ready.length + this.given));
    if (frames <= 0) return null;
    const samples = new Float32Array(frames);
    for (let at = 0; at < frames; ) {
      if (this.given === this.ready.length) {
        this.ready = this.block();
        this.given = 0;
      }
      const piece = this.ready.subarray(this.given, this.given + frames - at);
      samples.set(piece, at);
      at += piece.length;
      this.given += piece.length;
    }
    return samples;
  }

  /** The next block; the array is used again for the one after it. */
  private block(): Float64Array {
    const { bands } = this;
    this.strings.forEach((string, s) => {
      let at = 0;
      for (let event = this.dueBefore(s, BLOCK); event; event = this.dueBefore(s, BLOCK)) {
        const due = Math.max(at, this.sampleOf(event.ms) - this.done);
        string.render(bands, at, due, this.done, this.startMs);
        at = due;
        string.take(event);
        if (event.kind === "pluck" && event.noise)
          this.noises.push({ at: this.done + due, samples: noiseOf(event.noise, NOISE_SEEDS * s + this.next[s]!, this.sampleRate) });
      }
      string.render(bands, at, BLOCK, this.done, this.startMs);
    });
    this.addNoises(bands.of[0]);
    const mix = bands.taken();
    for (let i = 0; i < mix.length; i++) mix[i]! *= HEADROOM;
    this.drive.process(mix);
    for (let i = 0; i < mix.length; i++) mix[i] = limited(mix[i]!);
    this.done += mix.length;
    return mix;
  }

  /** The string's next event if it falls into the coming samples. */
  private dueBefore(s: number, frames: number): StringEvent | null {
    const event = this.score[s]![this.next[s]!];
    if (!event || this.sampleOf(event.ms) - this.done >= frames) return null;
    this.next[s]!++;
    return event;
  }

  private sampleOf(ms: number): number {
    return Math.round(((ms - this.startMs) * this.sampleRate) / 1000);
  }

  private addNoises(mix: Float64Array): void {
    for (const { at, samples } of this.noises) {
      const from = at - this.done;
      for (let i = Math.max(0, -from); i < samples.length && from + i < mix.length; i++) mix[from + i]! += samples[i]!;
    }
    const end = this.done + mix.length;
    this.noises = this.noises.filter(({ at, samples }) => at + samples.length > end);
  }
}

const CHUNK = 16384;

/** Samples worked out together: every partial of every string goes over them, so that they should fit the processor's nearest memory. */
const BLOCK = 2048;

/** Every stroke has a noise of its own, whichever order they are rendered in. */
const NOISE_SEEDS = 1 << 20;

const KNEE = 0.7;

/** Leaves everything under the knee as it is and bends what is over it, so that it never reaches 1. */
function limited(x: number): number {
  const size = Math.abs(x);
  if (size <= KNEE) return x;
  return Math.sign(x) * (KNEE + (1 - KNEE) * Math.tanh((size - KNEE) / (1 - KNEE)));
}
