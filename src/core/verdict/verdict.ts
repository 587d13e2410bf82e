import type { Fingering } from "../fingering/fingering.ts";
import { levelAt } from "../hazards/hazards.ts";
import type { Cause, HazardTable } from "../hazards/types.ts";
import type { IntentTable } from "../intent/intent.ts";
import { fractionOf } from "../music/ticks.ts";
import type { PlanPath } from "../plan/planner.ts";
import { type Problem, type StringStakes, silenced, stateAfter } from "../plan/problem.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import { bit, type Contact, type Shape } from "../shapes/types.ts";
import type { Step, Timeline } from "../timeline/types.ts";
import type { PlannedString, Stray, StringState, TouchedBy, WhyNot } from "./document.ts";
import { whyNotOf } from "./why-not.ts";

/** The outcome of a plan at one step: which strings are silenced, which stray. */
export interface Outcome {
  fretting: Shape;
  picking: Shape;
  silenced: number;
  strings: PlannedString[];
  /** Per string: how many of the newest excitations are unsilenced. */
  states: readonly number[];
}

/** Everything the stages before the verdict found out. */
export interface Planned {
  timeline: Timeline;
  intent: IntentTable;
  hazards: HazardTable;
  fingering: Fingering;
  shapes: readonly StepShapes[];
  problem: Problem;
  path: PlanPath;
  /** No plan meets all pins, so they were left aside. */
  pinsClash?: true;
}

export type Why = "nothing" | "strays" | "everything";

/** What every string does at every step under the plan; `why` says which strings get their reasons. */
export function outcomesOf(planned: Planned, why: Why): Outcome[] {
  const { timeline, problem, path } = planned;
  let states: number[] = new Array(timeline.strings).fill(0);
  let before: [Shape, Shape] | null = null;
  return timeline.steps.map((step, i) => {
    const k = problem.stepOf[i]!;
    const joined = problem.steps[k]!;
    const fretting = joined.fretting[path.chosen[k]!.fretting]!;
    const picking = joined.picking[path.chosen[k]!.picking]!;
    const mask = silenced(joined, fretting, picking);
    const stakes = problem.stakes[i]!;
    states = states.map((state, s) => ((mask & bit(s + 1)) !== 0 ? 0 : stateAfter(stakes[s]!, state)));
    const shapes: [Shape, Shape] = [fretting, picking];
    const strings = step.sounding.map((_, s) => plannedString(planned, step, stakes[s]!, s, states[s]!, shapes, before, why));
    before = shapes;
    return { fretting, picking, silenced: mask, strings, states };
  });
}

function plannedString(
  planned: Planned,
  step: Step,
  stakes: StringStakes,
  s: number,
  state: number,
  shapes: [Shape, Shape],
  before: [Shape, Shape] | null,
  why: Why,
): PlannedString {
  const string = s + 1;
  const intent = planned.intent[step.index]![s]!;
  const hazard = planned.hazards.strings[step.index]![s]!;
  const stray = stakes.cost[state]! > 0;
  const touches = touchesOf(planned, step, string, shapes, before);
  const touched = touches.some((t) => t.part !== "press");
  const over = Math.max(...hazard.alive.slice(0, state).map((e) => levelAt(e, step.ms) - planned.hazards.thresholdDb[step.index]!));
  const result: PlannedString = {
    string,
    intent,
    state: stateOf(intent, stray, touched),
    touchedBy: touches,
    causes: [...hazard.causes],
    undampedDb: hazard.undampedDb,
    strayDb: stray ? Math.round(over * 10) / 10 : null,
  };
  if (why === "everything" || (stray && why === "strays"))
    result.whyNot = whyNotOf(planned.shapes[step.index]!, planned.problem, planned.problem.stepOf[step.index]!, string, touches);
  return result;
}

/** Why nothing else holds a string at a step of the timeline. */
export function whyOf(planned: Planned, step: number, string: number): WhyNot[] {
  const k = planned.problem.stepOf[step];
  if (k === undefined) return [];
  const { fretting, picking } = planned.path.chosen[k]!;
  const joined = planned.problem.steps[k]!;
  const shapes: [Shape, Shape] = [joined.fretting[fretting]!, joined.picking[picking]!];
  const used = touchesOf(planned, planned.timeline.steps[step]!, string, shapes, null);
  return whyNotOf(planned.shapes[step]!, planned.problem, k, string, used);
}

function stateOf(intent: PlannedString["intent"], stray: boolean, touched: boolean): StringState {
  if (stray) return "stray";
  if (intent === "quiet") return touched ? "damped" : "still";
  return intent;
}

/** How long before the stroke a finger is down on a string that is struck dead, if it was free before. */
const PREPARED_MS = 25;

/** Contacts on a string, the pressing finger first. */
function touchesOf(planned: Planned, step: Step, string: number, shapes: [Shape, Shape], before: [Shape, Shape] | null): TouchedBy[] {
  const { problem, intent } = planned;
  const struckDead = (problem.steps[problem.stepOf[step.index]!]!.struck & bit(string)) !== 0;
  const wasWanted = step.index > 0 && ["ring", "muffled", "free"].includes(intent[step.index - 1]![string - 1]!);
  const prepares = (hand: 0 | 1, contact: Contact) =>
    struckDead &&
    !wasWanted &&
    before !== null &&
    contact.hand === "fretting" &&
    !before[hand].contacts.some((c) => c.string === string && c.part === contact.part && c.finger === contact.finger);
  const touches: TouchedBy[] = [];
  for (const press of planned.fingering.hands[step.index]!.presses)
    if (press.strings.includes(string) && press.finger !== 0) touches.push({ hand: "fretting", part: "press", finger: press.finger });
  for (const side of [0, 1] as const)
    for (const contact of shapes[side].contacts) {
      if (contact.string !== string) continue;
      const { hand, part, finger } = contact;
      const leadMs = contact.leadMs ?? (prepares(side, contact) ? PREPARED_MS : undefined);
      touches.push({ hand, part, ...(finger === undefined ? {} : { finger }), ...(leadMs === undefined ? {} : { leadMs }) });
    }
  return touches;
}

/** Stray rings joined over neighbouring steps, loudest cause first named. */
export function straysOf(planned: Planned, outcomes: readonly Outcome[]): Stray[] {
  const { timeline, hazards } = planned;
  const strays: Stray[] = [];
  for (let s = 0; s < timeline.strings; s++) {
    let open: Stray | null = null;
    for (const step of timeline.steps) {
      const here = outcomes[step.index]!.strings[s]!;
      if (here.state !== "stray") {
        if (open) close(open, step);
        open = null;
        continue;
      }
      const db = here.strayDb ?? 0;
      const cause = causeOf(hazards, step, s, here, outcomes[step.index]!.states[s]!);
      if (open === null) {
        open = { string: s + 1, fromBar: step.bar + 1, fromAt: fractionOf(step.atTicks), toBar: 0, toAt: "", cause, db };
        strays.push(open);
      } else if (db > open.db) Object.assign(open, { db, cause });
    }
    if (open) closeAtEnd(open, timeline);
  }
  return strays.sort((a, b) => a.fromBar - b.fromBar || b.db - a.db);
}

function close(stray: Stray, step: Step): void {
  stray.toBar = step.bar + 1;
  stray.toAt = fractionOf(step.atTicks);
}

function closeAtEnd(stray: Stray, timeline: Timeline): void {
  const last = timeline.bars.at(-1)!;
  stray.toBar = timeline.bars.length;
  stray.toAt = fractionOf(last.length + last.offset);
}

/** The loudest excitation's cause; a dead stroke that only chimes is a chime. */
function causeOf(hazards: HazardTable, step: Step, s: number, here: PlannedString, state: number): Cause {
  const alive = hazards.strings[step.index]![s]!.alive.slice(0, state);
  const touched = here.touchedBy.some((t) => t.part !== "press" && t.hand === "fretting");
  const loudest = [...alive].sort((a, b) => levelAt(b, step.ms) - levelAt(a, step.ms))[0];
  if (loudest && touched && (loudest.cause === "struck" || loudest.cause === "carry-over")) return "chime";
  return loudest?.cause ?? "carry-over";
}
