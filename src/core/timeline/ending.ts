import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Timeline } from "./types.ts";

/** Notes shorter than this are meant short, also at the end. */
const SHORT = ticksOf("1/8");

/**
 * The tick from which the last notes are left ringing: nobody damps a final chord (common practice). Infinite where they are
 * written short, or a dead stroke comes after them.
 */
export function leftRingingFrom({ steps, notes }: Pick<Timeline, "steps" | "notes">): Ticks {
  const end = notes.reduce((latest, note) => Math.max(latest, note.end), 0);
  const isShort = notes.some((note) => note.end === end && end - note.start < SHORT);
  const isStopped = steps.some(({ stroke }) => stroke !== null && stroke.start >= end);
  return isShort || isStopped ? Number.POSITIVE_INFINITY : end;
}
