import { StringSet } from "../acoustics/modal.ts";
import { knownIn } from "../caching/known.ts";
import type { Passage } from "../passage/schema.ts";
import { type Source, sharesOf, type Template } from "./mixture.ts";
import { RATE, Spectrogram } from "./spectrum.ts";
import { type Column, standardErrors } from "./standard-errors.ts";
import type { Voice } from "./voices.ts";

/*
 * How loud each string is over time: a spectrum is taken for the sum of what strings can sound at (partials of the string model, their
 * strengths learnt from the take; `mixture.ts`). Whether a string can be told from all others is the standard error of its share.
 */

/** Windows, the longest first: as long as fits between two strokes. */
const SIZES = [4096, 2048] as const;
const HOP = 256;
const PARTIALS = 20;
/** Partials beyond it tell nothing, in Hz. */
const HIGHEST_HZ = 4500;
const LOWEST_HZ = 30;
/** Half width of a partial's peak, in bins: a Hann window's main lobe and a little. */
const LOBE = 2;
const ROUNDS = 24;
const LEARNING_ROUNDS = 12;
/** So many notes of a string say what it is like. */
const LEARNT_NOTES = 10;
/** What the other strings say of one counts as much as so many notes of its own. */
const LIKE_OTHERS = 2;
/** How well the strength of a partial is known, as a share of it. */
const UNKNOWN = 1;
/** A source whose amplitude is known so well can be told; and one that is so many times over its error. */
const TOLD = 0.1;
const SURE = 4;
/** Closer than that two strings are at one pitch. */
const SAME_SEMITONES = 0.3;
/** As an amplitude against a full pluck: less than that rings on no string. */
const LITTLE = 0.15;
/** What is over goes on so long at most, damped as it should be. */
const TAIL_MS = 160;
/** Under it a string is as good as silent. */
const SILENT_DB = -24;
/** An old sound has lost its high partials: as after so many ms. */
const AGED_MS = 700;

/** Where a bent string may be, in semitones over its fret. */
const BENT = [0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75, 2] as const;

/** A voice in the take: its times are of the take. */
export type Heard = Voice & { heardFrom: number; heardTo: number };

/** How loud strings are at one moment. */
export interface Moment {
  ms: number;
  /** By string: the loudest of what it can sound at, in dB against a full pluck; null where it cannot be told. */
  db: (number | null)[];
}

export class Levels {
  private readonly spectrograms: readonly Spectrogram[];
  private spectrogram: Spectrogram;
  private readonly strings: StringSet;
  /** By string: strength of each partial of a full pluck. */
  private readonly full: Float64Array[];
  private readonly templates = new Map<string, Template>();
  private get bins(): number {
    return this.spectrogram.bins;
  }

  constructor(
    samples: Float32Array,
    private readonly passage: Passage,
    private readonly voices: readonly Heard[],
  ) {
    this.spectrograms = SIZES.map((size) => new Spectrogram(samples, size, HOP, Math.ceil((HIGHEST_HZ * size) / RATE) + LOBE + 1));
    this.spectrogram = this.spectrograms[1]!;
    this.strings = new StringSet(passage.instrument, PARTIALS);
    this.full = passage.instrument.tuning.map((_, s) => Float64Array.from(this.strings.live(s + 1, 0).amplitudes));
    this.learn();
  }

  /** Looks through the longest window that fits between two changes, in ms; says how long it is. */
  fit(gapMs: number): number {
    this.spectrogram = this.spectrograms.find(({ size }) => (1000 * size) / RATE <= 0.8 * gapMs) ?? this.spectrograms.at(-1)!;
    return this.windowMs;
  }

  get windowMs(): number {
    return (1000 * this.spectrogram.size) / RATE;
  }

  /** Every source that may sound at a moment: notes that are on or just over, and what is asked about. */
  private sourcesAt(ms: number, asked: readonly Source[]): Source[] {
    const half = this.windowMs / 2;
    const found = new Map<string, Source>();
    const add = (source: Source) => found.set(`${source.string} ${source.fret} ${source.partial}`, source);
    for (const one of this.voices) {
      if (one.heardFrom - 0.8 * half >= ms || ms >= one.heardTo + TAIL_MS) continue;
      add(one);
      if (one.isBent) for (const up of BENT) add({ ...one, fret: one.fret + up });
    }
    for (const one of asked) add(one);
    return [...found.values()];
  }

  /** The template of a source as it was learnt: the same ones are asked for again and again. */
  private learnt(source: Source, aged: boolean): Template {
    return knownIn(this.templates, `${this.spectrogram.size} ${source.string} ${source.fret} ${source.partial} ${aged}`, () => this.template(source, aged));
  }

  private template(source: Source, aged: boolean): Template {
    const live = this.strings.live(source.string, source.fret);
    const full = this.full[source.string - 1]!;
    const { binHz } = this.spectrogram;
    const bins: number[] = [];
    const values: number[] = [];
    const of: number[] = [];
    let sum = 0;
    for (let k = 0; k < PARTIALS; k++) {
      if ((k + 1) % source.partial !== 0) continue;
      const hz = live.frequencies[k]!;
      if (hz > HIGHEST_HZ || hz < LOWEST_HZ) continue;
      const strength = full[k]! * (aged ? Math.exp((-(live.decays[k]! - live.decays[0]!) * AGED_MS) / 1000) : 1);
      const middle = hz / binHz;
      for (let bin = Math.max(1, Math.ceil(middle - LOBE)); bin <= Math.min(this.bins - 1, Math.floor(middle + LOBE)); bin++) {
        const value = strength * lobe(bin - middle);
        bins.push(bin);
        values.push(value);
        of.push(k);
        sum += value;
      }
    }
    return {
      source,
      bins: Int32Array.from(bins),
      within: Int32Array.from(new Set(bins)),
      values: Float64Array.from(values),
      of: Int8Array.from(of),
      sum: Math.max(sum, 1e-12),
    };
  }

  /** Learns how strong each partial of a full pluck is, string by string, from the notes of the take. */
  private learn(): void {
    const plain = this.voices.filter((voice) => !voice.isDull && voice.isPlucked && !voice.isBent && voice.heardTo - voice.heardFrom > 0.8 * this.windowMs);
    const notes = this.full.flatMap((_, s) => {
      const own = plain.filter(({ string }) => string === s + 1);
      const every = Math.max(1, own.length / LEARNT_NOTES);
      return own.filter((_, i) => Math.floor(i / every) !== Math.floor((i - 1) / every));
    });
    const frames = notes.map((voice) => this.spectrogram.frameAt(voice.heardFrom + this.windowMs / 2 + 15));
    const scale =
      median(
        notes.map(
          (voice, i) => this.spectrogram.peak(frames[i]!, this.strings.live(voice.string, voice.fret).frequencies[1]!) / this.full[voice.string - 1]![1]!,
        ),
      ) ?? 0.05;
    for (const full of this.full) for (let k = 0; k < full.length; k++) full[k]! *= scale;
    for (let round = 0; round < LEARNING_ROUNDS; round++) {
      const ups = this.full.map(() => new Float64Array(PARTIALS));
      const downs = this.full.map(() => new Float64Array(PARTIALS));
      for (const [n, frame] of frames.entries()) {
        const ms = this.spectrogram.msOf(frame);
        const templates = this.sourcesAt(ms, []).map((source) => this.template(source, false));
        const { shares, model } = sharesOf(this.spectrogram.at(frame), this.bins, templates, 9);
        const seen = this.spectrogram.at(frame);
        const voice = notes[n]!;
        const at = templates.findIndex(({ source }) => source.string === voice.string && source.fret === voice.fret);
        if (at < 0) continue;
        const { bins, values, of } = templates[at]!;
        for (let i = 0; i < bins.length; i++) {
          const k = of[i]!;
          const lobed = values[i]! * shares[at]!;
          ups[voice.string - 1]![k]! += (lobed * seen[bins[i]!]!) / model[bins[i]!]!;
          downs[voice.string - 1]![k]! += lobed;
        }
      }
      for (const [s, full] of this.full.entries())
        for (let k = 0; k < PARTIALS; k++) if (downs[s]![k]! > 0) full[k]! *= Math.min(3, Math.max(0.33, ups[s]![k]! / downs[s]![k]!));
    }
    this.shrink(notes);
    // One full pluck is what its notes are in the middle.
    const own = this.full.map(() => [] as number[]);
    for (const [n, frame] of frames.entries()) {
      const templates = this.sourcesAt(this.spectrogram.msOf(frame), []).map((source) => this.template(source, false));
      const { shares } = sharesOf(this.spectrogram.at(frame), this.bins, templates, ROUNDS);
      const voice = notes[n]!;
      const at = templates.findIndex(({ source }) => source.string === voice.string && source.fret === voice.fret);
      if (at >= 0) own[voice.string - 1]!.push(shares[at]!);
    }
    const usual = median(own.flat()) ?? 1;
    for (const [s, full] of this.full.entries()) {
      const by = own[s]!.length >= 2 ? median(own[s]!)! : usual;
      for (let k = 0; k < PARTIALS; k++) full[k]! *= by;
    }
  }

  /** Few notes of a string say little of it: the less there are, the more it is taken for a string like the others. */
  private shrink(notes: readonly Heard[]): void {
    const models = this.full.map((_, s) => this.strings.live(s + 1, 0).amplitudes);
    const many = this.full.map((_, s) => notes.filter(({ string }) => string === s + 1).length);
    for (let k = 0; k < PARTIALS; k++) {
      const ratios = this.full.map((full, s) => Math.log(Math.max(1e-6, full[k]! / Math.max(1e-3, models[s]![k]!))));
      const weight = many.reduce((sum, n) => sum + n, 0);
      const usual = weight === 0 ? 0 : ratios.reduce((sum, ratio, s) => sum + ratio * many[s]!, 0) / weight;
      for (const [s, full] of this.full.entries())
        full[k] = Math.max(1e-3, models[s]![k]!) * Math.exp((ratios[s]! * many[s]! + usual * LIKE_OTHERS) / (many[s]! + LIKE_OTHERS));
    }
  }

  /** Levels at a moment of what is asked about, beside the notes that are on. */
  at(ms: number, asked: readonly Source[]): Moment {
    const frame = this.spectrogram.frameAt(ms);
    const sources = this.sourcesAt(ms, asked);
    const templates = sources.flatMap((source) => [this.learnt(source, false), this.learnt(source, true)]);
    const { shares, model } = sharesOf(this.spectrogram.at(frame), this.bins, templates, ROUNDS);
    const errors = this.errors(frame, sources.length, templates, shares, model);
    const db = this.passage.instrument.tuning.map((_, s): number | null => {
      let most: number | null = null;
      let isUntold = false;
      for (const [j, source] of sources.entries()) {
        if (source.string !== s + 1) continue;
        // An old sound is told by its low partials: as much as a fresh one with the same ones.
        const amplitude = shares[2 * j]! + shares[2 * j + 1]!;
        const doubles = sources.flatMap((other, k) => (this.isDoubled(source, other) ? [k] : []));
        // Where all that sounds at its pitch is little, so is its part of it.
        const all = doubles.reduce((sum, k) => sum + shares[2 * k]! + shares[2 * k + 1]!, amplitude);
        if (doubles.length > 0 ? all > LITTLE : errors[j]! > TOLD && amplitude < SURE * errors[j]!) {
          isUntold = true;
          continue;
        }
        const level = 20 * Math.log10(amplitude + 1e-9);
        most = Math.max(most ?? level, level);
      }
      // What can be told of it is silent, and what it would ring at cannot be told.
      return isUntold && (most ?? SILENT_DB) <= SILENT_DB ? null : most;
    });
    return { ms, db };
  }

  /** Two strings at one pitch. */
  private isDoubled(a: Source, b: Source): boolean {
    return a.string !== b.string && Math.abs(12 * Math.log2(this.hzOf(a) / this.hzOf(b))) < SAME_SEMITONES;
  }

  private hzOf({ string, fret, partial }: Source): number {
    return this.strings.live(string, fret).frequencies[partial - 1]!;
  }

  /**
   * How far off each source may be, as an amplitude against a full pluck: the standard error of a least-squares fit whose weights say
   * how well each bin is known, by the noise and by what else is in it. Two strings at one pitch are off by anything.
   */
  private errors(frame: number, many: number, templates: readonly Template[], shares: Float64Array, model: Float64Array): Float64Array {
    const seen = this.spectrogram.at(frame);
    const bins = this.bins;
    const apart = new Float64Array(bins - 1);
    for (let bin = 1; bin < bins; bin++) apart[bin - 1] = Math.abs(seen[bin]! - model[bin]!);
    const floor = Math.max(1e-7, middleOf(apart.sort()));
    const weights = new Float64Array(bins);
    for (let bin = 0; bin < bins; bin++) weights[bin] = 1 / (floor * floor + (UNKNOWN * model[bin]!) ** 2);
    const columns = Array.from({ length: many }, (_, j): Column => {
      const column = new Float64Array(bins);
      const [fresh, aged] = [shares[2 * j]!, shares[2 * j + 1]!];
      const share = fresh + aged > 1e-9 ? fresh / (fresh + aged) : 1;
      for (const [t, part] of [
        [templates[2 * j]!, share],
        [templates[2 * j + 1]!, 1 - share],
      ] as const)
        for (let i = 0; i < t.bins.length; i++) column[t.bins[i]!]! += part * t.values[i]!;
      // Both templates lie in the same bins.
      return { values: column, bins: templates[2 * j]!.within };
    });
    return standardErrors(columns, weights);
  }
}

/** A Hann window's spectrum beside its middle, in bins (the magnitude of a sine between two bins). */
function lobe(x: number): number {
  if (Math.abs(x) < 1e-6) return 1;
  if (Math.abs(Math.abs(x) - 1) < 1e-6) return 0.5;
  return Math.abs(Math.sin(Math.PI * x) / (Math.PI * x * (1 - x * x)));
}

export function median(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  return middleOf([...values].sort((a, b) => a - b));
}

function middleOf(sorted: ArrayLike<number>): number {
  return sorted[Math.floor((sorted.length - 1) / 2)]!;
}
