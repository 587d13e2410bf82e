import { type FoldCache, fold, type Stage, sameItems } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import type { PlannedString, Stray, StringState, TouchedBy, WhyNot } from "../document/plan.ts";
import type { Fingering } from "../fingering/fingering.ts";
import type { HandState } from "../fingering/hand-state.ts";
import type { Grips } from "../grips/grips.ts";
import { kindOf } from "../hands/parts.ts";
import { levelAt } from "../hazards/excitations.ts";
import type { Cause, HazardTable, StepHazards } from "../hazards/types.ts";
import type { Intent, IntentTable } from "../intent/intent.ts";
import { fractionOf } from "../music/ticks.ts";
import type { Settings } from "../passage/settings.ts";
import { type Chosen, chosenBy } from "../plan/chosen.ts";
import { silenced, stateAfter } from "../plan/costs.ts";
import type { PlanPath } from "../plan/planner.ts";
import type { Problem } from "../plan/problem.ts";
import type { StringStakes } from "../plan/string-stakes.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import { bit, type Contact, type FrettingShape, type PickingShape } from "../shapes/types.ts";
import type { Wrap } from "../shapes/wrap.ts";
import type { Step, Timeline } from "../timeline/types.ts";
import { whyNotOf } from "./why-not.ts";

/** The outcome of a plan at one step: which strings are silenced, which stray. */
export interface Outcome {
  fretting: FrettingShape;
  picking: PickingShape;
  silenced: number;
  strings: PlannedString[];
  /** Per string: dB over the threshold of what rings too faintly to be heard as a stray; null where nothing does. */
  faintDb: readonly (number | null)[];
  /** Strings that ring astray, those that are heard and those that are too faint, as bits. */
  heard: number;
  faint: number;
  /** Per string: how many of the newest excitations are unsilenced. */
  states: readonly number[];
}

/** Everything the stages before the verdict found out. */
export interface PlannedStages {
  settings: Settings;
  timeline: Timeline;
  grips: Grips;
  intent: IntentTable;
  hazards: HazardTable;
  fingering: Fingering;
  wrap: Wrap;
  shapes: readonly StepShapes[];
  problem: Problem;
  path: PlanPath;
  /** No plan meets all pins, so they were left aside. */
  pinsClash?: true;
}

/** What the verdict remembers of the last version of a passage. */
export type VerdictCache = FoldCache<Standing, Outcome>;

/** What a step's outcome depends on besides the step. */
interface Standing {
  states: readonly number[];
  shapes: [FrettingShape, PickingShape] | null;
  intents: readonly Intent[] | null;
}

/** What every string does at every step under the plan. */
export function outcomesOf(planned: PlannedStages, cache?: VerdictCache): Outcome[] {
  const { timeline, problem, path, hazards, intent, fingering } = planned;
  const chosen = chosenBy(path, problem);
  return fold(
    OUTCOMES,
    { planned, chosen },
    {
      keys: timeline.steps,
      beside: [intent, hazards, fingering.hands, problem.stakes, chosen.steps, chosen.fretting, chosen.picking],
      start: { states: new Array(timeline.strings).fill(0), shapes: null, intents: null },
      cache,
    },
  );
}

const OUTCOMES: Stage<{ planned: PlannedStages; chosen: Chosen }, Standing, Outcome> = {
  same: (a, b) =>
    a.shapes?.[0] === b.shapes?.[0] && a.shapes?.[1] === b.shapes?.[1] && sameItems(a.states, b.states) && sameItems(a.intents ?? [], b.intents ?? []),
  work: (before, i, { planned: { timeline, problem, hazards, intent, fingering }, chosen }) => {
    const joined = chosen.steps[i]!;
    const shapes: [FrettingShape, PickingShape] = [chosen.fretting[i]!, chosen.picking[i]!];
    const mask = silenced(joined, ...shapes);
    const stakes = problem.stakes[i]!;
    const states = before.states.map((state, s) => ((mask & bit(s + 1)) !== 0 ? 0 : stateAfter(stakes[s]!, state)));
    const moment: StepFacts = {
      step: timeline.steps[i]!,
      intents: intent[i]!,
      hazards: hazards[i]!,
      hand: fingering.hands[i]!,
      struck: joined.struck,
      shapes,
      before,
    };
    const strings = states.map((state, s) => plannedString(moment, stakes[s]!, s, state));
    const faintDb = states.map((state, s) => (stakes[s]!.faint[state]! > 0 ? loudestDb(moment, s, state) : null));
    const heard = bitsWhere(strings, ({ strayDb }) => strayDb !== null);
    const faint = bitsWhere(faintDb, (db) => db !== null);
    return [
      { fretting: shapes[0], picking: shapes[1], silenced: mask, strings, faintDb, heard, faint, states },
      { states, shapes, intents: intent[i]! },
    ];
  },
};

/** Outcomes with the reasons why nothing else holds a string: of the strays, or of everything. */
export function withReasons(planned: PlannedStages, outcomes: readonly Outcome[], which: "strays" | "everything"): Outcome[] {
  return outcomes.map((outcome, i) => ({
    ...outcome,
    strings: outcome.strings.map((s) => (which === "everything" || s.state === "stray" ? { ...s, whyNot: whyOf(planned, i, s) } : s)),
  }));
}

/** Why nothing else holds a string at a step of the timeline. */
export function whyOf(planned: PlannedStages, step: number, { string, touchedBy, state }: Pick<PlannedString, "string" | "touchedBy" | "state">): WhyNot[] {
  return whyNotOf(planned.shapes[step]!, planned.problem, planned.problem.stepOf[step]!, string, touchedBy, state === "stray");
}

function bitsWhere<T>(perString: readonly T[], holds: (of: T) => boolean): number {
  let bits = 0;
  for (let s = 0; s < perString.length; s++) if (holds(perString[s]!)) bits |= bit(s + 1);
  return bits;
}

/** Everything at one step that a string's outcome depends on. */
interface StepFacts {
  step: Step;
  intents: readonly Intent[];
  hazards: StepHazards;
  hand: HandState;
  struck: number;
  shapes: [FrettingShape, PickingShape];
  before: Standing;
}

function plannedString(moment: StepFacts, stakes: StringStakes, s: number, state: number): PlannedString {
  const string = s + 1;
  const intent = moment.intents[s]!;
  const hazard = moment.hazards.strings[s]!;
  const stray = stakes.cost[state]! > 0;
  const touches = touchesOf(moment, string);
  const touched = touches.some((t) => t.part !== "press");
  return {
    string,
    intent,
    state: stateOf(intent, stray, touched),
    touchedBy: touches,
    causes: [...hazard.causes],
    undampedDb: hazard.undampedDb,
    strayDb: stray ? loudestDb(moment, s, state) : null,
  };
}

/** Loudest of a string's newest excitations, in dB over the threshold. */
function loudestDb({ step, hazards }: StepFacts, s: number, state: number): number {
  const over = Math.max(...hazards.strings[s]!.alive.slice(0, state).map((e) => levelAt(e, step.ms) - hazards.thresholdDb));
  return Math.round(over * 10) / 10;
}

function stateOf(intent: PlannedString["intent"], stray: boolean, touched: boolean): StringState {
  if (stray) return "stray";
  if (intent === "quiet") return touched ? "damped" : "still";
  return intent;
}

/** How long before the stroke a finger is down on a string that is struck dead, if it was free before. */
const PREPARED_MS = 25;

/** Players who hold a pick tap with the middle finger (common practice). */
const TAPPING_FINGER = "m";

/** What is said of a contact; the same object for the same one. */
const knownTouches = new WeakMap<Contact, TouchedBy>();

function touchOf(contact: Contact): TouchedBy {
  const { finger, fret } = contact;
  const touch: TouchedBy = kindOf(contact);
  if (finger !== undefined) touch.finger = finger;
  if (fret !== undefined) touch.fret = fret;
  return touch;
}

/** Contacts on a string, the pressing finger first. */
function touchesOf({ step, hand, struck, shapes, before }: StepFacts, string: number): TouchedBy[] {
  const struckDead = (struck & bit(string)) !== 0;
  const wasWanted = before.intents !== null && ["ring", "muffled", "free"].includes(before.intents[string - 1]!);
  const prepares = (side: 0 | 1, contact: Contact) =>
    struckDead &&
    !wasWanted &&
    before.shapes !== null &&
    contact.hand === "fretting" &&
    !before.shapes[side].contacts.some((c) => c.string === string && c.part === contact.part && c.finger === contact.finger);
  const touches: TouchedBy[] = [];
  const tapped = step.sounding[string - 1];
  if (tapped?.from === "tap") touches.push({ hand: "picking", part: "press", finger: TAPPING_FINGER, fret: tapped.fret });
  for (const press of hand.presses)
    if (press.strings.includes(string) && press.finger !== 0) touches.push({ hand: "fretting", part: "press", finger: press.finger, fret: press.fret });
  for (const side of [0, 1] as const)
    for (const contact of shapes[side].contacts) {
      if (contact.string !== string) continue;
      const leadMs = contact.leadMs ?? (prepares(side, contact) ? PREPARED_MS : undefined);
      touches.push(leadMs === undefined ? knownIn(knownTouches, contact, touchOf) : { ...touchOf(contact), leadMs });
    }
  return touches;
}

/** Stray rings that are heard, joined over neighbouring steps, loudest cause first named. */
export function straysOf(planned: PlannedStages, outcomes: readonly Outcome[]): Stray[] {
  return ringsOf(planned, outcomes, "heard", ({ strings }, s) => strings[s]!.strayDb);
}

/** Rings over the threshold that nobody hears beside what is meant to sound. */
export function faintStraysOf(planned: PlannedStages, outcomes: readonly Outcome[]): Stray[] {
  return ringsOf(planned, outcomes, "faint", ({ faintDb }, s) => faintDb[s]!).map((stray) => ({ ...stray, faint: true }));
}

function ringsOf(
  planned: PlannedStages,
  outcomes: readonly Outcome[],
  which: "heard" | "faint",
  dbOf: (outcome: Outcome, s: number) => number | null,
): Stray[] {
  const { timeline, hazards } = planned;
  const open: (Stray | null)[] = new Array(timeline.strings).fill(null);
  const strays: Stray[] = [];
  let before = 0;
  timeline.steps.forEach((step, i) => {
    const { strings, states, [which]: now } = outcomes[i]!;
    // At most steps nothing rings.
    if ((before | now) === 0) return;
    before = now;
    for (let s = 0; s < strings.length; s++) {
      const here = strings[s]!;
      const ringing = open[s];
      const db = dbOf(outcomes[i]!, s);
      if (db === null) {
        if (ringing) Object.assign(ringing, { toBar: step.bar + 1, toAt: fractionOf(step.atTicks) });
        open[s] = null;
        continue;
      }
      const cause = causeOf(hazards[i]!, step, here, states[s]!);
      if (!ringing) {
        const stray: Stray = { string: s + 1, fromBar: step.bar + 1, fromAt: fractionOf(step.atTicks), toBar: 0, toAt: "", cause, db };
        open[s] = stray;
        strays.push(stray);
      } else if (db > ringing.db) Object.assign(ringing, { db, cause });
    }
  });
  const last = timeline.bars.at(-1)!;
  for (const stray of open) if (stray) Object.assign(stray, { toBar: timeline.bars.length, toAt: fractionOf(last.length + last.offset) });
  return strays.sort((a, b) => a.fromBar - b.fromBar || b.db - a.db);
}

/** The loudest excitation's cause; a dead stroke that only chimes is a chime. */
function causeOf({ strings }: StepHazards, step: Step, here: PlannedString, state: number): Cause {
  const alive = strings[here.string - 1]!.alive.slice(0, state);
  const touched = here.touchedBy.some((t) => t.part !== "press" && t.hand === "fretting");
  const loudest = [...alive].sort((a, b) => levelAt(b, step.ms) - levelAt(a, step.ms))[0];
  if (loudest && touched && (loudest.cause === "struck" || loudest.cause === "carry-over")) return "chime";
  return loudest?.cause ?? "carry-over";
}
