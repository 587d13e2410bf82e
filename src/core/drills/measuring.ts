import type { MoveKind } from "../hands/gestures.ts";
import type { Player } from "../passage/schema.ts";
import { DEFAULT_MOVE_MS } from "../passage/settings.ts";

/*
 * How long a hand's moves take, measured in ten seconds: the same move is made on a key, or from one key to another, again and again.
 * What counts is the middle of the times: a hand that stumbles once changes nothing.
 */

export const MEASURED_MS = 10_000;
/** Fewer of a move are no measure. */
const FEWEST = 5;
/** What a hand can do, in ms: shorter ones are a key that bounces, longer ones a rest. */
const [LEAST_MS, MOST_MS] = [20, 600];

interface Described {
  id: string;
  title: string;
  says: string;
}
/** The move that goes down is timed from letting go to pressing, the one that goes up while it is pressed. */
type Hold = Described & { kind: "hold"; down: MoveKind; up: MoveKind | null };
/** The move from one key to another and back, timed from press to press; less another one, over so many strings. */
type Alternate = Described & { kind: "alternate"; move: MoveKind; less: MoveKind | null; over: number };
export type Exercise = Hold | Alternate;

export const EXERCISES: readonly Exercise[] = [
  {
    id: "palm",
    title: "Palm",
    says: "Land the edge of the palm on the space bar and lift it, as it lands on the strings.",
    kind: "hold",
    down: "palmLand",
    up: "palmLift",
  },
  {
    id: "chord",
    title: "Let go and press",
    says: "Press the space bar with the fingertips as you press a chord, and let go with the fingers still on it.",
    kind: "hold",
    down: "repress",
    up: "release",
  },
  {
    id: "index",
    title: "Index flat and arched",
    says: "Lay the index flat on the space bar and arch it again, the fingertip stays.",
    kind: "hold",
    down: "indexFlatten",
    up: "indexArch",
  },
  {
    id: "across",
    title: "Hand across",
    says: "Lay the fingers flat across the space bar, and come back to the shape of a chord over it.",
    kind: "hold",
    down: "lay",
    up: "restore",
  },
  {
    id: "spare",
    title: "Spare finger",
    says: "Keep a chord's shape on the table, lay its little finger on the space bar and lift it.",
    kind: "hold",
    down: "spare",
    up: null,
  },
  {
    id: "palm-shift",
    title: "Palm to the next string",
    says: "Move the palm's edge between two keys that lie side by side, as it moves by a string.",
    kind: "alternate",
    move: "palmShift",
    less: null,
    over: 1,
  },
  {
    id: "thumb",
    title: "Thumb to the next string",
    says: "Move the plucking thumb between two keys that lie side by side.",
    kind: "alternate",
    move: "thumbTravel",
    less: null,
    over: 1,
  },
  {
    id: "thumb-far",
    title: "Thumb over two more strings",
    says: "Move the plucking thumb between two keys with two between them.",
    kind: "alternate",
    move: "thumbTravelNext",
    less: "thumbTravel",
    over: 2,
  },
];

/** A key, or a place under the pointer, that goes down or up. */
export interface Press {
  /** ms on any clock. */
  at: number;
  key: string;
  isDown: boolean;
}

/** The times that the presses of an exercise show; null where there are too few. */
export function measuredTimes(exercise: Exercise, presses: readonly Press[], player: Player): Player["moveMs"] | null {
  if (exercise.kind === "hold") {
    const [down, up] = [timesOf(presses, true), timesOf(presses, false)];
    if (down === null || (exercise.up !== null && up === null)) return null;
    return { [exercise.down]: down, ...(exercise.up === null ? {} : { [exercise.up]: up! }) };
  }
  const downs = presses.filter(({ isDown }) => isDown);
  const moves = downs.slice(1).flatMap(({ at, key }, i) => (key === downs[i]!.key ? [] : [at - downs[i]!.at]));
  const time = middleOf(moves);
  if (time === null) return null;
  const less = exercise.less === null ? 0 : (player.moveMs?.[exercise.less] ?? DEFAULT_MOVE_MS[exercise.less]);
  return { [exercise.move]: Math.max(5, Math.round((time - less) / exercise.over)) };
}

/** The middle of the times that end with a press, or with letting go. */
function timesOf(presses: readonly Press[], isDown: boolean): number | null {
  return middleOf(presses.slice(1).flatMap(({ at, isDown: now }, i) => (now === isDown && presses[i]!.isDown !== now ? [at - presses[i]!.at] : [])));
}

function middleOf(times: readonly number[]): number | null {
  if (times.length < FEWEST) return null;
  const sorted = [...times].sort((a, b) => a - b);
  return Math.round(Math.min(MOST_MS, Math.max(LEAST_MS, sorted[Math.floor(sorted.length / 2)]!)));
}
