import { sameItems } from "../caching/fold.ts";
import type { FingerMask } from "../hands/fingers.ts";
import type { Finger } from "../passage/schema.ts";

/** A finger on the neck: which strings it covers with its press, and at which fret. */
export interface Press {
  finger: Finger;
  fret: number;
  /** Strings it presses, ascending. */
  strings: readonly number[];
}

export function samePress(a: Press, b: Press): boolean {
  return a === b || (a.finger === b.finger && a.fret === b.fret && sameItems(a.strings, b.strings));
}

export function samePresses(a: readonly Press[], b: readonly Press[]): boolean {
  return a.length === b.length && a.every((press, k) => samePress(press, b[k]!));
}

/** The fretting hand's written work during one step. */
export interface HandState {
  /** Fret at which the index belongs. */
  position: number;
  /** Fingers that press for a sounding note, or hold their place in a grip that is down. */
  presses: readonly Press[];
  /** Fingers whose note is over and that have not been needed elsewhere since. */
  left: readonly Press[];
  /** Fingers newly set down in this step. */
  placed: readonly Finger[];
  /** Where those fingers came from, if they were on the neck before. */
  cameFrom: readonly Press[];
  /** Fingers that could lie idle but must press a new place before they could have been laid down and come back. */
  hurried: FingerMask;
}

/** Whether a finger still holds a note's place, pressing or resting there. */
export function isHeld(note: { string: number; fret: number }, { presses, left }: HandState): boolean {
  const holds = (press: Press) => press.fret === note.fret && press.strings.includes(note.string);
  return presses.some(holds) || left.some(holds);
}

/** The fret at which fingers hold a string; 0 where it is open. */
export function pressedAt(presses: readonly Press[], string: number): number {
  return presses.reduce((highest, { strings, fret }) => (strings.includes(string) ? Math.max(highest, fret) : highest), 0);
}

/** An index that rests where it pressed several strings lies on those between them as well. */
export function underBarre({ finger, strings }: Pick<Press, "finger" | "strings">): readonly number[] {
  const [first, last] = [strings[0]!, strings.at(-1)!];
  return finger === 1 && strings.length > 1 ? Array.from({ length: last - first + 1 }, (_, i) => first + i) : strings;
}

/** The lowest string that fingers press; 0 where they press none. */
export function bassMostOf(presses: readonly Press[]): number {
  let lowest = 0;
  for (const { strings } of presses) for (const string of strings) if (string > lowest) lowest = string;
  return lowest;
}

/** Whether a finger is set down or lets go: then lean and tip change in that very motion. */
export function doesGripMove(before: HandState | null, now: HandState): boolean {
  return now.placed.length > 0 || (before !== null && (letsGo(before, now) || pressedAgain(before, now) > 0));
}

/** How many strings are pressed again by fingers that had let go there; one that stayed down behind a higher fret never let go. */
export function pressedAgain(before: HandState, now: HandState): number {
  let again = 0;
  for (const { finger, fret, strings } of now.presses) {
    const left = before.left.find((was) => was.finger === finger && was.fret === fret);
    if (left) for (const s of strings) if (left.strings.includes(s) && !isBehind(s, fret, before)) again++;
  }
  return again;
}

/** Whether another finger presses a string nearer the bridge. */
function isBehind(string: number, fret: number, { presses }: HandState): boolean {
  return presses.some((press) => press.fret > fret && press.strings.includes(string));
}

function letsGo(before: HandState, now: HandState): boolean {
  return before.presses.some(({ finger, fret }) => !now.presses.some((press) => press.finger === finger && press.fret === fret));
}

/** Fingers as they lie, the thumb first. */
export function orderOf(finger: Finger): number {
  return finger === "T" ? 0 : finger;
}
