import { type LiveString, type StringSet, type Touch, touchedDecay } from "../acoustics/modal.ts";
import { answersOf } from "../acoustics/sympathy.ts";
import { weightingGain } from "../acoustics/weighting.ts";
import type { Bands } from "./bands.ts";
import { Modes } from "./modes.ts";
import type { StringEvent } from "./score.ts";

/** What a pick or another stroke stops dies within a few milliseconds. */
const STOPPED_DECAY = 1500;

/** Pitch moves in steps of this many samples. */
const GLIDE_BLOCK = 64;

const VIBRATO_HZ = 5.5;
const VIBRATO_SEMITONES = 0.22;
const VIBRATO_AFTER_MS = 180;
const VIBRATO_GROWS_MS = 250;

/** A bend of four semitones with vibrato on it, as a ratio. */
const BENT = 2 ** (4.5 / 12);

interface Glide {
  startMs: number;
  fromSemitones: number;
  toSemitones: number;
  ms: number;
}

/** One string as it sounds: the modes it vibrates in now, and those that were just stopped. */
export class SoundingString {
  private live: LiveString;
  private modes: Modes;
  private dying: Modes[] = [];
  private touches: readonly Touch[] = [];
  private glide: Glide | null = null;
  private vibratoFromMs: number | null = null;

  constructor(
    private readonly string: number,
    private readonly strings: StringSet,
    private readonly sampleRate: number,
    /** How loud a pull-off makes its note, against a full pluck. */
    private readonly pullLevel: number,
  ) {
    this.live = strings.live(string, 0);
    this.modes = this.modesFor(this.live);
  }

  take(event: StringEvent): void {
    switch (event.kind) {
      case "touch":
        this.touches = event.touches;
        this.modes.decays = this.decays(this.live);
        return;
      case "pluck":
        this.stop();
        this.begin(event.fret);
        this.modes.strike(event.partial === 1 ? this.live.amplitudes : onlyEvery(event.partial, this.live.amplitudes), event.level);
        return;
      case "change": {
        const was = this.live;
        const left = this.modes.amplitudes();
        this.stop();
        const away = was.frequencies[0]! / this.strings.live(this.string, event.fret).frequencies[0]!;
        this.begin(event.fret, event.glideMs > 0 ? away : 1);
        this.modes.strike(left, 1);
        this.modes.strike(this.live.amplitudes, event.level === "pull" ? this.pullLevel : event.level);
        if (event.glideMs > 0) this.glide = { startMs: event.ms, fromSemitones: 12 * Math.log2(away), toSemitones: 0, ms: event.glideMs };
        return;
      }
      case "leave": {
        const left = this.modes.amplitudes();
        this.stop();
        this.begin(0);
        this.modes.strike(left, event.keeps);
        if (event.level > 0) this.modes.strike(this.live.amplitudes, event.level);
        return;
      }
      case "shake":
        this.modes.strike(this.live.amplitudes, event.level);
        return;
      case "answer":
        this.modes.strike(this.answerTo(event.to), 1);
        return;
      case "bend":
        this.glide = { startMs: event.ms, fromSemitones: event.from, toSemitones: event.to, ms: event.riseMs };
        return;
      case "vibrato":
        this.vibratoFromMs = event.ms + VIBRATO_AFTER_MS;
    }
  }

  /** Adds samples `from` to `to` of `out`, whose first is sample `first` of the whole, a multiple of four, at `startMs` + its time. */
  render(out: Bands, from: number, to: number, first: number, startMs: number): void {
    for (const modes of this.dying) modes.render(out, from, to);
    this.dying = this.dying.filter((modes) => !modes.isSilent);
    if (this.glide === null && this.vibratoFromMs === null) {
      this.modes.render(out, from, to);
      return;
    }
    // Blocks lie on a grid of the whole, so that it does not matter in which pieces it is rendered.
    for (let at = from; at < to; ) {
      const block = Math.floor((first + at) / GLIDE_BLOCK) * GLIDE_BLOCK;
      const end = Math.min(to, block + GLIDE_BLOCK - first);
      this.modes.render(out, at, end, 2 ** (this.semitonesAt(startMs + (block * 1000) / this.sampleRate) / 12));
      at = end;
    }
  }

  private semitonesAt(ms: number): number {
    let semitones = 0;
    if (this.glide) {
      const { startMs, fromSemitones, toSemitones, ms: length } = this.glide;
      const share = Math.min(1, Math.max(0, (ms - startMs) / length));
      semitones += fromSemitones + (toSemitones - fromSemitones) * share * share * (3 - 2 * share);
    }
    if (this.vibratoFromMs !== null && ms > this.vibratoFromMs) {
      const since = ms - this.vibratoFromMs;
      semitones += VIBRATO_SEMITONES * Math.min(1, since / VIBRATO_GROWS_MS) * Math.sin((2 * Math.PI * VIBRATO_HZ * since) / 1000);
    }
    return semitones;
  }

  private stop(): void {
    this.glide = null;
    this.vibratoFromMs = null;
    if (this.modes.isSilent) return;
    this.modes.decays = new Float64Array(this.live.frequencies.length).fill(STOPPED_DECAY);
    this.dying.push(this.modes);
  }

  /** `slidFrom`: pitch that it comes from, as a ratio of the new one. */
  private begin(fret: number, slidFrom = 1): void {
    this.live = this.strings.live(this.string, fret);
    this.modes = this.modesFor(this.live, slidFrom);
  }

  private modesFor(live: LiveString, slidFrom = 1): Modes {
    return new Modes(live.frequencies, this.decays(live), this.sampleRate, Math.max(1, slidFrom) * BENT);
  }

  private decays(live: LiveString): Float64Array {
    return live.decays.map((_, i) => touchedDecay(live, this.touches, i + 1));
  }

  private answerTo({ string, fret }: { string: number; fret: number }): Float64Array {
    const { rig } = this.strings;
    const gets = answersOf(this.live, this.strings.live(string, fret), rig.coupling);
    // A string that loses more answers less: resonance builds up until it loses as much as it gets.
    return gets.map((loudness, n) => ((loudness / weightingGain(rig.weighting, this.live.frequencies[n]!)) * this.live.decays[n]!) / this.modes.decays[n]!);
  }
}

/** A string touched at the node of a partial while it is struck keeps that one and its multiples. */
function onlyEvery(partial: number, amplitudes: Float64Array): Float64Array {
  return amplitudes.map((amplitude, i) => ((i + 1) % partial === 0 ? amplitude : 0));
}
