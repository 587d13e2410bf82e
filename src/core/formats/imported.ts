import type { Fault } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";

export interface Imported {
  passage: Passage;
  /** What was guessed or not understood, with its place. */
  remarks: Fault[];
}

/** Called now and then with how much of a long reading is done. */
export type OnProgress = (done: number, of: number) => void;
