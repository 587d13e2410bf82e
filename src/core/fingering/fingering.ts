import { fretFromNutMm } from "../music/neck.ts";
import { fractionOf } from "../music/ticks.ts";
import type { Finger, Instrument } from "../passage/schema.ts";
import { MAX_SPAN_FACTOR, openLengthMm, type Settings } from "../passage/settings.ts";
import type { Issue, Step, Timeline } from "../timeline/types.ts";
import { type GripNote, type GripOption, gripOptions } from "./grip.ts";

/** A finger on the neck: which strings it covers with its press, and at which fret. */
export interface Press {
  finger: Finger;
  fret: number;
  /** Strings it presses, ascending. */
  strings: readonly number[];
}

/** The fretting hand's written work during one step. */
export interface HandState {
  /** Fret at which the index belongs. */
  position: number;
  /** Fingers that press for a sounding note. */
  presses: readonly Press[];
  /** Fingers whose note is over and that have not been needed elsewhere since. */
  left: readonly Press[];
  /** Fingers newly set down in this step. */
  placed: readonly Finger[];
  /** Where those fingers came from, if they were on the neck before. */
  cameFrom: readonly Press[];
  /** Per finger: ms from the start of this step until it must press a new place; absent if never. */
  neededInMs: ReadonlyMap<Finger, number>;
}

export interface Fingering {
  /** Finger of every timeline note; 0 for open strings. */
  fingers: readonly Finger[];
  hands: readonly HandState[];
  issues: readonly Issue[];
}

interface Grip {
  step: number;
  notes: (GripNote & { note: number })[];
  options: GripOption[];
}

/** Shifting the hand one fret weighs as much as this much awkwardness in a grip. */
const SHIFT = 2;
const REFINGER_HELD = 12;

/** Chooses a finger for every note that names none: the cheapest path through hand positions. */
export function fingeringOf(timeline: Timeline, instrument: Instrument, settings: Settings): Fingering {
  const isBass = instrument.kind === "electric-bass";
  const grips = gripsOf(timeline, isBass);
  const chosen = cheapestPath(grips);
  const fingers: Finger[] = new Array(timeline.notes.length).fill(0);
  const keptFingers = new Map<number, Map<number, Finger>>();
  const positions = new Map<number, number>();
  grips.forEach((grip, g) => {
    const option = chosen[g]!;
    positions.set(grip.step, option.position);
    grip.notes.forEach((note, i) => {
      if (note.note >= 0) fingers[note.note] = option.fingers[i]!;
      else keptFor(keptFingers, grip.step).set(note.string, option.fingers[i]!);
    });
  });
  const hands = handStates(timeline, fingers, keptFingers, positions);
  return { fingers, hands, issues: handIssues(timeline, hands, instrument, settings) };
}

function keptFor(kept: Map<number, Map<number, Finger>>, step: number): Map<number, Finger> {
  const known = kept.get(step) ?? new Map<number, Finger>();
  kept.set(step, known);
  return known;
}

function gripsOf(timeline: Timeline, isBass: boolean): Grip[] {
  const grips: Grip[] = [];
  for (const step of timeline.steps) {
    if (!step.stroke) continue;
    const notes: Grip["notes"] = [];
    for (const note of step.sounding) if (note && note.fret > 0) notes.push({ string: note.string, fret: note.fret, finger: note.finger, note: note.index });
    for (const kept of step.stroke.kept) if (kept.fret > 0) notes.push({ string: kept.string, fret: kept.fret, finger: kept.finger, note: -1 });
    if (notes.length > 0) grips.push({ step: step.index, notes, options: gripOptions(notes, isBass) });
  }
  return grips;
}

function cheapestPath(grips: readonly Grip[]): GripOption[] {
  let costs: number[] = [];
  const back: number[][] = [];
  grips.forEach((grip, g) => {
    const before = grips[g - 1];
    const from: number[] = [];
    costs = grip.options.map((option, o) => {
      if (!before) return option.cost;
      let best = Number.POSITIVE_INFINITY;
      before.options.forEach((earlier, e) => {
        const cost = costs[e]! + SHIFT * Math.abs(option.position - earlier.position) + heldChanges(before, earlier, grip, option);
        if (cost < best) {
          best = cost;
          from[o] = e;
        }
      });
      return best + option.cost;
    });
    back.push(from);
  });
  const chosen: GripOption[] = new Array(grips.length);
  let at = costs.indexOf(Math.min(...costs));
  for (let g = grips.length - 1; g >= 0; g--) {
    chosen[g] = grips[g]!.options[at]!;
    at = back[g]![at] ?? 0;
  }
  return chosen;
}

/** A note that is still held, or a shape kept through a dead stroke, keeps its fingers. */
function heldChanges(before: Grip, earlier: GripOption, grip: Grip, option: GripOption): number {
  let cost = 0;
  grip.notes.forEach((note, i) => {
    const held = before.notes.findIndex((n) => n.string === note.string && n.fret === note.fret);
    if (held >= 0 && earlier.fingers[held] !== option.fingers[i]) cost += REFINGER_HELD;
  });
  return cost;
}

function handStates(
  timeline: Timeline,
  fingers: readonly Finger[],
  kept: ReadonlyMap<number, ReadonlyMap<number, Finger>>,
  positions: ReadonlyMap<number, number>,
): HandState[] {
  const firstPosition = [...positions.values()][0] ?? 1;
  let position = firstPosition;
  const lastPlace = new Map<Finger, Press>();
  const states = timeline.steps.map((step) => {
    const moved = positions.get(step.index) ?? position;
    // A hand that shifts takes its fingers along: what they left behind is behind.
    if (moved !== position) for (const [finger, place] of lastPlace) if (!isWithinHand(finger, place.fret, moved)) lastPlace.delete(finger);
    position = moved;
    const presses = pressesOf(step, fingers);
    const shape = shapeKept(step, fingers, kept.get(step.index));
    const placed: Finger[] = [];
    const cameFrom: Press[] = [];
    for (const press of [...presses, ...shape]) {
      const before = lastPlace.get(press.finger);
      if (!before || before.fret !== press.fret || !press.strings.every((s) => before.strings.includes(s))) {
        placed.push(press.finger);
        if (before) cameFrom.push(before);
      }
      lastPlace.set(press.finger, press);
    }
    const pressing = new Set(presses.map((p) => p.finger));
    const left = [...lastPlace.values()].filter((p) => !pressing.has(p.finger)).sort((a, b) => order(a.finger) - order(b.finger));
    return { position, presses, left, placed, cameFrom, neededInMs: new Map<Finger, number>() };
  });
  const needed = new Map<Finger, number>();
  for (let i = states.length - 1; i >= 0; i--) {
    const step = timeline.steps[i]!;
    for (const [finger, ms] of needed) states[i]!.neededInMs.set(finger, ms - step.ms);
    for (const finger of states[i]!.placed) needed.set(finger, step.ms);
  }
  return states;
}

/** Whether a finger of a hand at a position can lie at a fret: at its own or one off. */
function isWithinHand(finger: Finger, fret: number, position: number): boolean {
  return finger === "T" || finger === 0 || Math.abs(fret - (position + finger - 1)) <= 1;
}

function order(finger: Finger): number {
  return finger === "T" ? 0 : finger;
}

function pressesOf(step: Step, fingers: readonly Finger[]): Press[] {
  return joined(
    step.sounding.flatMap((note) =>
      note && note.fret > 0 && note.tone !== "ghost" ? [{ string: note.string, fret: note.fret, finger: fingers[note.index]! }] : [],
    ),
  );
}

/** Places that fingers keep without pressing: a shape held through a dead stroke, a ghosted note. */
function shapeKept(step: Step, fingers: readonly Finger[], kept: ReadonlyMap<number, Finger> | undefined): Press[] {
  const ghosts = step.sounding.flatMap((note) =>
    note && note.fret > 0 && note.tone === "ghost" ? [{ string: note.string, fret: note.fret, finger: fingers[note.index]! }] : [],
  );
  if (!kept || !step.stroke) return joined(ghosts);
  const held = step.stroke.kept.flatMap((k) => (k.fret > 0 ? [{ string: k.string, fret: k.fret, finger: kept.get(k.string)! }] : []));
  return joined([...ghosts, ...held]);
}

function joined(notes: { string: number; fret: number; finger: Finger }[]): Press[] {
  const byFinger = new Map<string, { finger: Finger; fret: number; strings: number[] }>();
  for (const { string, fret, finger } of notes) {
    const key = `${finger}@${fret}`;
    const press = byFinger.get(key) ?? { finger, fret, strings: [] };
    press.strings.push(string);
    byFinger.set(key, press);
  }
  for (const press of byFinger.values()) press.strings.sort((a, b) => a - b);
  return [...byFinger.values()].sort((a, b) => order(a.finger) - order(b.finger));
}

/** What no hand can do: a finger in two places, a stretch beyond reach. */
function handIssues(timeline: Timeline, hands: readonly HandState[], instrument: Instrument, settings: Settings): Issue[] {
  const issues: Issue[] = [];
  const length = openLengthMm(instrument);
  const widest = settings.reachMm * MAX_SPAN_FACTOR;
  timeline.steps.forEach((step, i) => {
    const { stroke } = step;
    if (!stroke) return;
    const where = { path: `/bars/${stroke.bar}/strokes/${stroke.stroke}`, bar: stroke.bar + 1, at: fractionOf(step.atTicks) };
    const { presses } = hands[i]!;
    const byFinger = new Map<Finger, Press>();
    for (const press of presses) {
      const other = byFinger.get(press.finger);
      if (other)
        issues.push({ code: "finger-in-two-places", ...where, says: `Finger ${press.finger} cannot press frets ${other.fret} and ${press.fret} at once.` });
      byFinger.set(press.finger, press);
    }
    const spread = presses.filter((p) => p.finger !== "T");
    if (spread.length < 2) return;
    const low = Math.min(...spread.map((p) => p.fret));
    const high = Math.max(...spread.map((p) => p.fret));
    const span = fretFromNutMm(length, high) - fretFromNutMm(length, low);
    if (span > widest)
      issues.push({
        code: "span-too-wide",
        ...where,
        says: `Frets ${low} and ${high} lie ${Math.round(span)} mm apart; this hand reaches ${Math.round(widest)} mm at most.`,
      });
    const crossed = spread.some((a) => spread.some((b) => order(a.finger) < order(b.finger) && a.fret > b.fret));
    if (crossed) issues.push({ code: "fingers-crossed", ...where, says: "A higher finger would have to press nearer the nut than a lower one." });
  });
  return issues;
}
