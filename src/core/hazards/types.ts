export const CAUSES = ["struck", "carry-over", "pull-off", "sympathy", "bend", "jolt", "chime"] as const;
export type Cause = (typeof CAUSES)[number];

/** Something that sets an unwanted string going, or a note that goes on after its end. */
export interface Excitation {
  string: number;
  ms: number;
  /** Loudness when it happens, in the dB of the string model. */
  db: number;
  /** Own decay of that loudness, dB per second. */
  slope: number;
  cause: Cause;
  /** Loud in all its partials (struck, or an open note that goes on): a lone finger over a node lets it chime. */
  lively: boolean;
}

/** What nobody would hear to the end unless a hand damps it: one string during one step. */
export interface StringHazard {
  causes: readonly Cause[];
  /** Loudest level over the audible threshold if nothing touched it; null under the floor. */
  undampedDb: number | null;
  /** Excitations still alive here if untouched, newest first; only those that could be loudest. */
  alive: readonly Excitation[];
  /** How many of `alive` begin with this step. */
  fresh: number;
  /** It is struck here loudly enough to be heard: only a contact that deadens helps. */
  struck: boolean;
  /** What begins here only shakes it: jolt, sympathy, a bend's shove. */
  onlyShaken: boolean;
  /** A note with all its partials goes on here: only a contact that stops it helps. */
  carried: boolean;
}

/** One step's hazards. */
export interface StepHazards {
  /** Level in model dB above which a stray ring is heard. */
  thresholdDb: number;
  /** Per string. */
  strings: readonly StringHazard[];
}

/** Per step. */
export type HazardTable = readonly StepHazards[];
