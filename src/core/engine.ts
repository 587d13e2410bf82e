import { StringSet } from "./acoustics/modal.ts";
import { type Fingering, fingeringOf } from "./fingering/fingering.ts";
import { hazardsOf } from "./hazards/hazards.ts";
import { intentOf } from "./intent/intent.ts";
import { fractionOf } from "./music/ticks.ts";
import type { Passage, Pin } from "./passage/schema.ts";
import { type Settings, settingsOf } from "./passage/settings.ts";
import type { PlanMemory } from "./plan/memory.ts";
import { planOf } from "./plan/planner.ts";
import { problemOf } from "./plan/problem.ts";
import { scriptOf } from "./script/sentences.ts";
import { covers, isUnmet } from "./shapes/pins.ts";
import { ShapeCache, type StepShapes, shapesOf } from "./shapes/shapes.ts";
import { countOf, timelineOf } from "./timeline/timeline.ts";
import type { Issue, Step, Timeline } from "./timeline/types.ts";
import { atTempo, ceilingSearch } from "./verdict/ceiling.ts";
import type { PinPrice, PlanDocument } from "./verdict/document.ts";
import { bottlenecksOf, countsOf } from "./verdict/figures.ts";
import { outcomesOf, type Planned, straysOf } from "./verdict/verdict.ts";

export interface PlanOptions {
  /** For which strings `whyNot` is given: by default strays. It takes planning of its own, so a caller in haste asks later. */
  why?: "nothing" | "strays" | "everything";
  cache?: ShapeCache;
}

/** All stages up to the plan itself. With a memory, steps that an edit left alone are not planned again. */
export function planStages(passage: Passage, settings: Settings, cache = new ShapeCache(), memory?: PlanMemory): Planned {
  const { instrument } = passage;
  const timeline = timelineOf(passage, settings);
  const intent = intentOf(timeline, settings, instrument);
  const hazards = hazardsOf(timeline, intent, settings, instrument);
  const fingering: Fingering = fingeringOf(timeline, instrument, settings);
  const shapes = shapesOf(timeline, intent, fingering, settings, instrument, new StringSet(instrument), passage.pins ?? [], cache);
  const problem = problemOf(timeline, intent, hazards, shapes, settings);
  const path = memory ? memory.plan(problem) : planOf(problem);
  // Pins can contradict each other: then they are left aside, and told as unmet.
  if (path === null && passage.pins?.length) return { ...planStages({ ...passage, pins: [] }, settings, cache), pinsClash: true };
  // Every step lets both hands stay or be off, so this would be a defect of the catalogue.
  if (path === null) throw new Error("the shapes of two neighbouring steps cannot follow each other");
  return { timeline, intent, hazards, fingering, shapes, problem, path };
}

/** The damping plan of a valid passage, without the ceiling tempo, which `ceilingTempo` adds. */
export function planPassage(passage: Passage, options: PlanOptions = {}): PlanDocument {
  const settings = settingsOf(passage);
  return documentOf(passage, planStages(passage, settings, options.cache), options.why ?? "strays");
}

/** The plan document of stages that are already worked out. */
export function documentOf(passage: Passage, planned: Planned, why: NonNullable<PlanOptions["why"]>): PlanDocument {
  const settings = settingsOf(passage);
  const outcomes = outcomesOf(planned, why);
  const { timeline, path } = planned;
  const { cost } = path;
  return {
    format: "rest-hand-plan",
    version: 1,
    tempo: passage.tempo,
    issues: [...timeline.issues, ...planned.fingering.issues, ...notPlannedYet(timeline), ...palmIssues(planned), ...pinIssues(passage, planned)],
    steps: timeline.steps.map((step, i) => ({
      bar: step.bar + 1,
      at: fractionOf(step.atTicks),
      ms: step.ms,
      lengthMs: step.lengthMs,
      strings: outcomes[i]!.strings,
      ...scriptOf(planned, outcomes, i, countOf(step.atTicks, passage.bars[step.bar]!)),
    })),
    strays: straysOf(planned, outcomes),
    bottlenecks: bottlenecksOf(planned, outcomes, settings),
    ...(passage.pins?.length ? { pins: pinPrices(passage, planned, settings) } : {}),
    counts: countsOf(planned, outcomes),
    cost: { ...cost, effort: Math.round(cost.effort / 1000) },
  };
}

/** Code of issues that mark steps the engine cannot plan yet; they never count as clean. */
export const NOT_PLANNED_YET = "not-planned-yet";

function notPlannedYet(timeline: Timeline): Issue[] {
  return timeline.notes.flatMap((note) => {
    const what = note.from === "tap" ? "Tapped notes" : note.harmonic ? "Harmonics" : null;
    if (!what) return [];
    const span = timeline.bars[note.bar]!;
    return [
      {
        code: NOT_PLANNED_YET,
        path: `/bars/${note.bar}/strokes/${note.stroke}/notes/${note.note}`,
        bar: note.bar + 1,
        at: fractionOf(note.start - span.start + span.offset),
        says: `${what} are not planned yet: nothing is said here about what damps them.`,
      },
    ];
  });
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
        says: `The ${pin.contact.part} you asked for on string ${pin.string} is not possible here.`,
      },
    ];
  });
}

function unmetAt(pin: Pin, timeline: Timeline, shapes: readonly StepShapes[]): Step | undefined {
  return timeline.steps.find((s) => covers(pin, s, timeline) && isUnmet(pin, shapes[s.index]![pin.contact.hand === "picking" ? "picking" : "fretting"].shapes));
}

/** What every pin costs: the plan as it is against the plan without that pin. */
function pinPrices(passage: Passage, planned: Planned, settings: Settings): PinPrice[] {
  const pins = passage.pins ?? [];
  return pins.map((pin, p) => {
    const without = planStages({ ...passage, pins: pins.filter((_, i) => i !== p) }, settings).path.cost;
    const { cost } = planned.path;
    const price = {
      harm: cost.harm - without.harm,
      rushed: cost.rushed - without.rushed,
      stray: cost.stray - without.stray,
      effort: Math.round((cost.effort - without.effort) / 1000),
      changes: cost.changes - without.changes,
    };
    const met = unmetAt(pin, planned.timeline, planned.shapes) === undefined;
    return { path: `/pins/${p}`, met, price, says: priceWords(price) };
  });
}

function priceWords(price: PinPrice["price"]): string {
  if (price.harm > 0) return "It takes the palm off a note that should be muted.";
  if (price.rushed > 0) return `It makes the hands ${price.rushed} ms late.`;
  if (price.stray > 0) return `It lets ${price.stray / 1000} dB·s more ring.`;
  if (price.stray < 0) return `It lets ${-price.stray / 1000} dB·s less ring.`;
  if (price.effort > 0) return `It costs ${price.effort / 10} more effort.`;
  return "It costs nothing.";
}

/**
 * The ceiling tempo as a search that yields after every plan it makes; see `ceilingSearch`.
 * Null too when steps cannot be planned yet: what is not planned is not clean.
 */
export function* ceilingTempo(passage: Passage, cache = new ShapeCache()): Generator<number, number | null, void> {
  const settings = settingsOf(passage);
  if (notPlannedYet(timelineOf(passage, settings)).length > 0) return null;
  return yield* ceilingSearch((tempo) => {
    const { cost } = planStages(atTempo(passage, tempo), settings, cache).path;
    return cost.stray === 0 && cost.rushed === 0;
  });
}

/** The plan with its ceiling tempo, for callers that can wait. */
export function planWithCeiling(passage: Passage, options: PlanOptions = {}): PlanDocument {
  const plan = planPassage(passage, options);
  const search = ceilingTempo(passage);
  let step = search.next();
  while (!step.done) step = search.next();
  return { ...plan, ceilingTempo: step.value };
}
