import { LEAST_STRAY_MS } from "../acoustics/constants.ts";
import { FoldCache, fold, sameItems } from "../caching/fold.ts";
import { doesGripMove, type HandState, pressedAgain, pressedAt } from "../fingering/hand-state.ts";
import { PRICES } from "../hands/prices.ts";
import { leastHeardDb, levelAt } from "../hazards/hazards.ts";
import type { Excitation, HazardTable, StepHazards, StringHazard } from "../hazards/types.ts";
import type { Intent, IntentTable } from "../intent/intent.ts";
import type { InstrumentKind } from "../music/instruments.ts";
import type { Settings } from "../passage/settings.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import { isWanted } from "../shapes/situation.ts";
import { bit, type FrettingShape, type PickingShape } from "../shapes/types.ts";
import type { Step, Timeline } from "../timeline/types.ts";

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

/** What one string has at stake in one step. State j means: its newest j excitations are unsilenced. */
export interface StringStakes {
  /** Cost of leaving it alone in state j where that is heard, in thousandths of dB·s over the threshold. */
  cost: readonly number[];
  /** The same of what is too faint to be heard as a stray, as effort in thousandths of a tenth. */
  faint: readonly number[];
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

/** What the problem remembers of the last version of a passage. */
export class ProblemCache {
  readonly soonMeant = new FoldCache<readonly number[], number>();
  readonly steps = new FoldCache<Before, StepProblem>();
  readonly joined = new WeakMap<ProblemStep, { rest: readonly StepProblem[]; step: ProblemStep }>();
}

/** What a step needs to know of those before it. */
interface Before {
  /** Start of the last step at which the hands were asked for something, and whether it had a stroke. */
  startMs: number;
  hasStroke: boolean;
  /** Since when the fretting hand has pressed nothing and the picking hand has struck nothing. */
  pressedNothingSinceMs: number;
  /** When it struck last. */
  struckMs: number | null;
  rows: readonly StringHazard[];
  intents: readonly Intent[];
  hand: HandState | null;
}

/** The same object every time, so that the first step is known again. */
const AT_START: Before = {
  startMs: Number.NEGATIVE_INFINITY,
  hasStroke: false,
  pressedNothingSinceMs: 0,
  struckMs: null,
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
  const own = fold<Before, StepProblem>({
    keys: steps,
    beside: [intent, hazards, hands, shapes, soonMeant, untilPressMs],
    start: AT_START,
    same: (a, b) =>
      a.startMs === b.startMs &&
      a.pressedNothingSinceMs === b.pressedNothingSinceMs &&
      a.struckMs === b.struckMs &&
      a.hasStroke === b.hasStroke &&
      a.rows === b.rows &&
      a.hand === b.hand &&
      sameItems(a.intents, b.intents),
    cache: cache?.steps,
    work: (before, i) => stepProblem(found, i, soonMeant[i]!, untilPressMs[i]!, before),
  });
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

function stepProblem(found: Findings, at: number, soonMeant: number, untilPressMs: number, before: Before): readonly [StepProblem, Before] {
  const { wrapped, kind, settings } = found;
  const step = found.timeline.steps[at]!;
  const intents = found.intent[at]!;
  const hazards = found.hazards[at]!;
  const hand = found.hands[at]!;
  const shapes = found.shapes[at]!;
  const rows = hazards.strings;
  const uneventful = before.hand !== null && isUneventful(step, intents, rows, hand, before);
  const strings = stakesOf(step, intents.some(isWanted), kind, hazards, before.rows, soonMeant, (string) => wrapped && pressedAt(hand.presses, string) === 0);
  const clock = clockOf(step, before);
  const problem: ProblemStep = {
    fretting: shapes.fretting.shapes,
    picking: shapes.picking.shapes,
    lengthMs: Math.round(step.lengthMs),
    hasStroke: step.stroke !== null,
    haveMs: Math.max(1, clock.sinceMs - clock.speakMs),
    strings,
    struck: maskOf(rows, (row) => row.struck),
    carried: maskOf(rows, (row) => row.carried),
    muffled: intents.reduce((mask, x, s) => (x === "muffled" ? mask | bit(s + 1) : mask), 0),
    quiet: intents.reduce((mask, x, s) => (x === "quiet" ? mask | bit(s + 1) : mask), 0),
    atRisk: riskyOf(strings),
    gripMoves: doesGripMove(before.hand, hand),
    letsChordGo: before.hand !== null && hand.presses.length === 0 && stringsPressed(before.hand) > 1,
    pressesAgain: AGAIN[Math.min(2, before.hand ? pressedAgain(before.hand, hand) : 0)]!,
    untilPressMs,
    frettingIdleMs: Math.max(0, before.startMs - before.pressedNothingSinceMs),
    pickingIdleMs: Math.max(0, clock.restMs - clock.restSpeakMs),
    clock,
    settings,
  };
  return [
    { step: problem, uneventful },
    {
      startMs: uneventful ? before.startMs : step.ms,
      hasStroke: uneventful ? before.hasStroke : problem.hasStroke,
      pressedNothingSinceMs: hand.presses.length > 0 ? step.ms + step.lengthMs : before.pressedNothingSinceMs,
      struckMs: step.stroke ? step.ms : before.struckMs,
      rows,
      intents,
      hand,
    },
  ];
}

/** So that equal bars have equal times. */
function toThousandths(ms: number): number {
  return Math.round(ms * 1000) / 1000;
}

function clockOf(step: Step, { startMs, hasStroke, struckMs }: Before): StepClock {
  return {
    sinceMs: toThousandths(step.ms - startMs),
    speakMs: hasStroke ? SPEAK_MS : 0,
    restMs: toThousandths(startMs - (struckMs ?? 0)),
    restSpeakMs: struckMs === null ? 0 : SPEAK_MS,
  };
}

function stringsPressed({ presses }: HandState): number {
  return presses.reduce((sum, { strings }) => sum + strings.length, 0);
}

const AGAIN = ["nothing", "finger", "chord"] as const;

function stakesOf(
  step: Step,
  meant: boolean,
  kind: InstrumentKind,
  { thresholdDb, strings }: StepHazards,
  before: readonly StringHazard[],
  soonMeant: number,
  isWrapped: (string: number) => boolean,
): StringStakes[] {
  return strings.map((row, s): StringStakes => {
    const earlier = before[s]?.alive ?? [];
    if (row.alive.length === 0 && earlier.length === 0) return NOTHING_AT_STAKE;
    const isSoonMeant = (soonMeant & bit(s + 1)) !== 0;
    const until = step.ms + step.lengthMs;
    const { alive } = row;
    const cost: number[] = new Array(alive.length + 1).fill(0);
    const faint: number[] = new Array(alive.length + 1).fill(0);
    if (!isSoonMeant)
      for (let j = 1; j <= alive.length; j++) {
        const e = alive[j - 1]!;
        cost[j] = Math.max(cost[j - 1]!, heardOver(e, step.ms, until, thresholdDb, leastHeardDb(e, meant, kind)));
        const isBrief = ((e.db - thresholdDb) / e.slope) * 1000 < LEAST_STRAY_MS;
        faint[j] = Math.max(faint[j - 1]!, isBrief ? 0 : Math.round(PRICES.faint * ringOver(e, step.ms, until, thresholdDb, 0)));
      }
    // What is heard is paid for as a stray, not as something faint.
    for (let j = 1; j <= alive.length; j++) if (cost[j]! > 0) faint[j] = 0;
    // A wrap keeps a still string still where nobody presses it; what already sounds goes on under it.
    const fresh = row.onlyShaken && isWrapped(s + 1) ? 0 : row.fresh;
    const next: number[] = new Array(earlier.length + 1).fill(fresh);
    for (let j = 1; j <= earlier.length; j++) {
      let living = 0;
      for (const e of alive) if (e.ms >= earlier[j - 1]!.ms || e.ms === step.ms) living++;
      next[j] = living;
    }
    return { cost, faint, next, fresh, risk: cost[fresh]!, last: NONE_JOINED };
  });
}

/** Of a step joined with none. */
const NONE_JOINED: readonly number[] = [];

const NOTHING_AT_STAKE: StringStakes = { cost: [0], faint: [0], next: [0], fresh: 0, risk: 0, last: NONE_JOINED };

/** Whether a step asks nothing new of either hand: no stroke, nothing set going, the same strings wanted and pressed. */
function isUneventful(step: Step, intents: readonly Intent[], rows: readonly StringHazard[], hand: HandState, before: Before): boolean {
  if (step.stroke) return false;
  const wanted = (x: string) => (x === "free" ? "ring" : x === "thud" ? "quiet" : x);
  if (!intents.every((x, s) => wanted(x) === wanted(before.intents[s]!))) return false;
  if (rows.some((row) => row.fresh > 0)) return false;
  const presses = ({ presses }: HandState) => presses.map((p) => `${p.finger}${p.fret}${p.strings}`).join();
  return presses(hand) === presses(before.hand!);
}

/** The stakes of two steps in a row with nothing new in the second, as one. */
function followedBy(first: StringStakes, second: StringStakes): StringStakes {
  const reached = first.last.length > 0 ? first.last : first.cost.map((_, j) => j);
  const last = reached.map((j) => second.next[j] ?? second.fresh);
  const cost = first.cost.map((c, j) => c + second.cost[last[j]!]!);
  const faint = first.faint.map((c, j) => c + second.faint[last[j]!]!);
  return { ...first, cost, faint, risk: cost[first.fresh]!, last };
}

/** Per step: ms until a finger next presses; 0 when one does in the step itself. */
function msUntilPress(steps: Timeline["steps"], hands: readonly HandState[]): number[] {
  const ms: number[] = new Array(steps.length);
  let next = Number.POSITIVE_INFINITY;
  for (let i = steps.length - 1; i >= 0; i--) {
    if (hands[i]!.presses.length > 0) next = steps[i]!.ms;
    ms[i] = next - steps[i]!.ms;
  }
  return ms;
}

function riskyOf(strings: readonly StringStakes[]): number {
  return strings.reduce((mask, { risk }, s) => (risk > 0 ? mask | bit(s + 1) : mask), 0);
}

function maskOf(rows: readonly StringHazard[], test: (row: StringHazard) => boolean): number {
  return rows.reduce((mask, row, s) => (test(row) ? mask | bit(s + 1) : mask), 0);
}

/** Per step: the strings, as bits, that are meant to sound or may again before a ring on them counts as stray. */
function soonMeantAgain({ steps, strings, endMs }: Timeline, intent: IntentTable, cache?: ProblemCache): number[] {
  return fold<readonly number[], number>({
    keys: steps,
    beside: [intent],
    start: new Array(strings).fill(endMs),
    same: sameItems,
    backward: true,
    cache: cache?.soonMeant,
    work: (until, i) => {
      const { ms } = steps[i]!;
      const here = until.map((then, s) => (intent[i]![s] === "quiet" || intent[i]![s] === "thud" ? then : ms));
      return [here.reduce((mask, then, s) => (then - ms < LEAST_STRAY_MS ? mask | bit(s + 1) : mask), 0), here];
    },
  });
}

/** As `ringOver`, but nothing of what is left of a ring in its last 80 ms. */
function heardOver(e: Excitation, fromMs: number, toMs: number, threshold: number, leastDb: number): number {
  const over = levelAt(e, fromMs) - threshold;
  return ((over - leastDb) / e.slope) * 1000 < LEAST_STRAY_MS ? 0 : ringOver(e, fromMs, toMs, threshold, leastDb);
}

/** Loudness over the threshold × time in dB·ms, while it is over a least level. */
function ringOver(e: Excitation, fromMs: number, toMs: number, threshold: number, leastDb: number): number {
  const over = levelAt(e, fromMs) - threshold;
  if (over < leastDb) return 0;
  const fadesAt = fromMs + ((over - leastDb) / e.slope) * 1000;
  const until = Math.min(toMs, fadesAt);
  const overThen = over - (e.slope * (until - fromMs)) / 1000;
  return Math.round(((over + overThen) / 2) * (until - fromMs));
}
