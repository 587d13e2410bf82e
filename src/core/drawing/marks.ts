import type { Voicing } from "../chords/voicings.ts";
import type { Action, PlannedStep } from "../document/plan.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import type { Kind } from "../hands/parts.ts";
import { bendOf } from "../passage/bends.ts";

/** Frets that are drawn: a hand's reach and one. */
export const FRETS = 5;

/** A finger or another part of a hand on the strings: what is drawn in one piece. */
export type Mark = Kind & {
  finger?: ContactFinger;
  /** The fret behind which it is, counted from nut or capo. */
  fret?: number;
  /** Ascending. */
  strings: number[];
};

/** What the picking hand strikes with. */
export interface Blow {
  /** Along the struck strings in their order; plucked each by its own finger; fingers or nails coming down on them. */
  way: "through" | "plucked" | "onto";
  strings: readonly number[];
  /** Down is towards string 1. */
  direction?: "down" | "up";
  /** Beside the first string, or beside each that is plucked. */
  fingers: readonly { string: number; finger: ContactFinger }[];
  /** Those of them that are struck so that no pitch is heard. */
  dead: readonly number[];
}

/** Both hands on the strings at one step, and what is struck. */
export interface Posture {
  count: number;
  marks: readonly Mark[];
  blows: readonly Blow[];
  /** Strings bent out of their way, and whether towards string 1. */
  bends: readonly { string: number; fret: number; towardsTreble: boolean }[];
  states: readonly PlannedStep["strings"][number]["state"][];
  /** The fret at which the index belongs. */
  position: number;
}

/** Both hands at a step of a plan. */
export function postureOf(step: PlannedStep): Posture {
  return {
    count: step.strings.length,
    marks: marksOf(step),
    blows: blowsOf(step),
    bends: bendsOf(step.actions),
    states: step.strings.map(({ state }) => state),
    position: step.position,
  };
}

/** A chord held and sounding, with nothing else on the strings. */
export function postureOfVoicing({ shape, fingers }: Voicing): Posture {
  const marks = new Map<string, Mark>();
  shape.forEach((fret, s) => {
    if (!fret) return;
    const finger = fingers[s] as ContactFinger | null | undefined;
    const key = finger ? `${finger} ${fret}` : `${s}`;
    const mark = marks.get(key) ?? ({ hand: "fretting", part: "press", ...(finger ? { finger } : {}), fret, strings: [] } as Mark);
    mark.strings.push(s + 1);
    marks.set(key, mark);
  });
  const fretted = shape.flatMap((fret) => (fret ? [fret] : []));
  return {
    count: shape.length,
    marks: [...marks.values()],
    blows: [],
    bends: [],
    states: shape.map((fret) => (fret === null ? "still" : "ring")),
    position: Math.max(...fretted, 0) <= FRETS ? 1 : Math.min(...fretted),
  };
}

function marksOf({ strings }: PlannedStep): Mark[] {
  const marks = new Map<string, Mark>();
  for (const { string, touchedBy } of strings)
    for (const { hand, part, finger, fret } of touchedBy) {
      const key = `${hand} ${part} ${finger ?? ""} ${fret ?? ""}`;
      const mark = marks.get(key);
      if (mark) mark.strings.push(string);
      else marks.set(key, { hand, part, ...(finger === undefined ? {} : { finger }), ...(fret === undefined ? {} : { fret }), strings: [string] } as Mark);
    }
  return [...marks.values()];
}

const STRIKES: ReadonlySet<Action["does"]> = new Set(["stroke", "chuck", "rake", "brush"]);

function blowsOf({ actions, strings, struck = [], clicked = [] }: PlannedStep): Blow[] {
  const blows: Blow[] = [];
  for (const { hand, does, by, places = [], direction } of actions) {
    // A slap of the fretting hand is drawn as that hand lying there.
    if (hand !== "picking" || by === "T") continue;
    if (does === "pluck") blows.push({ way: "plucked", strings: places.map(({ string }) => string), fingers: places, dead: [] });
    else if (STRIKES.has(does) && struck.length > 0) {
      const fingers = by === undefined ? [] : [{ string: struck[0]!, finger: by }];
      blows.push({
        way: "through",
        strings: struck,
        ...(direction === "down" || direction === "up" ? { direction } : {}),
        fingers,
        dead: struck.filter((string) => strings[string - 1]!.state === "thud"),
      });
    } else if (does === "click") {
      const onto = clicked.length > 0 ? clicked : struck;
      blows.push({ way: "onto", strings: onto, fingers: [], dead: onto });
    }
  }
  return blows;
}

/** Bends begun here; one that names no place is on what is put down with it. */
function bendsOf(actions: readonly Action[]): Posture["bends"] {
  const down = actions.findLast(({ does }) => does === "down" || does === "hammer" || does === "slide" || does === "pull")?.places ?? [];
  return actions
    .filter(({ does }) => does === "bend")
    .flatMap(({ places = down, direction }) =>
      places.map(({ string, fret = 0 }) => ({
        string,
        fret,
        towardsTreble: direction ? direction === "treble" : bendOf({ bend: 1, string })?.side === -1,
      })),
    );
}
