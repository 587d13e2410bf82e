import { fretFromNutMm } from "../music/neck.ts";
import { frequencyOf } from "../music/pitch.ts";
import type { Instrument } from "../passage/schema.ts";
import { openLengthMm, openPitches } from "../passage/settings.ts";
import { PARTIALS, PLUCK_SHARE, REFERENCE_MASS, RIGS, type Rig } from "./constants.ts";
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
  /** Weighted amplitudes just after an ideal pluck of unit strength. */
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

  constructor(instrument: Instrument) {
    this.rig = RIGS[instrument.kind];
    this.openLengthMm = openLengthMm(instrument);
    this.open = openPitches(instrument);
    this.count = this.open.length;
  }

  /** The string (from 1) pressed at a fret counted from nut or capo. */
  live(string: number, fret: number): LiveString {
    const key = string * 64 + fret;
    const known = this.cache.get(key);
    if (known) return known;
    const made = this.make(string, fret);
    this.cache.set(key, made);
    return made;
  }

  pitch(string: number, fret: number): number {
    return this.open[string - 1]! + fret;
  }

  private make(string: number, fret: number): LiveString {
    const { rig } = this;
    const openHz = frequencyOf(this.open[string - 1]!);
    const f0 = frequencyOf(this.pitch(string, fret));
    const lengthMm = this.openLengthMm * 2 ** (-fret / 12);
    // Mersenne: T = μ (2 L f0)².
    const massKgPerM = rig.tensionN / (2 * (this.openLengthMm / 1000) * openHz) ** 2;
    // Fletcher's B grows with 1/ℓ².
    const stiffness = rig.stiffness * (this.openLengthMm / lengthMm) ** 2;
    const pluckShare = Math.min(0.5, (PLUCK_SHARE * this.openLengthMm) / lengthMm);
    const frequencies = new Float64Array(PARTIALS);
    const decays = new Float64Array(PARTIALS);
    const loudness = new Float64Array(PARTIALS);
    for (let i = 0; i < PARTIALS; i++) {
      const n = i + 1;
      const f = n * f0 * Math.sqrt(1 + stiffness * n * n);
      frequencies[i] = f;
      decays[i] = rig.decayBase + rig.decayPerKHz * (f / 1000);
      loudness[i] = (Math.abs(Math.sin(n * Math.PI * pluckShare)) / n) * weightingGain(rig.weighting, f);
    }
    return { lengthMm, fromNutMm: fretFromNutMm(this.openLengthMm, fret), massKgPerM, frequencies, decays, loudness };
  }
}

/**
 * Extra decay of partial n from a touch: Δσ = (r/ℓ) ∫ sin²(nπx/ℓ) dx over the part of the patch
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

/** Loudness in dB of a string `ms` after it was struck, with touches on it from the start. */
export function struckLoudnessDb(string: LiveString, touches: readonly Touch[], ms: number): number {
  let power = 0;
  for (let i = 0; i < PARTIALS; i++) {
    let decay = string.decays[i]!;
    for (const touch of touches) decay += touchDecay(string, touch, i + 1);
    const amplitude = string.loudness[i]! * Math.exp((-decay * ms) / 1000);
    power += amplitude * amplitude;
  }
  return dbOf(Math.sqrt(power));
}
