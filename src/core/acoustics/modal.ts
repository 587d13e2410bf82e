import { knownIn } from "../caching/known.ts";
import { fretFromNutMm } from "../music/neck.ts";
import { frequencyOf } from "../music/pitch.ts";
import type { Instrument } from "../passage/schema.ts";
import { openLengthMm, openPitches } from "../passage/settings.ts";
import { MOST_TAKEN, PARTIALS, PLAIN_HZ, PLUCK_SHARE, REFERENCE_MASS, RIGS, type Rig } from "./constants.ts";
import { dbOf, weightingGain } from "./weighting.ts";

/** One string as it vibrates now: from its pressed fret (or nut) to the bridge. */
export interface LiveString {
  /** Live length in mm and distance of its far end from the nut or capo. */
  lengthMm: number;
  fromNutMm: number;
  massKgPerM: number;
  frequencies: Float64Array;
  /** Amplitude decay rates in 1/s, nothing touching. */
  decays: Float64Array;
  /** Amplitudes just after an ideal pluck of unit strength, and the same weighted. */
  amplitudes: Float64Array;
  loudness: Float64Array;
}

/** A contact on a string, in mm from the nut or capo. `rate` holds for the reference mass. */
export interface Touch {
  fromMm: number;
  toMm: number;
  rate: number;
}

/** The strings of an instrument; live strings are made once per string and fret. */
export class StringSet {
  readonly rig: Rig;
  readonly openLengthMm: number;
  readonly count: number;
  private readonly open: readonly number[];
  private readonly cache = new Map<number, LiveString>();

  /** The hazards look at fewer partials than a listener hears. */
  constructor(
    instrument: Instrument,
    private readonly partials = PARTIALS,
  ) {
    this.rig = RIGS[instrument.kind];
    this.openLengthMm = openLengthMm(instrument);
    this.open = openPitches(instrument);
    this.count = this.open.length;
  }

  /** The string (from 1) pressed at a fret counted from nut or capo. */
  live(string: number, fret: number): LiveString {
    return knownIn(this.cache, string * 64 + fret, () => this.make(string, fret));
  }

  pitch(string: number, fret: number): number {
    return this.open[string - 1]! + fret;
  }

  private make(string: number, fret: number): LiveString {
    const { rig, partials } = this;
    const openHz = frequencyOf(this.open[string - 1]!);
    const f0 = frequencyOf(this.pitch(string, fret));
    const lengthMm = this.openLengthMm * 2 ** (-fret / 12);
    // Mersenne: T = μ (2 L f0)².
    const massKgPerM = rig.tensionN / (2 * (this.openLengthMm / 1000) * openHz) ** 2;
    // Fletcher's B grows with the diameter to the fourth, so for plain strings at one tension with the pitch falling; wound ones bend at their core. It grows with 1/ℓ².
    const openStiffness = Math.min(rig.stiffness, rig.plainStiffness * (PLAIN_HZ / openHz) ** 4);
    const stiffness = openStiffness * (this.openLengthMm / lengthMm) ** 2;
    const pluckShare = Math.min(0.5, (PLUCK_SHARE * this.openLengthMm) / lengthMm);
    const frequencies = new Float64Array(partials);
    const decays = new Float64Array(partials);
    const amplitudes = new Float64Array(partials);
    const loudness = new Float64Array(partials);
    for (let i = 0; i < partials; i++) {
      const n = i + 1;
      const f = n * f0 * Math.sqrt(1 + stiffness * n * n);
      frequencies[i] = f;
      decays[i] = rig.decayBase + rig.decayPerKHz * (f / 1000);
      amplitudes[i] = Math.abs(Math.sin(n * Math.PI * pluckShare)) / n;
      loudness[i] = amplitudes[i]! * weightingGain(rig.weighting, f);
    }
    return { lengthMm, fromNutMm: fretFromNutMm(this.openLengthMm, fret), massKgPerM, frequencies, decays, amplitudes, loudness };
  }
}

/**
 * Extra decay of partial n from a touch: Δσ = (r/ℓ) ∫ sin²(nπx/ℓ) dx over the part of the area
 * on the live side (first-order perturbation of a local viscous damper); heavy strings less.
 */
export function touchDecay(string: LiveString, touch: Touch, n: number): number {
  const from = Math.max(0, touch.fromMm - string.fromNutMm);
  const to = Math.min(string.lengthMm, touch.toMm - string.fromNutMm);
  if (to <= from) return 0;
  const k = (2 * n * Math.PI) / string.lengthMm;
  const integral = (to - from) / 2 - (Math.sin(k * to) - Math.sin(k * from)) / (2 * k);
  const rate = touch.rate * Math.sqrt(REFERENCE_MASS / Math.max(string.massKgPerM, REFERENCE_MASS));
  return (rate * integral) / string.lengthMm;
}

/** Decay of partial n with touches on the string, in 1/s: they add up, but no touch takes more than a wave brings. */
export function touchedDecay(string: LiveString, touches: readonly Touch[], n: number): number {
  let added = 0;
  for (const touch of touches) added += touchDecay(string, touch, n);
  return string.decays[n - 1]! + Math.min(added, MOST_TAKEN * string.frequencies[0]!);
}

/** Softer than the square of an amplitude can be written: what dies away so fast that nothing is left of it. */
const SILENCE_DB = -3300;

/** Loudness in dB of a string `ms` after it was struck, with touches on it from the start. */
export function struckLoudnessDb(string: LiveString, touches: readonly Touch[], ms: number): number {
  let power = 0;
  for (let i = 0; i < string.frequencies.length; i++) {
    const decay = touchedDecay(string, touches, i + 1);
    const amplitude = string.loudness[i]! * Math.exp((-decay * ms) / 1000);
    power += amplitude * amplitude;
  }
  return Math.max(SILENCE_DB, dbOf(Math.sqrt(power)));
}
