import type { Place } from "../passage/place.ts";
import type { Rule } from "../passage/schema.ts";

/** What a player asks of patterns that are proposed. */
export interface Wishes {
  /** With a drummer nothing percussive falls on the backbeat: the snare is there (common practice). */
  drummer: boolean;
  /** What must be heard: it sounds, open and accented. */
  heard: readonly Place[];
  /** Away from the middle: more of it above 0, less below. */
  busy: number;
  backbeat: number;
  /** Above 0: fewer lifts of the palm and changes of the fretting hand. */
  steady: number;
}

export const NO_WISHES: Wishes = { drummer: false, heard: [], busy: 0, backbeat: 0, steady: 0 };

/** A pattern as rules of a treatment, with what speaks for it. */
export interface Proposal {
  /** What a player calls it. */
  name: string;
  rules: readonly Rule[];
  /** One sentence. */
  why: string;
  figures: Figures;
}

/** What players weigh. */
export interface Figures {
  /** Strokes a bar, the dead ones among them, and beats. */
  strokes: number;
  dead: number;
  beats: number;
  /** How often the palm is lifted, and how often the hands change what they do, a bar. */
  palmLifts: number;
  gestures: number;
  /** Stray rings that are heard. */
  strays: number;
  /** The share of the time in which nothing sounds openly: room for a voice. */
  room: number;
  /** The share of the backbeats that are struck dead or accented. */
  backbeat: number;
}
