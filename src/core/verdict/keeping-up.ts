import { FoldCache, fold, type Stage, sameItems } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import { textOf } from "../caching/text.ts";
import type { Limit } from "../document/plan.ts";
import { GESTURES } from "../hands/gestures.ts";
import type { PlannedHand } from "../hands/parts.ts";
import type { Posture } from "../hands/postures.ts";
import { TEMPO } from "../music/tempo.ts";
import { fractionOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import { harmOf, isForced, momentOf, movesBetween } from "../plan/costs.ts";
import type { Move } from "../plan/moves.ts";
import { groupsOf } from "../plan/posture-groups.ts";
import type { Problem, ProblemStep } from "../plan/problem.ts";
import { countOf } from "../timeline/counts.ts";
import { FIRST_BEYOND, NO_LIMIT } from "../words/limits.ts";
import { HIGHEST_CEILING } from "./ceiling.ts";
import type { PlannedStages } from "./verdict.ts";

/*
 * Up to which tempo the hands keep up, from one plan: how much time a gesture takes is the player's, how much there is for it goes with
 * the tempo. So every gesture has a tempo up to which there is time; the way through the postures whose fastest
 * such tempo is highest says what the hands can do. No plan at another tempo is needed.
 */

/** How many times as fast as written; without end where nothing takes time. */
type Factor = number;

/** Per pair of postures of a step, those of one fretting posture one after the other: up to which factor hands get there and keep up all the way. */
interface Reach {
  step: ProblemStep | null;
  factors: readonly Factor[];
}

type Tables = Map<string, Map<number, Map<number, readonly Factor[]>>>;

/** What this remembers from one version of a passage to the next, for one player. */
export class KeepingUpCache {
  readonly reaches = new FoldCache<Reach, Factor>();
  readonly tables: Tables = new Map();
}

/** The limit of what the hands can do, and the gesture that gives out first beyond it; null where they do not keep up at the lowest tempo. */
export function handsLimitOf(passage: Passage, { problem, timeline }: PlannedStages, cache = new KeepingUpCache()): Limit | null {
  const reached = reachedUpTo(problem, cache);
  const fastest = (reached.at(-1) ?? Number.POSITIVE_INFINITY) * passage.tempo;
  const tempo = Math.min(HIGHEST_CEILING, Math.floor(fastest + ROUNDING));
  if (tempo < TEMPO.lowest) return null;
  if (tempo === HIGHEST_CEILING) return { tempo, says: NO_LIMIT.hands };
  // It only falls: where it falls below the next tempo, no way through has time any more.
  const keepsUp = (factor: Factor) => factor * passage.tempo + ROUNDING >= tempo + 1;
  const at = reached.findIndex((factor) => !keepsUp(factor));
  const { bar, atTicks } = timeline.steps[problem.stepOf.indexOf(at)]!;
  const { step, factors } = cache.reaches.before[at]!;
  const { kind } = firstToGiveOut(
    step!,
    factors.map((factor) => (keepsUp(factor) ? Number.POSITIVE_INFINITY : 0)),
    problem.steps[at]!,
    cache.tables,
  );
  const move = kind === "settle" ? "settling" : GESTURES[kind].name;
  return { tempo, bar: bar + 1, at: fractionOf(atTicks), says: FIRST_BEYOND.hands(tempo, move, bar + 1, countOf(atTicks, passage.bars[bar]!)) };
}

/** Of tempos, well below what anyone can tell. */
const ROUNDING = 1e-6;

/** Per step of the problem: up to which factor the hands can keep up from the start until there. */
function reachedUpTo({ steps }: Problem, { reaches, tables }: KeepingUpCache): readonly Factor[] {
  return fold(REACHES, { steps, tables }, { keys: steps, start: { step: null, factors: [] }, cache: reaches });
}

const REACHES: Stage<{ steps: readonly ProblemStep[]; tables: Tables }, Reach, Factor> = {
  same: (a, b) => a.step === b.step && sameItems(a.factors, b.factors),
  work: (before, i, { steps, tables }) => {
    const step = steps[i]!;
    const factors = before.step === null ? withoutHarm(step) : onwardFrom(before.factors, before.step, step, tables);
    return [Math.max(...factors), { step, factors }];
  },
};

/** Every pair of postures in which nothing that should be heard is choked, if there is one. */
function withoutHarm(step: ProblemStep): Factor[] {
  const fretting = groupsOf(step.fretting).shapes;
  const picking = groupsOf(step.picking).shapes;
  if (step.muffled === 0) return new Array(fretting.length * picking.length).fill(Number.POSITIVE_INFINITY);
  const harms = fretting.flatMap((fs) => picking.map((ps) => leastHarm(step, fs, ps)));
  const least = Math.min(...harms);
  return harms.map((harm) => (harm === least ? Number.POSITIVE_INFINITY : 0));
}

function leastHarm(step: ProblemStep, fretting: readonly number[], picking: readonly number[]): number {
  return Math.min(...fretting.flatMap((f) => picking.map((p) => harmOf(step, step.fretting[f]!, step.picking[p]!))));
}

/** First the fretting hand moves, then the picking hand. */
function onwardFrom(factors: readonly Factor[], from: ProblemStep, to: ProblemStep, tables: Tables): Factor[] {
  const fretting = tableOf(from, to, "fretting", tables);
  const picking = tableOf(from, to, "picking", tables);
  const reach = withoutHarm(to);
  const columns = groupsOf(from.picking).postures.length;
  const columnsTo = groupsOf(to.picking).postures.length;
  const rows = factors.length / columns;
  const rowsTo = reach.length / columnsTo;
  for (let f = 0; f < rowsTo; f++) {
    const half: Factor[] = new Array(columns).fill(0);
    for (let p = 0; p < columns; p++)
      for (let a = 0; a < rows; a++) half[p] = Math.max(half[p]!, Math.min(factors[a * columns + p]!, fretting[a * rowsTo + f]!));
    for (let p = 0; p < columnsTo; p++) {
      let best = 0;
      for (let a = 0; a < columns; a++) best = Math.max(best, Math.min(half[a]!, picking[a * columnsTo + p]!));
      reach[f * columnsTo + p] = Math.min(reach[f * columnsTo + p]!, best);
    }
  }
  return reach;
}

/** Of every move of a hand into a step: up to which factor there is time for it. Steps that have the same time for the same moves share them. */
function tableOf(from: ProblemStep, to: ProblemStep, hand: PlannedHand, tables: Tables): readonly Factor[] {
  const left = groupsOf(from[hand]);
  const next = groupsOf(to[hand]);
  const byLists = knownIn(tables, textOf([momentOf(to, hand), to.clock]), () => new Map<number, Map<number, readonly Factor[]>>());
  const onward = knownIn(byLists, left.list, () => new Map<number, readonly Factor[]>());
  return knownIn(onward, next.list, () => left.postures.flatMap((a) => next.postures.map((b) => factorOf(to, a, b, next.postures))));
}

function factorOf(step: ProblemStep, from: Posture, to: Posture, next: readonly Posture[]): Factor {
  let factor = Number.POSITIVE_INFINITY;
  for (const move of movesBetween(step, from, to)) factor = Math.min(factor, timeFor(step, move, from, next));
  return factor;
}

/** A forced move that is late by less than this is not called rushed, in ms; others have to be in time. */
const BARELY_RUSHED_MS = 0.5;
const IN_TIME_MS = 0.0005;

/** Up to which factor there is time for a move: all that goes with the tempo, divided by what does not. */
function timeFor({ clock, untilPressMs, frettingIdleMs }: ProblemStep, move: Move, from: Posture, next: readonly Posture[]): Factor {
  if (move.takesMs === 0) return Number.POSITIVE_INFINITY;
  const { sinceMs, speakMs, restMs, restSpeakMs } = clock;
  const needs = move.takesMs + speakMs - (isForced(move, from, next) ? BARELY_RUSHED_MS : IN_TIME_MS);
  if (move.more === "press") return (sinceMs + untilPressMs) / needs;
  if (move.more === null) return sinceMs / needs;
  if (from.hand === "fretting") return (sinceMs + frettingIdleMs) / needs;
  return Math.max(sinceMs / needs, (sinceMs + restMs) / (needs + restSpeakMs));
}

/** On the best way into a step, from any pair of postures that counts: the move there is least time for. */
function firstToGiveOut(from: ProblemStep, factors: readonly Factor[], to: ProblemStep, tables: Tables): Move {
  const reach = onwardFrom(factors, from, to, tables);
  const best = Math.max(...reach);
  const [f, p] = pairAt(reach.indexOf(best), to);
  const columnsTo = groupsOf(to.picking).postures.length;
  const rowsTo = groupsOf(to.fretting).postures.length;
  const fretting = tableOf(from, to, "fretting", tables);
  const picking = tableOf(from, to, "picking", tables);
  const through = factors.findIndex((factor, k) => {
    const [a, b] = pairAt(k, from);
    return Math.min(factor, fretting[a * rowsTo + f]!, picking[b * columnsTo + p]!) === best;
  });
  const [a, b] = pairAt(through, from);
  const moves = [
    ...movesWithin(to, groupsOf(from.fretting).postures[a]!, groupsOf(to.fretting).postures, f),
    ...movesWithin(to, groupsOf(from.picking).postures[b]!, groupsOf(to.picking).postures, p),
  ];
  return moves.reduce((least, one) => (one.factor < least.factor ? one : least)).move;
}

function pairAt(k: number, { picking }: ProblemStep): [fretting: number, picking: number] {
  const columns = groupsOf(picking).postures.length;
  return [Math.floor(k / columns), k % columns];
}

function movesWithin(step: ProblemStep, from: Posture, next: readonly Posture[], to: number): { move: Move; factor: Factor }[] {
  return movesBetween(step, from, next[to]!).map((move) => ({ move, factor: timeFor(step, move, from, next) }));
}
