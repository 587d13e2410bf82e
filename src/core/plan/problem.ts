import { LEAST_STRAY_DB, LEAST_STRAY_MS } from "../acoustics/constants.ts";
import type { HandState } from "../fingering/fingering.ts";
import { levelAt } from "../hazards/hazards.ts";
import type { Excitation, HazardTable, StringHazard } from "../hazards/types.ts";
import type { IntentTable } from "../intent/intent.ts";
import type { Settings } from "../passage/settings.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import { bit, type Pose, type Shape } from "../shapes/types.ts";
import type { Step, Timeline } from "../timeline/types.ts";
import { frettingMoves, type Move, moveEffort, needMs, pickingMoves } from "./moves.ts";

/**
 * The problem both the planner and its independent check solve: per step the shapes of either
 * hand, what it costs to be in them, what it costs to move, and what an untouched string costs.
 * Steps in which nothing changes for the hands are joined with the one before, so that splitting
 * a step changes no cost.
 */
export interface Problem {
  strings: number;
  steps: readonly ProblemStep[];
  /** Per step of the timeline: the problem step it belongs to. */
  stepOf: readonly number[];
  /** Per step of the timeline, unjoined: what every string has at stake. */
  stakes: readonly (readonly StringStakes[])[];
}

export interface ProblemStep {
  fretting: readonly Shape[];
  picking: readonly Shape[];
  lengthMs: number;
  hasStroke: boolean;
  /** Time the hands have had for a move, in ms: since the step before began, less the time its note needs to speak. */
  haveMs: number;
  strings: readonly StringStakes[];
  /** Strings struck in this step: only contacts that deaden count there. */
  struck: number;
  /** Strings whose note goes on: only contacts that stop it count there. */
  carried: number;
  /** Strings that should be muffled. */
  muffled: number;
  indexPlaced: boolean;
  pressesAgain: boolean;
  /** ms from this step's start until a finger must press again; 0 when it does in this step. */
  untilPressMs: number;
  settings: Settings;
}

/** What one string has at stake in one step. State j means: its newest j excitations are unsilenced. */
export interface StringStakes {
  /** Cost of leaving it alone in state j, in thousandths of dB·s over the threshold. */
  cost: readonly number[];
  /** State after this step, if left alone, from the state before it. */
  next: readonly number[];
  /** State if left alone in this step and silent before. */
  fresh: number;
  /** State at the end of a joined step from the state at its start; empty when they are the same. */
  last: readonly number[];
  /** What would be at stake should a contact fail: cost of the excitations that begin here. */
  risk: number;
}

/**
 * A hand that made a note speak is needed there for this long before it may move. From memory,
 * adjustable; it puts alternating sixteenths (palm and open, release and press) where players do.
 */
export const SPEAK_MS = 50;

export function problemOf(timeline: Timeline, intent: IntentTable, hazards: HazardTable, shapes: readonly StepShapes[], settings: Settings): Problem {
  const { steps, strings } = timeline;
  const quietUntil = quietUntilMs(timeline, intent);
  const pressMs = nextPressMs(steps, shapes);
  const joined: ProblemStep[] = [];
  const stepOf: number[] = [];
  const stakes: StringStakes[][] = [];
  let lastStartMs = 0;
  steps.forEach((step, i) => {
    const here = stakesOf(hazards, i, step, quietUntil[i]!);
    stakes.push(here);
    const before = joined.at(-1);
    const { hand } = shapes[i]!.context;
    if (before && isUneventful(timeline, intent, hazards, shapes, i)) {
      joined[joined.length - 1] = {
        ...before,
        lengthMs: before.lengthMs + Math.round(step.lengthMs),
        strings: before.strings.map((s, k) => followedBy(s, here[k]!)),
      };
      stepOf.push(joined.length - 1);
      return;
    }
    const rows = hazards.strings[i]!;
    joined.push({
      fretting: shapes[i]!.fretting.shapes,
      picking: shapes[i]!.picking.shapes,
      lengthMs: Math.round(step.lengthMs),
      hasStroke: step.stroke !== null,
      haveMs: before ? Math.max(1, step.ms - lastStartMs - (before.hasStroke ? SPEAK_MS : 0)) : Number.POSITIVE_INFINITY,
      strings: here,
      struck: maskOf(rows, (row) => row.struck),
      carried: maskOf(rows, (row) => row.carried),
      muffled: intent[i]!.reduce((mask, x, s) => (x === "muffled" ? mask | bit(s + 1) : mask), 0),
      indexPlaced: hand.placed.includes(1),
      pressesAgain: i > 0 && isPressedAgain(shapes[i - 1]!.context.hand, hand),
      untilPressMs: pressMs[i]! - step.ms,
      settings,
    });
    lastStartMs = step.ms;
    stepOf.push(joined.length - 1);
  });
  return { strings, steps: joined, stepOf, stakes };
}

function isPressedAgain(before: HandState, now: HandState): boolean {
  return now.presses.some((press) =>
    before.left.some((left) => left.finger === press.finger && left.fret === press.fret && press.strings.some((s) => left.strings.includes(s))),
  );
}

function stakesOf(hazards: HazardTable, i: number, step: Step, quietUntil: readonly number[]): StringStakes[] {
  const before = i > 0 ? hazards.strings[i - 1]! : null;
  const threshold = hazards.thresholdDb[i]!;
  return hazards.strings[i]!.map((row, s): StringStakes => {
    const cost = [0];
    for (const e of row.alive) cost.push(Math.max(cost.at(-1)!, strayCost(e, step.ms, step.ms + step.lengthMs, threshold, quietUntil[s]!)));
    const next = [row.fresh, ...(before?.[s]?.alive ?? []).map((oldest) => row.alive.filter((e) => e.step >= oldest.step || e.step === i).length)];
    return { cost, next, fresh: row.fresh, risk: cost[row.fresh]!, last: [] };
  });
}

/** Whether a step asks nothing new of either hand: no stroke, nothing set going, the same strings wanted and pressed. */
function isUneventful(timeline: Timeline, intent: IntentTable, hazards: HazardTable, shapes: readonly StepShapes[], i: number): boolean {
  if (timeline.steps[i]!.stroke) return false;
  const wanted = (x: string) => (x === "free" ? "ring" : x === "thud" ? "quiet" : x);
  if (!intent[i]!.every((x, s) => wanted(x) === wanted(intent[i - 1]![s]!))) return false;
  if (hazards.strings[i]!.some((row) => row.fresh > 0)) return false;
  const presses = (k: number) => shapes[k]!.context.hand.presses.map((p) => `${p.finger}${p.fret}${p.strings}`).join();
  return presses(i) === presses(i - 1);
}

/** The stakes of two steps in a row with nothing new in the second, as one. */
function followedBy(first: StringStakes, second: StringStakes): StringStakes {
  const reached = first.last.length > 0 ? first.last : first.cost.map((_, j) => j);
  const last = reached.map((j) => second.next[j] ?? second.fresh);
  const cost = first.cost.map((c, j) => c + second.cost[last[j]!]!);
  return { ...first, cost, risk: cost[first.fresh]!, last };
}

/** Per step: when a finger next presses, at the step itself or later. */
function nextPressMs(steps: Timeline["steps"], shapes: readonly StepShapes[]): number[] {
  const ms: number[] = new Array(steps.length);
  let next = Number.POSITIVE_INFINITY;
  for (let i = steps.length - 1; i >= 0; i--) {
    if (shapes[i]!.context.hand.presses.length > 0) next = steps[i]!.ms;
    ms[i] = next;
  }
  return ms;
}

function maskOf(rows: HazardTable["strings"][number], test: (row: StringHazard) => boolean): number {
  return rows.reduce((mask, row, s) => (test(row) ? mask | bit(s + 1) : mask), 0);
}

/** Per step and string: until when nobody wants it to sound. */
function quietUntilMs(timeline: Timeline, intent: IntentTable): number[][] {
  const until: number[] = new Array(timeline.strings).fill(timeline.endMs);
  const rows: number[][] = new Array(timeline.steps.length);
  for (let i = timeline.steps.length - 1; i >= 0; i--) {
    intent[i]!.forEach((wanted, s) => {
      if (wanted !== "quiet" && wanted !== "thud") until[s] = timeline.steps[i]!.ms;
    });
    rows[i] = [...until];
  }
  return rows;
}

/** Loudness over the threshold × time in dB·ms; nothing below 3 dB, nor what is left of a ring in its last 80 ms. */
function strayCost(e: Excitation, fromMs: number, toMs: number, threshold: number, quietUntil: number): number {
  const over = levelAt(e, fromMs) - threshold;
  if (over < LEAST_STRAY_DB) return 0;
  const fadesAt = fromMs + ((over - LEAST_STRAY_DB) / e.slope) * 1000;
  if (Math.min(fadesAt, quietUntil) - fromMs < LEAST_STRAY_MS) return 0;
  const until = Math.min(toMs, fadesAt);
  const overThen = over - (e.slope * (until - fromMs)) / 1000;
  return Math.round(((over + overThen) / 2) * (until - fromMs));
}

/** Strings that a pair of shapes silences, given what sets them going in this step. */
export function silenced(step: ProblemStep, fretting: Shape, picking: Shape): number {
  const loud = step.struck | step.carried;
  return (
    ((fretting.damps | picking.damps) & ~loud) |
    ((fretting.stops | picking.stops) & step.carried & ~step.struck) |
    ((fretting.deadens | picking.deadens) & step.struck)
  );
}

/** Harm: strings that should be muffled and are not. */
export function harmOf(step: ProblemStep, fretting: Shape, picking: Shape): number {
  return bitCount(step.muffled & ~(picking.muffles | fretting.muffles));
}

/** A string's state at the end of a step from its state before, if it is left alone. */
export function stateAfter(stakes: StringStakes, before: number): number {
  return stakes.next[before] ?? stakes.fresh;
}

/** The state that the next step starts from, given the one this step was costed in. */
export function stateHandedOn(stakes: StringStakes, state: number): number {
  return stakes.last[state] ?? state;
}

/** Effort that a struck string left bare costs, in thousandths of a tenth. */
const BARE_STRUCK = 5000;

/** Effort of being in a pair of shapes for a step: holding, and the risk that contacts fail; thousandths of a tenth. */
export function stayEffort(step: ProblemStep, fretting: Shape, picking: Shape, silencedMask: number): number {
  let sum = Math.round((fretting.hold + picking.hold) * step.lengthMs);
  if (step.hasStroke) sum += (fretting.perStroke + picking.perStroke) * 1000;
  // A touch that lets a struck string chime is still quieter than no touch at all.
  sum += BARE_STRUCK * bitCount(step.struck & ~(fretting.damps | picking.damps));
  for (let s = 0; s < step.strings.length; s++) {
    const risk = step.strings[s]!.risk;
    if (risk > 0 && (silencedMask & (1 << s)) !== 0) sum += Math.round(risk * fretting.fails[s]! * picking.fails[s]!);
  }
  return sum;
}

export interface MoveCost {
  rushedMs: number;
  effort: number;
  changes: number;
}

/**
 * Cost of moving between two poses, or null when a player cannot: a move that the music does
 * not force and for which there is no time is not available at all; a forced one is rushed.
 */
export function moveCost(step: ProblemStep, hand: "fretting" | "picking", from: Pose, to: Pose): MoveCost | null {
  if (from.key === to.key && !(hand === "fretting" && step.pressesAgain)) return STAY;
  const moves = hand === "fretting" ? frettingMoves(from, to, step, step.settings) : pickingMoves(from, to, step.settings);
  if (moves === null) return null;
  const voluntary = moves.filter((move) => !isForced(move, from, step[hand]));
  if (needMs(voluntary) > step.haveMs) return null;
  const rushedMs = Math.max(0, Math.round(needMs(moves) - step.haveMs));
  return { rushedMs, effort: moveEffort(moves, step.haveMs), changes: moves.length };
}

/** Whether the written music leaves no way around a move: its old pose is not to be had any more, or every shape has the new one. */
export function isForced(move: Move, from: Pose, shapes: readonly Shape[]): boolean {
  if (move.forced) return true;
  switch (move.kind) {
    case "palmLand":
      return shapes.every(({ pose }) => pose.palm > 0 || pose.heel);
    case "palmLift":
    case "palmShift":
      return !shapes.some(({ pose }) => pose.palm === from.palm && pose.heel === from.heel);
    case "indexFlatten":
      return shapes.every(({ pose }) => pose.indexLaid);
    case "spare":
      return !shapes.some(({ pose }) => (pose.spare === "" || pose.spare === from.spare) && (!pose.thumbOver || from.thumbOver));
    case "thumbTravel":
      return !shapes.some(({ pose }) => pose.thumb === 0 || pose.thumb === from.thumb);
    case "indexArch":
      return !shapes.some(({ pose }) => pose.indexLaid);
    case "lay":
      return shapes.every(({ pose }) => pose.across);
    case "restore":
      return !shapes.some(({ pose }) => pose.across);
    default:
      return false;
  }
}

/** All of a step, besides the poses, that the cost of moving into it depends on. */
export function momentKey(step: ProblemStep, hand: "fretting" | "picking"): string {
  const time = Math.round(step.haveMs * 1000);
  return hand === "fretting" ? `${time}${step.indexPlaced ? "i" : ""}${step.pressesAgain ? "a" : ""}${step.untilPressMs}` : `${time}`;
}

const STAY: MoveCost = { rushedMs: 0, effort: 0, changes: 0 };

export function bitCount(mask: number): number {
  let count = 0;
  for (let m = mask; m !== 0; m &= m - 1) count++;
  return count;
}
