import type { InstrumentKind } from "../music/instruments.ts";
import type { Gain } from "../passage/schema.ts";

/**
 * Constants of the string model that no published source fixes. All from memory, adjustable;
 * chosen so that the model agrees with common practice (see docs/decisions.md).
 */

export interface Rig {
  /** Own decay of a partial's amplitude: base + perKHz · f, in 1/s. */
  decayBase: number;
  decayPerKHz: number;
  /** Largest share of a partial's amplitude that the bridge hands to a coinciding partial. */
  coupling: number;
  /** Level of every untouched string after an ordinary stroke, in dB below the stroke. */
  joltDb: number;
  /** String tension in N; with pitch and length it gives the mass (Mersenne). */
  tensionN: number;
  /** Inharmonicity of the open strings, Fletcher's B: of a plain one tuned to `PLAIN_HZ`, and the most a wound one has. */
  plainStiffness: number;
  stiffness: number;
  weighting: "A" | "C";
  /** The heel at the bridge by pressure and depth: light for an accent that stays under it, medium for a muted tone, choked to silence. */
  palm: Readonly<Record<PalmGrade, PalmKind>>;
}

export const PALM_GRADES = ["light", "medium", "choked"] as const;
export type PalmGrade = (typeof PALM_GRADES)[number];

/** The heel of the picking hand: damping rate in 1/s for the reference mass, over an area measured from the bridge. */
export interface PalmKind {
  rate: number;
  fromBridgeMm: number;
  toBridgeMm: number;
}

const palm = (rate: number, fromBridgeMm: number, toBridgeMm: number): PalmKind => ({ rate, fromBridgeMm, toBridgeMm });

export const RIGS: Readonly<Record<InstrumentKind, Rig>> = {
  "electric-guitar": {
    decayBase: 0.7,
    decayPerKHz: 0.6,
    coupling: 0.09,
    joltDb: -38,
    tensionN: 75,
    plainStiffness: 1e-5,
    stiffness: 6e-5,
    weighting: "A",
    palm: { light: palm(6000, 6, 32), medium: palm(15000, 6, 36), choked: palm(80000, 8, 50) },
  },
  "acoustic-guitar": {
    decayBase: 0.9,
    decayPerKHz: 1.0,
    coupling: 0.14,
    joltDb: -38,
    tensionN: 110,
    plainStiffness: 1.5e-5,
    stiffness: 8e-5,
    weighting: "A",
    palm: { light: palm(6000, 6, 34), medium: palm(15000, 6, 38), choked: palm(80000, 8, 50) },
  },
  "nylon-guitar": {
    decayBase: 1.1,
    decayPerKHz: 1.5,
    coupling: 0.12,
    joltDb: -38,
    tensionN: 65,
    plainStiffness: 0.8e-5,
    stiffness: 2e-5,
    weighting: "A",
    palm: { light: palm(7800, 6, 34), medium: palm(19500, 6, 38), choked: palm(80000, 8, 50) },
  },
  "electric-bass": {
    decayBase: 0.6,
    decayPerKHz: 0.9,
    coupling: 0.2,
    joltDb: -19,
    tensionN: 180,
    plainStiffness: 1e-5,
    stiffness: 4e-5,
    weighting: "C",
    palm: { light: palm(10000, 8, 62), medium: palm(25000, 8, 66), choked: palm(80000, 10, 85) },
  },
};

/** E4, a guitar's first string. */
export const PLAIN_HZ = 329.63;

/** Half width of the resonance between two partials: Hz + share of the frequency. */
export const COINCIDENCE_HZ = 0.8;
export const COINCIDENCE_SHARE = 0.0035;

/** Extra jolt of percussive strokes in dB. */
export const JOLT_EXTRA_DB = { play: 0, slap: 12, pop: 12, chuck: 10, click: 8, ghost: 0, rake: 0 } as const;

/** Level in dB, relative to the loudest thing meant to sound, above which a ring is heard. */
export const AUDIBLE_DB: Readonly<Record<Gain, number>> = { clean: -28, edge: -33, high: -45 };

/**
 * How far over the threshold a ring must be to be heard as a stray: a string's own sound from here; one that only answers or is
 * shaken fuses with what is meant to sound, less so on a bass, and stands alone in a rest. What is fainter is listed as faint.
 * From memory, adjustable; the figures are those of players' practice.
 */
export const LEAST_STRAY_DB = 3;
export const LEAST_ANSWER_DB: Readonly<Record<InstrumentKind, number>> = {
  "electric-guitar": 10,
  "acoustic-guitar": 10,
  "nylon-guitar": 10,
  "electric-bass": 6,
};
/** Nothing shorter is heard at all. */
export const LEAST_STRAY_MS = 80;

/** A note that has lost so much has died away (the definition of a reverberation time, ISO 3382); what else is heard is not measured against it. */
export const DIED_AWAY_DB = 60;

/** Levels under this are called "nothing". */
export const FLOOR_DB = -60;

/** Partials the hazards look at; the renderer uses more. */
export const PARTIALS = 16;

/** Where strings are struck, as a share of the open length measured from the bridge. */
export const PLUCK_SHARE = 0.22;

/** Most that all touches on a string add to a decay, as a multiple of its fundamental: nothing takes more than all of a wave that comes by. */
export const MOST_TAKEN = 3;

/** Mass per length at which the rates above hold: a guitar's wound D string, kg/m. */
export const REFERENCE_MASS = 0.002;

/** Level of the open string when a finger jumps off it, in dB against a full pluck, by the player's way of pulling off. */
export const PULL_OFF_DB = { flick: -8, between: -14, lift: -20 } as const;
/** A bend shoves its neighbours: level of what they do when let go. */
export const BEND_SHOVE_DB = -18;
