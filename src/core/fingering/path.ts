import { type FoldCache, fold, type Stage, sameItems } from "../caching/fold.ts";
import { type GripNote, type GripOption, isFretted } from "../grips/hold.ts";
import type { Step } from "../timeline/types.ts";

/** What the fretting hand has to hold at a stroke, and how it can. */
export interface Grip {
  notes: readonly GripNote[];
  options: readonly GripOption[];
  /** Strings on which a finger slides up or down to its note. */
  slid: readonly number[];
}

/** Cheapest costs of holding the last grip in each of its ways, the least of them 0. */
export interface Reached {
  grip: Grip | null;
  costs: readonly number[];
  /** Nothing has been fretted since: a finger has had time to go wherever it is wanted next. */
  isFree: boolean;
}

/** Shifting the hand one fret weighs as much as this much awkwardness in a grip. */
const SHIFT = 1.5;
const REFINGER_HELD = 12;
/** More than an idle index, less than a shift: one finger for two notes in a row at other frets jumps, where another is there already. */
const HOP = 1.25;

/** Per step: the way to hold its grip that makes the cheapest path through hand positions, or null. */
export function cheapestPath(steps: readonly Step[], grips: readonly (Grip | null)[], cache: FoldCache<Reached, readonly number[]>): (GripOption | null)[] {
  const from = fold(PATHS, { steps, grips }, { keys: steps, beside: [grips], start: AT_REST, cache });
  const last = cache.after.at(-1) ?? AT_REST;
  const chosen: (GripOption | null)[] = new Array(steps.length).fill(null);
  let at = last.costs.indexOf(0);
  for (let i = steps.length - 1; i >= 0; i--) {
    const grip = grips[i]!;
    if (!grip) continue;
    chosen[i] = grip.options[at]!;
    at = from[i]![at]!;
  }
  return chosen;
}

const AT_REST: Reached = { grip: null, costs: [], isFree: true };

/** Per step and option: the option of the grip before that leads there most cheaply. */
const PATHS: Stage<{ steps: readonly Step[]; grips: readonly (Grip | null)[] }, Reached, readonly number[]> = {
  same: (a, b) => a.grip === b.grip && a.isFree === b.isFree && sameItems(a.costs, b.costs),
  work: (before, i, { steps, grips }) => {
    const grip = grips[i]!;
    if (!grip) return [[], before.isFree || steps[i]!.sounding.some((note) => note !== null && isFretted(note)) ? before : { ...before, isFree: true }];
    const way: Way = { before, grip, held: before.grip ? heldNotes(before.grip, grip) : NONE_HELD, isLine: before.grip !== null && isLine(before, grip) };
    const froms: number[] = new Array(grip.options.length);
    const costs: number[] = new Array(grip.options.length);
    let least = Number.POSITIVE_INFINITY;
    for (const [k, option] of grip.options.entries()) {
      const from = cheapestWay(way, option);
      froms[k] = from;
      costs[k] = (before.grip ? wayCost(way, from, option) : 0) + option.cost;
      least = Math.min(least, costs[k]);
    }
    return [froms, { grip, costs: costs.map((cost) => cost - least), isFree: false }];
  },
};

/** From one grip to the next, in whichever ways they are held. */
interface Way {
  before: Reached;
  grip: Grip;
  /** Notes that keep their fingers, by their places in both grips. */
  held: readonly (readonly [earlier: number, now: number])[];
  isLine: boolean;
}

const NONE_HELD: Way["held"] = [];

/** The option of the grip before from which one is reached most cheaply. */
function cheapestWay(way: Way, option: GripOption): number {
  let best = Number.POSITIVE_INFINITY;
  let from = 0;
  for (let e = 0; e < way.before.costs.length; e++) {
    const cost = wayCost(way, e, option);
    if (cost >= best) continue;
    best = cost;
    from = e;
  }
  return from;
}

/** What has been paid up to an option of the grip before, and the move from there. */
function wayCost({ before, held, isLine }: Way, e: number, option: GripOption): number {
  const earlier = before.grip!.options[e]!;
  let cost = before.costs[e]! + SHIFT * Math.abs(option.position - earlier.position);
  for (const [was, now] of held) if (earlier.fingers[was] !== option.fingers[now]) cost += REFINGER_HELD;
  return isLine && earlier.fingers[0] === option.fingers[0] ? cost + HOP : cost;
}

/** A note that is still held, a shape kept through a dead stroke, and a finger that slides keep their fingers. */
function heldNotes(before: Grip, { notes, slid }: Grip): Way["held"] {
  const held: [number, number][] = [];
  for (const [now, { string, fret }] of notes.entries()) {
    const isSlid = slid.includes(string);
    const was = before.notes.findIndex((n) => n.string === string && (n.fret === fret || isSlid));
    if (was >= 0) held.push([was, now]);
  }
  return held;
}

/** In a line of single notes no finger jumps to another fret that need not (common practice); a slide is no jump. */
function isLine({ grip: before, isFree }: Reached, { notes, slid }: Grip): boolean {
  return !isFree && before!.notes.length === 1 && notes.length === 1 && slid.length === 0 && before!.notes[0]!.fret !== notes[0]!.fret;
}
