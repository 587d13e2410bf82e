import { fold, onItsOwn } from "./caching/fold.ts";
import { type Limits, lowerOf, type PinPrice, type PlanDocument, type PlannedStep, type Remedy } from "./document/plan.ts";
import { EngineCache } from "./engine-cache.ts";
import { fingeringOf } from "./fingering/fingering.ts";
import { gripsOf } from "./grips/grips.ts";
import { hazardsOf } from "./hazards/hazards.ts";
import { intentOf } from "./intent/intent.ts";
import { type Loudness, loudnessOf } from "./loudness/loudness.ts";
import { fractionOf } from "./music/ticks.ts";
import type { Passage } from "./passage/schema.ts";
import { atTempo } from "./passage/tempo.ts";
import { type PlanPath, planOf } from "./plan/planner.ts";
import { type Problem, problemOf } from "./plan/problem.ts";
import { proposalsFor } from "./propose/propose.ts";
import { type SchoolQuestion, schoolsFor } from "./propose/schools.ts";
import type { Proposal, Wishes } from "./propose/types.ts";
import { type Progress, type Refingered, refingerPassage } from "./refinger/refinger.ts";
import { remediesFor } from "./remedies/remedies.ts";
import { type Script, scriptsOf } from "./script/sentences.ts";
import { shapesOf, withPins } from "./shapes/shapes.ts";
import { wrapOf } from "./shapes/wrap.ts";
import { timelineOf } from "./timeline/timeline.ts";
import type { Step } from "./timeline/types.ts";
import { bottlenecksOf, countsOf } from "./verdict/figures.ts";
import { issuesOf } from "./verdict/findings.ts";
import { handsLimitOf } from "./verdict/keeping-up.ts";
import { limitsOf } from "./verdict/limits.ts";
import { pinPricesOf } from "./verdict/pin-prices.ts";
import { faintStraysOf, type Outcome, outcomesOf, type PlannedStages, straysOf, withReasons } from "./verdict/verdict.ts";

export interface PlanOptions {
  /** For which strings `whyNot` is given: by default strays. It takes planning of its own, so a caller in haste asks later. */
  why?: "nothing" | "strays" | "everything";
  /** Says what pins cost; each takes a plan of its own. */
  pinPrices?: boolean;
  cache?: EngineCache;
}

/** All stages up to the plan itself. With a cache, what an edit left alone is not worked out again; `solve` is asked for plans that no edit follows. */
export function planStages(
  passage: Passage,
  cache = new EngineCache(),
  solve: (problem: Problem) => PlanPath | null = (problem) => cache.plan.plan(problem),
): PlannedStages {
  const { instrument } = passage;
  const pins = passage.pins ?? [];
  const parts = cache.of(passage);
  const { settings } = parts;
  const timeline = timelineOf(passage, settings, cache.timeline);
  const grips = gripsOf(passage, timeline, settings, parts.grips);
  const fingering = fingeringOf(timeline, grips, instrument, settings, parts.fingering);
  const intent = intentOf(timeline, grips.held, fingering.hands, settings, instrument, parts.intent);
  const hazards = hazardsOf(timeline, grips.held, fingering.hands, intent, settings, parts.hazards);
  const wrap = wrapOf(timeline, intent, settings, pins);
  const possible = shapesOf({ timeline, intent, fingering, held: grips.held, settings, instrument, wrapped: wrap.on }, parts.strings, parts.shapes);
  const shapes = withPins(possible, timeline, pins);
  const found = { timeline, intent, hazards, hands: fingering.hands, shapes, wrapped: wrap.on, kind: instrument.kind, settings };
  const problem = problemOf(found, parts.problem);
  const path = solve(problem);
  // Pins can contradict each other: then they are left aside, and reported as unmet.
  if (path === null && pins.length > 0) return { ...planStages({ ...passage, pins: [] }, cache, solve), pinsClash: true };
  // Every step lets both hands stay or be off, so this would be a defect of the catalogue.
  if (path === null) throw new Error("the shapes of two neighbouring steps cannot follow each other");
  return { settings, timeline, grips, intent, hazards, fingering, wrap, shapes, problem, path };
}

/** The damping plan of a valid passage, without the tempo up to which it stays clean, which `limits` finds. */
export function planPassage(passage: Passage, options: PlanOptions = {}): PlanDocument {
  const cache = options.cache ?? new EngineCache();
  return documentOf(passage, planStages(passage, cache), { why: "strays", pinPrices: true, ...options, cache });
}

/** Strings that are struck and clicked on at a step, where any are. */
function struckAt({ stroke }: Step): Pick<PlannedStep, "struck" | "clicked"> {
  return {
    ...(stroke && stroke.crossed.length > 0 ? { struck: [...stroke.crossed] } : {}),
    ...(stroke && stroke.clicked.length > 0 ? { clicked: [...stroke.clicked] } : {}),
  };
}

/** The plan document of stages that are already worked out. */
export function documentOf(
  passage: Passage,
  planned: PlannedStages,
  { why = "nothing", pinPrices = false, cache = new EngineCache() }: PlanOptions,
): PlanDocument {
  const { path } = planned;
  const parts = cache.of(passage);
  const found = outcomesOf(planned, parts.verdict);
  const outcomes = why === "nothing" ? found : withReasons(planned, found, why);
  const scripts = scriptsOf(planned, parts.scripts);
  return {
    format: "rest-hand-plan",
    version: 2,
    tempo: passage.tempo,
    issues: issuesOf(passage, planned),
    steps: fold(PLANNED, { planned, outcomes, scripts }, { keys: planned.timeline.steps, beside: [outcomes, scripts], start: null, cache: parts.document }),
    strays: [...straysOf(planned, outcomes), ...faintStraysOf(planned, outcomes)],
    limits: { hands: handsLimitOf(passage, planned, parts.keepingUp) },
    bottlenecks: bottlenecksOf(planned, outcomes),
    ...(pinPrices && passage.pins?.length ? { pins: pricesOf(passage, planned) } : {}),
    counts: countsOf(planned, outcomes),
    cost: { ...path.cost, effort: Math.round(path.cost.effort / 1000) },
  };
}

interface Told {
  planned: PlannedStages;
  outcomes: readonly Outcome[];
  scripts: readonly Script[];
}

const PLANNED = onItsOwn((i, { planned: { timeline, fingering }, outcomes, scripts }: Told): PlannedStep => {
  const step = timeline.steps[i]!;
  return {
    bar: step.bar + 1,
    at: fractionOf(step.atTicks),
    ms: step.ms,
    lengthMs: step.lengthMs,
    position: fingering.hands[i]!.position,
    ...struckAt(step),
    strings: outcomes[i]!.strings,
    actions: scripts[i]!.actions,
    fretting: scripts[i]!.fretting,
    picking: scripts[i]!.picking,
  };
});

/** What every pin costs; see `pinPricesOf`. */
export function pricesOf(passage: Passage, planned: PlannedStages, cache = new EngineCache()): PinPrice[] {
  return pinPricesOf(passage, planned, (changed) => planStages(changed, cache));
}

/** Both limits of tempo as a search that yields after every plan it makes; see `limitsOf`. */
export function limits(passage: Passage, cache = new EngineCache()): Generator<number, Limits, void> {
  return limitsOf(passage, (tempo) => planStages(atTempo(passage, tempo), cache, planOf));
}

/** The lower of both limits as a search; null where one has none. */
export function* ceilingTempo(passage: Passage, cache = new EngineCache()): Generator<number, number | null, void> {
  return lowerOf(yield* limits(passage, cache));
}

/** What could be done about the stray rings, as a search that yields after every plan it makes; see `remediesFor`. */
export function remedies(passage: Passage, planned: PlannedStages, ceiling: number | null, cache = new EngineCache()): Generator<void, Remedy[], void> {
  return remediesFor(passage, planned, ceiling, (changed) => planStages(changed, cache));
}

/** How loud every string is at every step, planned and undamped; see `loudnessOf`. */
export function loudness(passage: Passage, planned: PlannedStages, cache = new EngineCache()): Loudness[][] {
  const { hazards, verdict } = cache.of(passage);
  return loudnessOf(planned, outcomesOf(planned, verdict), hazards.model);
}

/** Other places and fingers for the whole passage, as a search that yields its progress; see `refingerPassage`. */
export function refinger(passage: Passage, cache = new EngineCache()): Generator<Progress, Refingered, void> {
  return refingerPassage(passage, (changed) => planStages(changed, cache));
}

/** Patterns for the chords of a passage, as a search that yields its progress; see `proposalsFor`. */
export function proposals(passage: Passage, wishes: Wishes, cache = new EngineCache()): Generator<Progress, Proposal[], void> {
  return proposalsFor(passage, wishes, (changed) => planStages(changed, cache));
}

/** Every way to play a passage, as a search that yields its progress; see `schoolsFor`. */
export function schools(passage: Passage, cache = new EngineCache()): Generator<Progress, SchoolQuestion[], void> {
  return schoolsFor(passage, (changed) => planStages(changed, cache));
}

/** The plan with its ceiling tempo and remedies, for callers that can wait. */
export function wholePlan(passage: Passage, options: PlanOptions = {}): PlanDocument {
  const cache = options.cache ?? new EngineCache();
  const planned = planStages(passage, cache);
  const { cost, ...plan } = documentOf(passage, planned, { why: "strays", pinPrices: true, ...options, cache });
  const found = finished(limits(passage));
  const ceiling = lowerOf(found);
  return { ...plan, limits: found, ceilingTempo: ceiling, remedies: finished(remedies(passage, planned, ceiling, cache)), cost };
}

/** The result of a search that nobody wants to stop. */
export function finished<T>(search: Generator<unknown, T, void>): T {
  let step = search.next();
  while (!step.done) step = search.next();
  return step.value;
}
