import type { Fault } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";

export interface Imported {
  passage: Passage;
  /** What was guessed or not understood, with its place. */
  remarks: Fault[];
}
