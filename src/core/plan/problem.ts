import { LEAST_STRAY_MS } from "../acoustics/constants.ts";
import { FoldCache, fold, type Stage, sameItems } from "../caching/fold.ts";
import { SharedLists } from "../caching/shared-lists.ts";
import { doesGripMove, type HandState, pressedAgain, pressedAt } from "../fingering/hand-state.ts";
import type { HazardTable, StringHazard } from "../hazards/types.ts";
import type { Intent, IntentTable } from "../intent/intent.ts";
import type { InstrumentKind } from "../music/instruments.ts";
import type { Settings } from "../passage/settings.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import { isWanted } from "../shapes/situation.ts";
import { bit, type FrettingShape, type PickingShape } from "../shapes/types.ts";
import { toThousandths } from "../timeline/clock.ts";
import type { Step, Timeline } from "../timeline/types.ts";
import { followedBy, riskyOf, type StringStakes, stakesOf } from "./string-stakes.ts";

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
  fretting: readonly FrettingShape[];
  picking: readonly PickingShape[];
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
  /** Strings that are not to be heard and are not struck. */
  quiet: number;
  /** Strings on which something would be at stake should a contact fail. */
  atRisk: number;
  /** A finger is set down or lets go in this step. */
  gripMoves: boolean;
  /** A chord's pressure goes as a whole while its fingers stay. */
  letsChordGo: boolean;
  /** What presses a place again that it had let go: nothing, one finger on one string, or a chord. */
  pressesAgain: "nothing" | "finger" | "chord";
  /** ms from this step's start until a finger must press again; 0 when it does in this step. */
  untilPressMs: number;
  /** How long either hand had had nothing to do before the time it has for a move began, in ms. */
  frettingIdleMs: number;
  pickingIdleMs: number;
  /** What of these times is as long at any tempo; the rest goes with it. */
  clock: StepClock;
  settings: Settings;
}

export interface StepClock {
  /** ms since the step before began, of which its note needs so many to speak. */
  sinceMs: number;
  speakMs: number;
  /** ms from the last stroke, or from the start, to the beginning of the step before; of which its note needed so many to speak. */
  restMs: number;
  restSpeakMs: number;
}

/**
 * A hand that made a note speak is needed there for this long before it may move. From memory,
 * adjustable; it puts alternating sixteenths (palm and open, release and press) where players do.
 */
export const SPEAK_MS = 50;

/** What the problem remembers of the last version of a passage. */
export class ProblemCache {
  readonly soonMeant = new FoldCache<readonly number[], number>();
  readonly steps = new FoldCache<Before, StepProblem>();
  readonly lists = new SharedLists();
  readonly joined = new WeakMap<ProblemStep, { rest: readonly StepProblem[]; step: ProblemStep }>();
}

/** What a step needs to know of those before it. */
interface Before {
  /** How long ago the last step began at which the hands were asked for something, in ms, and whether it had a stroke. */
  askedAgoMs: number;
  hasStroke: boolean;
  /** For how long the fretting hand has pressed nothing. */
  pressedNothingMs: number;
  /** How long ago the picking hand struck last, or the passage began if it never did. */
  struckAgoMs: number;
  hasStruck: boolean;
  rows: readonly StringHazard[];
  intents: readonly Intent[];
  hand: HandState | null;
}

/** The same object every time, so that the first step is known again. */
const AT_START: Before = {
  askedAgoMs: Number.POSITIVE_INFINITY,
  hasStroke: false,
  pressedNothingMs: 0,
  struckAgoMs: 0,
  hasStruck: false,
  rows: [],
  intents: [],
  hand: null,
};

/** A step of the timeline as a problem of its own, and whether it asks nothing new of the hands. */
interface StepProblem {
  step: ProblemStep;
  uneventful: boolean;
}

/** What the stages before found out about a passage. */
export interface Findings {
  timeline: Timeline;
  intent: IntentTable;
  hazards: HazardTable;
  hands: readonly HandState[];
  shapes: readonly StepShapes[];
  /** A fret wrap lies near the nut. */
  wrapped: boolean;
  kind: InstrumentKind;
  settings: Settings;
}

export function problemOf(found: Findings, cache?: ProblemCache): Problem {
  const { timeline, intent, hazards, hands, shapes } = found;
  const { steps, strings } = timeline;
  const soonMeant = soonMeantAgain(timeline, intent, cache);
  const untilPressMs = msUntilPress(steps, hands);
  const beside = [intent, hazards, hands, shapes, soonMeant, untilPressMs];
  const lists = cache?.lists ?? new SharedLists();
  const own = fold(PROBLEM, { found, soonMeant, untilPressMs, lists }, { keys: steps, beside, start: AT_START, cache: cache?.steps });
  const joined: ProblemStep[] = [];
  const stepOf: number[] = [];
  for (let i = 0; i < own.length; ) {
    const { step } = own[i]!;
    let end = i + 1;
    while (end < own.length && own[end]!.uneventful) end++;
    for (let k = i; k < end; k++) stepOf.push(joined.length);
    joined.push(end === i + 1 ? step : joinedWith(step, own.slice(i + 1, end), cache));
    i = end;
  }
  return { strings, steps: joined, stepOf, stakes: own.map(({ step }) => step.strings) };
}

interface Ahead {
  found: Findings;
  soonMeant: readonly number[];
  untilPressMs: readonly number[];
  lists: SharedLists;
}

const PROBLEM: Stage<Ahead, Before, StepProblem> = {
  same: (a, b) =>
    a.askedAgoMs === b.askedAgoMs &&
    a.pressedNothingMs === b.pressedNothingMs &&
    a.struckAgoMs === b.struckAgoMs &&
    a.hasStruck === b.hasStruck &&
    a.hasStroke === b.hasStroke &&
    a.rows === b.rows &&
    a.hand === b.hand &&
    sameItems(a.intents, b.intents),
  work: (before, i, ahead) => stepProblem(ahead, i, before),
};

function joinedWith(first: ProblemStep, rest: readonly StepProblem[], cache?: ProblemCache): ProblemStep {
  const known = cache?.joined.get(first);
  if (known && sameItems(known.rest, rest)) return known.step;
  let { lengthMs, strings } = first;
  for (const { step: next } of rest) {
    lengthMs += next.lengthMs;
    strings = strings.map((s, k) => followedBy(s, next.strings[k]!));
  }
  const step = { ...first, lengthMs, strings, atRisk: riskyOf(strings) };
  cache?.joined.set(first, { rest, step });
  return step;
}

function stepProblem(ahead: Ahead, at: number, before: Before): readonly [StepProblem, Before] {
  const { found, lists } = ahead;
  const { wrapped, kind, settings } = found;
  const soonMeant = ahead.soonMeant[at]!;
  const untilPressMs = ahead.untilPressMs[at]!;
  const step = found.timeline.steps[at]!;
  const intents = found.intent[at]!;
  const hazards = found.hazards[at]!;
  const hand = found.hands[at]!;
  const shapes = found.shapes[at]!;
  const rows = hazards.strings;
  const uneventful = before.hand !== null && isUneventful(step, intents, rows, hand, before);
  const wrap = wrapped ? unpressed(hand, rows.length) : 0;
  const strings = stakesOf({ step, meant: intents.some(isWanted), kind, hazards, before: before.rows, soonMeant, wrapped: wrap, lists });
  // What comes before the first step is a rest.
  const earlier = before.hand === null ? { ...before, pressedNothingMs: step.ms, struckAgoMs: step.ms } : before;
  const clock = clockOf(earlier);
  const problem: ProblemStep = {
    fretting: shapes.fretting.shapes,
    picking: shapes.picking.shapes,
    lengthMs: Math.round(step.lengthMs),
    hasStroke: step.stroke !== null,
    haveMs: Math.max(1, toThousandths(clock.sinceMs - clock.speakMs)),
    strings,
    struck: maskOf(rows, isStruck),
    carried: maskOf(rows, isCarried),
    muffled: maskOf(intents, isMuffled),
    quiet: maskOf(intents, isQuiet),
    atRisk: riskyOf(strings),
    gripMoves: doesGripMove(before.hand, hand),
    letsChordGo: before.hand !== null && hand.presses.length === 0 && stringsPressed(before.hand) > 1,
    pressesAgain: AGAIN[Math.min(2, before.hand ? pressedAgain(before.hand, hand) : 0)]!,
    untilPressMs,
    frettingIdleMs: Math.max(0, toThousandths(earlier.pressedNothingMs - earlier.askedAgoMs)),
    pickingIdleMs: Math.max(0, toThousandths(clock.restMs - clock.restSpeakMs)),
    clock,
    settings,
  };
  return [
    { step: problem, uneventful },
    {
      askedAgoMs: toThousandths((uneventful ? earlier.askedAgoMs : 0) + step.lengthMs),
      hasStroke: uneventful ? before.hasStroke : problem.hasStroke,
      pressedNothingMs: hand.presses.length > 0 ? 0 : toThousandths(earlier.pressedNothingMs + step.lengthMs),
      struckAgoMs: toThousandths((step.stroke ? 0 : earlier.struckAgoMs) + step.lengthMs),
      hasStruck: before.hasStruck || step.stroke !== null,
      rows,
      intents,
      hand,
    },
  ];
}

function clockOf({ askedAgoMs, hasStroke, struckAgoMs, hasStruck }: Before): StepClock {
  return {
    sinceMs: askedAgoMs,
    speakMs: hasStroke ? SPEAK_MS : 0,
    restMs: toThousandths(struckAgoMs - askedAgoMs),
    restSpeakMs: hasStruck ? SPEAK_MS : 0,
  };
}

function stringsPressed({ presses }: HandState): number {
  return presses.reduce((sum, { strings }) => sum + strings.length, 0);
}

const AGAIN = ["nothing", "finger", "chord"] as const;

/** Whether a step asks nothing new of either hand: no stroke, nothing set going, the same strings wanted and pressed. */
function isUneventful(step: Step, intents: readonly Intent[], rows: readonly StringHazard[], hand: HandState, before: Before): boolean {
  if (step.stroke) return false;
  const wanted = (x: string) => (x === "free" ? "ring" : x === "thud" ? "quiet" : x);
  if (!intents.every((x, s) => wanted(x) === wanted(before.intents[s]!))) return false;
  if (rows.some((row) => row.fresh > 0)) return false;
  const presses = ({ presses }: HandState) => presses.map((p) => `${p.finger}${p.fret}${p.strings}`).join();
  return presses(hand) === presses(before.hand!);
}

/** Per step: ms until a finger next presses; 0 when one does in the step itself. */
function msUntilPress(steps: Timeline["steps"], hands: readonly HandState[]): number[] {
  const ms: number[] = new Array(steps.length);
  let until = Number.POSITIVE_INFINITY;
  for (let i = steps.length - 1; i >= 0; i--) {
    until = hands[i]!.presses.length > 0 ? 0 : toThousandths(until + steps[i]!.lengthMs);
    ms[i] = until;
  }
  return ms;
}

const isStruck = ({ struck }: StringHazard) => struck;
const isCarried = ({ carried }: StringHazard) => carried;
const isMuffled = (intent: Intent) => intent === "muffled";
const isQuiet = (intent: Intent) => intent === "quiet";

/** The strings, as bits, of which something is so. */
function maskOf<T>(rows: readonly T[], test: (row: T) => boolean): number {
  let mask = 0;
  for (let s = 0; s < rows.length; s++) if (test(rows[s]!)) mask |= bit(s + 1);
  return mask;
}

function unpressed({ presses }: HandState, count: number): number {
  let mask = 0;
  for (let string = 1; string <= count; string++) if (pressedAt(presses, string) === 0) mask |= bit(string);
  return mask;
}

/** Per step: the strings, as bits, that are meant to sound or may again before a ring on them counts as stray. */
function soonMeantAgain({ steps, strings, endMs }: Timeline, intent: IntentTable, cache?: ProblemCache): number[] {
  return fold(SOON_MEANT, { steps, intent }, { keys: steps, beside: [intent], start: new Array(strings).fill(endMs), cache: cache?.soonMeant });
}

const SOON_MEANT: Stage<{ steps: Timeline["steps"]; intent: IntentTable }, readonly number[], number> = {
  same: sameItems,
  backward: true,
  work: (until, i, { steps, intent }) => {
    const { ms } = steps[i]!;
    const here = until.map((then, s) => (intent[i]![s] === "quiet" || intent[i]![s] === "thud" ? then : ms));
    return [here.reduce((mask, then, s) => (then - ms < LEAST_STRAY_MS ? mask | bit(s + 1) : mask), 0), here];
  },
};
