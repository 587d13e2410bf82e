import type { Limits, PinPrice, PlanDocument, PlannedStep, Remedy } from "./document/plan.ts";
import { EngineMemory } from "./engine-memory.ts";
import { fingeringOf } from "./fingering/fingering.ts";
import { gripsOf } from "./grips/grips.ts";
import { SIDE } from "./hands/parts.ts";
import { hazardsOf } from "./hazards/hazards.ts";
import { intentOf } from "./intent/intent.ts";
import { type Loudness, loudnessOf } from "./loudness/loudness.ts";
import { each } from "./memory/fold.ts";
import { fractionOf, ticksOf } from "./music/ticks.ts";
import type { Passage, Pin } from "./passage/schema.ts";
import { settingsOf } from "./passage/settings.ts";
import { type PlanPath, planOf } from "./plan/planner.ts";
import { type Problem, problemOf } from "./plan/problem.ts";
import { type Progress, type Refingered, refingerPassage } from "./refinger/refinger.ts";
import { remediesFor } from "./remedies/remedies.ts";
import { scriptsOf } from "./script/sentences.ts";
import { covers, isUnmet } from "./shapes/pins.ts";
import { type StepShapes, shapesOf, withPins } from "./shapes/shapes.ts";
import { wrapOf } from "./shapes/wrap.ts";
import { countOf } from "./timeline/counts.ts";
import { timelineOf } from "./timeline/timeline.ts";
import type { Issue, Step, Timeline } from "./timeline/types.ts";
import { atTempo } from "./verdict/ceiling.ts";
import { bottlenecksOf, countsOf } from "./verdict/figures.ts";
import { limitOf, limitsSearch, lowerOf } from "./verdict/limits.ts";
import { faintStraysOf, outcomesOf, type Planned, straysOf, withReasons } from "./verdict/verdict.ts";
import { FIRST_BEYOND, NO_LIMIT } from "./words/limits.ts";
import { priceWords } from "./words/pins.ts";

export interface PlanOptions {
  /** For which strings `whyNot` is given: by default strays. It takes planning of its own, so a caller in haste asks later. */
  why?: "nothing" | "strays" | "everything";
  /** Tells what pins cost; each takes a plan of its own. */
  pinPrices?: boolean;
  memory?: EngineMemory;
}

/** All stages up to the plan itself. With a memory, what an edit left alone is not worked out again; `solve` is asked for plans that no edit follows. */
export function planStages(
  passage: Passage,
  memory = new EngineMemory(),
  solve: (problem: Problem) => PlanPath | null = (problem) => memory.plan.plan(problem),
): Planned {
  const { instrument } = passage;
  const pins = passage.pins ?? [];
  const settings = settingsOf(passage);
  const parts = memory.of(passage, settings);
  const timeline = timelineOf(passage, settings, memory.timeline);
  const grips = gripsOf(passage, timeline, settings, parts.grips);
  const fingering = fingeringOf(timeline, grips, instrument, settings, parts.fingering);
  const intent = intentOf(timeline, grips.held, fingering.hands, settings, instrument, parts.intent);
  const hazards = hazardsOf(timeline, grips.held, fingering.hands, intent, settings, parts.hazards);
  const wrap = wrapOf(timeline, intent, settings, pins);
  const possible = shapesOf(timeline, intent, fingering, settings, instrument, parts.strings, wrap.on, parts.shapes);
  const shapes = withPins(possible, timeline, pins);
  const problem = problemOf(timeline, intent, hazards, fingering.hands, shapes, wrap.on, instrument.kind, settings, parts.problem);
  const path = solve(problem);
  // Pins can contradict each other: then they are left aside, and told as unmet.
  if (path === null && pins.length > 0) return { ...planStages({ ...passage, pins: [] }, memory, solve), pinsClash: true };
  // Every step lets both hands stay or be off, so this would be a defect of the catalogue.
  if (path === null) throw new Error("the shapes of two neighbouring steps cannot follow each other");
  return { settings, timeline, grips, intent, hazards, fingering, wrap, shapes, problem, path };
}

/** The damping plan of a valid passage, without the ceiling tempo, which `ceilingTempo` adds. */
export function planPassage(passage: Passage, options: PlanOptions = {}): PlanDocument {
  const memory = options.memory ?? new EngineMemory();
  return documentOf(passage, planStages(passage, memory), { why: "strays", pinPrices: true, ...options, memory });
}

/** Strings that are struck and clicked on at a step, where any are. */
function struckAt({ stroke }: Step): Pick<PlannedStep, "struck" | "clicked"> {
  return {
    ...(stroke && stroke.crossed.length > 0 ? { struck: [...stroke.crossed] } : {}),
    ...(stroke && stroke.clicked.length > 0 ? { clicked: [...stroke.clicked] } : {}),
  };
}

/** The plan document of stages that are already worked out. */
export function documentOf(passage: Passage, planned: Planned, { why = "nothing", pinPrices = false, memory = new EngineMemory() }: PlanOptions): PlanDocument {
  const settings = settingsOf(passage);
  const { timeline, fingering, path } = planned;
  const { steps } = timeline;
  const parts = memory.of(passage, settings);
  const found = outcomesOf(planned, parts.verdict);
  const outcomes = why === "nothing" ? found : withReasons(planned, found, why);
  const scripts = scriptsOf(planned, found, parts.scripts);
  return {
    format: "rest-hand-plan",
    version: 2,
    tempo: passage.tempo,
    issues: [...timeline.issues, ...planned.grips.issues, ...fingering.issues, ...planned.wrap.issues, ...palmIssues(planned), ...pinIssues(passage, planned)],
    steps: each(
      steps,
      [outcomes, scripts],
      (i) => ({
        bar: steps[i]!.bar + 1,
        at: fractionOf(steps[i]!.atTicks),
        ms: steps[i]!.ms,
        lengthMs: steps[i]!.lengthMs,
        position: fingering.hands[i]!.position,
        ...struckAt(steps[i]!),
        strings: outcomes[i]!.strings,
        actions: scripts[i]!.actions,
        fretting: scripts[i]!.fretting,
        picking: scripts[i]!.picking,
      }),
      parts.document,
    ),
    strays: [...straysOf(planned, outcomes), ...faintStraysOf(planned, outcomes)],
    bottlenecks: bottlenecksOf(planned, outcomes),
    ...(pinPrices && passage.pins?.length ? { pins: pricesOf(passage, planned) } : {}),
    counts: countsOf(planned, outcomes),
    cost: { ...path.cost, effort: Math.round(path.cost.effort / 1000) },
  };
}

/** Palm-muted notes that no palm can cover, because a string on its way has to ring. */
function palmIssues({ timeline, problem, path }: Planned): Issue[] {
  const issues: Issue[] = [];
  timeline.steps.forEach((step, i) => {
    const k = problem.stepOf[i]!;
    const stakes = problem.steps[k]!;
    const { fretting, picking } = path.chosen[k]!;
    const bare = stakes.muffled & ~(stakes.picking[picking]!.muffles | stakes.fretting[fretting]!.muffles);
    if (bare === 0 || !step.stroke) return;
    step.sounding.forEach((note, s) => {
      if (!note || !step.begins[s] || (bare & (1 << s)) === 0) return;
      issues.push({
        code: "palm-cannot-cover",
        path: `/bars/${note.bar}/strokes/${note.stroke}/notes/${note.note}`,
        bar: step.bar + 1,
        at: fractionOf(step.atTicks),
        says: `The palm cannot mute string ${s + 1} here: it would have to lie on a string that should ring, or your school keeps it off.`,
      });
    });
  });
  return issues;
}

function pinIssues(passage: Passage, { timeline, shapes, pinsClash }: Planned): Issue[] {
  if (pinsClash)
    return [{ code: "pin-unmet", path: "/pins", bar: 1, at: "0", says: "These pins cannot all be met one after the other; the plan leaves them aside." }];
  return (passage.pins ?? []).flatMap((pin, p) => {
    const step = unmetAt(pin, timeline, shapes);
    if (!step) return [];
    return [
      {
        code: "pin-unmet",
        path: `/pins/${p}`,
        bar: step.bar + 1,
        at: fractionOf(step.atTicks),
        says:
          pin.want === "demand"
            ? `The ${pin.contact.part} you asked for on string ${pin.string} is not possible here.`
            : `The ${pin.contact.part} on string ${pin.string} that you ruled out cannot be left out here.`,
      },
    ];
  });
}

function unmetAt(pin: Pin, timeline: Timeline, shapes: readonly StepShapes[]): Step | undefined {
  return timeline.steps.find((step, i) => covers(pin, step, timeline) && isUnmet(pin, shapes[i]![SIDE[pin.contact.hand]].shapes));
}

/** What every pin costs: the plan as it is against the plan without that pin. */
export function pricesOf(passage: Passage, planned: Planned, memory = new EngineMemory()): PinPrice[] {
  const pins = passage.pins ?? [];
  return pins.map((pin, p) => {
    const free = planStages({ ...passage, pins: pins.filter((_, i) => i !== p) }, memory);
    const without = free.path.cost;
    const { cost } = planned.path;
    const price = {
      harm: cost.harm - without.harm,
      rushed: cost.rushed - without.rushed,
      stray: cost.stray - without.stray,
      effort: Math.round((cost.effort - without.effort) / 1000),
      changes: cost.changes - without.changes,
    };
    const met = unmetAt(pin, planned.timeline, planned.shapes) === undefined;
    return { path: `/pins/${p}`, met, price, says: priceWords(price, ringing(planned), ringing(free)) };
  });
}

/** Strings that ring astray and are heard. */
function ringing(planned: Planned): Set<number> {
  return new Set(straysOf(planned, outcomesOf(planned)).map(({ string }) => string));
}

/** Both limits of tempo as a search that yields after every plan it makes; see `limitsSearch`. */
export function* limits(passage: Passage, memory = new EngineMemory()): Generator<number, Limits, void> {
  const planAt = (tempo: number) => planStages(atTempo(passage, tempo), memory, planOf);
  const { hands, clean } = yield* limitsSearch((tempo) => {
    const { cost } = planAt(tempo).path;
    return { isRushed: cost.rushed > 0, rings: cost.stray > 0 };
  });
  const count = (bar: number, at: string) => countOf(ticksOf(at), passage.bars[bar - 1]!);
  return {
    hands: limitOf(hands, {
      none: NO_LIMIT.hands,
      first: (tempo) => {
        const planned = planAt(tempo + 1);
        const { bar, at, move } = bottlenecksOf(planned, outcomesOf(planned))[0]!;
        return { bar, at, says: FIRST_BEYOND.hands(tempo, move, bar, count(bar, at)) };
      },
    }),
    clean: limitOf(clean, {
      none: NO_LIMIT.clean,
      first: (tempo) => {
        const planned = planAt(tempo + 1);
        const { string, fromBar, fromAt } = straysOf(planned, outcomesOf(planned))[0]!;
        return { bar: fromBar, at: fromAt, says: FIRST_BEYOND.clean(tempo, string, fromBar, count(fromBar, fromAt)) };
      },
    }),
  };
}

/** The lower of both limits as a search; null where one has none. */
export function* ceilingTempo(passage: Passage, memory = new EngineMemory()): Generator<number, number | null, void> {
  return lowerOf(yield* limits(passage, memory));
}

/** What could be done about the stray rings, as a search that yields after every plan it makes; see `remediesFor`. */
export function remedies(passage: Passage, planned: Planned, ceiling: number | null, memory = new EngineMemory()): Generator<void, Remedy[], void> {
  return remediesFor(passage, planned, ceiling, (changed) => planStages(changed, memory));
}

/** How loud every string is at every step, planned and undamped; see `loudnessOf`. */
export function loudness(passage: Passage, planned: Planned, memory = new EngineMemory()): Loudness[][] {
  const { hazards, verdict } = memory.of(passage, settingsOf(passage));
  return loudnessOf(planned, outcomesOf(planned, verdict), hazards.model);
}

/** Other places and fingers for the whole passage, as a search that yields its progress; see `refingerPassage`. */
export function refinger(passage: Passage, memory = new EngineMemory()): Generator<Progress, Refingered, void> {
  return refingerPassage(passage, (changed) => planStages(changed, memory));
}

/** The plan with its ceiling tempo and remedies, for callers that can wait. */
export function wholePlan(passage: Passage, options: PlanOptions = {}): PlanDocument {
  const memory = options.memory ?? new EngineMemory();
  const planned = planStages(passage, memory);
  const { cost, ...plan } = documentOf(passage, planned, { why: "strays", pinPrices: true, ...options, memory });
  const found = finished(limits(passage));
  const ceiling = lowerOf(found);
  return { ...plan, limits: found, ceilingTempo: ceiling, remedies: finished(remedies(passage, planned, ceiling, memory)), cost };
}

/** The result of a search that nobody wants to stop. */
export function finished<T>(search: Generator<unknown, T, void>): T {
  let step = search.next();
  while (!step.done) step = search.next();
  return step.value;
}
