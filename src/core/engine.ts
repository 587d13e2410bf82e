import { StringSet } from "./acoustics/modal.ts";
import { type Fingering, fingeringOf } from "./fingering/fingering.ts";
import { hazardsOf } from "./hazards/hazards.ts";
import { intentOf } from "./intent/intent.ts";
import { fractionOf } from "./music/ticks.ts";
import type { Passage } from "./passage/schema.ts";
import { type Settings, settingsOf } from "./passage/settings.ts";
import { planOf } from "./plan/planner.ts";
import { problemOf } from "./plan/problem.ts";
import { scriptOf } from "./script/sentences.ts";
import { covers, isUnmet } from "./shapes/pins.ts";
import { ShapeCache, type StepShapes, shapesOf } from "./shapes/shapes.ts";
import { timelineOf } from "./timeline/timeline.ts";
import type { Issue, Timeline } from "./timeline/types.ts";
import type { PlanDocument } from "./verdict/document.ts";
import { bottlenecksOf, countsOf } from "./verdict/figures.ts";
import { outcomesOf, type Planned, straysOf } from "./verdict/verdict.ts";

export interface PlanOptions {
  /** Gives `whyNot` for every string, not only for strays. */
  why?: boolean;
  cache?: ShapeCache;
}

/** All stages up to the plan itself. */
export function planStages(passage: Passage, settings: Settings, cache = new ShapeCache()): Planned {
  const { instrument } = passage;
  const timeline = timelineOf(passage, settings);
  const intent = intentOf(timeline, settings, instrument);
  const hazards = hazardsOf(timeline, intent, settings, instrument);
  const fingering: Fingering = fingeringOf(timeline, instrument, settings);
  const shapes = shapesOf(timeline, intent, fingering, settings, instrument, new StringSet(instrument), passage.pins ?? [], cache);
  const problem = problemOf(timeline, intent, hazards, shapes, settings);
  return { timeline, intent, hazards, fingering, shapes, problem, path: planOf(problem) };
}

/** The damping plan of a valid passage, without the ceiling tempo, which `ceilingTempo` adds. */
export function planPassage(passage: Passage, options: PlanOptions = {}): PlanDocument {
  const settings = settingsOf(passage);
  const planned = planStages(passage, settings, options.cache);
  const outcomes = outcomesOf(planned, options.why ?? false);
  const { timeline, path } = planned;
  const { cost } = path;
  return {
    format: "rest-hand-plan",
    version: 1,
    tempo: passage.tempo,
    issues: [
      ...timeline.issues,
      ...planned.fingering.issues,
      ...notPlannedYet(timeline),
      ...palmIssues(planned),
      ...pinIssues(passage, timeline, planned.shapes),
    ],
    steps: timeline.steps.map((step, i) => ({
      bar: step.bar + 1,
      at: fractionOf(step.atTicks),
      ms: step.ms,
      lengthMs: step.lengthMs,
      strings: outcomes[i]!.strings,
      ...scriptOf(planned, outcomes, i),
    })),
    strays: straysOf(planned, outcomes),
    bottlenecks: bottlenecksOf(planned, outcomes, settings),
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
    const stakes = problem.steps[i]!;
    const bare = stakes.muffled & ~stakes.picking[path.chosen[i]!.picking]!.muffles;
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

function pinIssues(passage: Passage, timeline: Timeline, shapes: readonly StepShapes[]): Issue[] {
  return (passage.pins ?? []).flatMap((pin, p) => {
    const step = timeline.steps.find(
      (s) => covers(pin, s, timeline) && isUnmet(pin, shapes[s.index]![pin.contact.hand === "picking" ? "picking" : "fretting"].shapes),
    );
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
