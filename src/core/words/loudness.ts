import { AUDIBLE_DB } from "../acoustics/constants.ts";
import type { Gain } from "../passage/schema.ts";

/** From here on a ring is clearly heard beside what is meant to sound, in dB over what is heard at all. From memory, adjustable. */
const CLEAR_DB = 10;
/** So much under the notes it is taken for one of them. */
const AS_LOUD_DB = 6;

/** How loud a ring is to the ear: from its dB over what is heard and how far that lies under what sounds. */
export function loudnessWords(db: number, audibleDb: number): string {
  if (db >= -audibleDb - AS_LOUD_DB) return "as loud as the note";
  return db >= CLEAR_DB ? "clearly" : "faintly";
}

/** The same with the figure beside it: of one string at one moment. */
export function heardAs(db: number | null, gain: Gain): string {
  return db === null || db < 0 ? "not heard" : `heard ${loudnessWords(db, AUDIBLE_DB[gain])}, ${db} dB over the softest that is heard`;
}
