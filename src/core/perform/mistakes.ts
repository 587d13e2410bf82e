import type { Step } from "../timeline/types.ts";

/** What goes wrong in a performance, by kinds: how many of each, and how the whole is played and recorded. */
export interface Mistakes {
  /** Contacts left out: a string rings that should be still. */
  stray: number;
  /** Contacts that land late: the note before rings over. */
  overlap: number;
  /** Contacts that lie too lightly. */
  light: number;
  /** Notes that should be muffled and ring open: the palm is not there. */
  open: number;
  /** Notes that never speak. */
  silent: number;
  /** Notes that end early: a hole before the next one. */
  hole: number;
  /** Strokes that come late, or early. */
  late: number;
  /** Chucks and ghosts off their beat. */
  chuck: number;
  /** Up-strokes come so many ms late, and so many dB softer. */
  upMs: number;
  upDb: number;
  /** Tempo at the end against the beginning, in per cent. */
  drift: number;
  /** Every stroke is off by so many ms at most. */
  jitter: number;
  /** Noise so many dB below the music; 0: none. */
  noise: number;
  /** Seconds after which a room has swallowed its echo (60 dB); 0: none. */
  room: number;
  /** Times that the passage is played. */
  times: number;
}

export const NO_MISTAKES: Mistakes = {
  stray: 0,
  overlap: 0,
  open: 0,
  light: 0,
  silent: 0,
  hole: 0,
  late: 0,
  chuck: 0,
  upMs: 0,
  upDb: 0,
  drift: 0,
  jitter: 0,
  noise: 0,
  room: 0,
  times: 1,
};

const MOST: Readonly<Record<keyof Mistakes, readonly [number, number]>> = {
  stray: [0, 50],
  overlap: [0, 50],
  open: [0, 50],
  light: [0, 50],
  silent: [0, 50],
  hole: [0, 50],
  late: [0, 50],
  chuck: [0, 50],
  upMs: [-60, 60],
  upDb: [0, 12],
  drift: [-10, 10],
  jitter: [0, 40],
  noise: [0, 90],
  room: [0, 2],
  times: [1, 16],
};

/** Reads "stray=2,silent=1,noise=30"; says what is wrong where something is. */
export function readMistakes(text: string): { ok: true; value: Mistakes } | { ok: false; says: string } {
  const value = { ...NO_MISTAKES };
  for (const part of text.split(",").filter((one) => one.trim() !== "")) {
    const [key = "", number = "", ...more] = part.split("=").map((one) => one.trim());
    if (!Object.hasOwn(MOST, key) || more.length > 0) return { ok: false, says: `"${part.trim()}" is none of ${Object.keys(MOST).join(", ")} with a number` };
    const [least, most] = MOST[key as keyof Mistakes];
    const wanted = number === "" ? Number.NaN : Number(number);
    if (!(wanted >= least && wanted <= most)) return { ok: false, says: `${key} is a number from ${least} to ${most}, not "${number}"` };
    value[key as keyof Mistakes] = wanted;
  }
  return { ok: true, value };
}

/** Something that was done wrong, and where: what a take should find. Times are of the sound, in ms. */
export interface Label {
  kind: "stray" | "overlap" | "light" | "open" | "silent" | "hole" | "late" | "chuck";
  /** Index of the step in the passage, as often as it was played. */
  step: number;
  string?: number;
  fromMs: number;
  toMs: number;
  /** Off by so much, where it is about time. */
  byMs?: number;
  /** How loud it is against a full pluck of the string, where it is a ring. */
  db?: number;
}

export function isChuck({ stroke }: Step): boolean {
  return stroke !== null && (stroke.as === "chuck" || stroke.as === "ghost");
}
