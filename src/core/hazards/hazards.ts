import { AUDIBLE_DB, BEND_SHOVE_DB, DIED_AWAY_DB, FLOOR_DB, JOLT_EXTRA_DB, PULL_OFF_DB } from "../acoustics/constants.ts";
import { LoudnessModel } from "../acoustics/loudness-model.ts";
import type { StringSet } from "../acoustics/modal.ts";
import { FoldCache, fold, type Stage, sameItems } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import { type HandState, pressedAt } from "../fingering/hand-state.ts";
import { type Grips, isDown, placeHeld } from "../grips/grips.ts";
import type { GripPlace, HeldGrip } from "../grips/types.ts";
import type { Intent, IntentTable } from "../intent/intent.ts";
import type { NeckPlace } from "../music/neck.ts";
import type { Bend } from "../passage/bends.ts";
import type { Settings } from "../passage/settings.ts";
import { turnOf } from "../timeline/timeline.ts";
import type { Step, Timeline, TimelineNote, TimelineStroke } from "../timeline/types.ts";
import { levelAt, NO_EXCITATIONS, SHAKES, sameExcitation, stillAlive, together, withOne } from "./excitations.ts";
import type { Cause, Excitation, HazardTable, StepHazards, StringHazard } from "./types.ts";

/** What a step needs to know of those before it. */
export interface Ringing {
  /** Per string: excitations alive if nothing ever touched it. */
  alive: readonly (readonly Excitation[])[];
  /** Per string: its last note, for what goes on after its end, and when that began. */
  last: readonly (TimelineNote | null)[];
  lastMs: readonly number[];
  /** Loudest thing meant to sound at the last moment when something was. */
  referenceDb: number;
  step: Step | null;
  intents: readonly Intent[] | null;
}

/** What the hazards remember: figures of the instrument, and the steps of the last version of a passage. */
export class HazardCache {
  readonly model: LoudnessModel;
  readonly steps = new FoldCache<Ringing, StepHazards>();
  constructor(strings: StringSet) {
    this.model = new LoudnessModel(strings);
  }
}

/** For every step and string: what would set it going or keep it going, and how loud. */
export function hazardsOf(
  timeline: Timeline,
  held: Grips["held"],
  hands: readonly HandState[],
  intent: IntentTable,
  settings: Settings,
  cache: HazardCache,
): HazardTable {
  const { strings: count, steps } = timeline;
  const start: Ringing = {
    alive: new Array(count).fill([]),
    last: new Array(count).fill(null),
    lastMs: new Array(count).fill(0),
    referenceDb: 0,
    step: null,
    intents: null,
  };
  return fold(HAZARDS, { steps, held, hands, intent, settings, model: cache.model }, { keys: steps, beside: [held, hands, intent], start, cache: cache.steps });
}

interface Found {
  steps: readonly Step[];
  held: Grips["held"];
  hands: readonly HandState[];
  intent: IntentTable;
  settings: Settings;
  model: LoudnessModel;
}

const HAZARDS: Stage<Found, Ringing, StepHazards> = {
  same: sameRinging,
  work: (ringing, i, { steps, held, hands, intent, settings, model }) => hazardsAt(steps[i]!, held[i]!, hands[i]!, intent[i]!, ringing, settings, model),
};

function sameRinging(a: Ringing, b: Ringing): boolean {
  return (
    a.referenceDb === b.referenceDb &&
    a.step === b.step &&
    sameItems(a.intents ?? [], b.intents ?? []) &&
    sameItems(a.last, b.last) &&
    sameItems(a.lastMs, b.lastMs) &&
    a.alive.every((list, s) => list.length === b.alive[s]!.length && list.every((e, k) => sameExcitation(e, b.alive[s]![k]!)))
  );
}

function hazardsAt(
  step: Step,
  held: HeldGrip | null,
  hand: HandState,
  intents: readonly Intent[],
  before: Ringing,
  settings: Settings,
  model: LoudnessModel,
): readonly [StepHazards, Ringing] {
  const last = [...before.last];
  const lastMs = [...before.lastMs];
  const alive = [...before.alive];
  const referenceDb = loudestMeantDb(step, lastMs, model) ?? before.referenceDb;
  const threshold = referenceDb + AUDIBLE_DB[settings.gain];
  const moment: Moment = { step, held, hand, settings, model, before: before.step, last, lastMs, played: strokeDb(step, model), begun: begunIn(step) };
  const strings: StringHazard[] = new Array(intents.length);
  for (let s = 0; s < intents.length; s++) {
    follow(s, intents[s]!, moment);
    const fresh = setGoing(s, intents[s]!, before.intents?.[s], moment);
    if (fresh.length === 0 && (isMeant(intents[s]!) || alive[s]!.length === 0)) {
      alive[s] = NO_EXCITATIONS;
      strings[s] = NOTHING;
      continue;
    }
    alive[s] = stillAlive(together(fresh), alive[s]!, step.ms, threshold);
    strings[s] = describe(alive[s]!, fresh, step, threshold);
  }
  // Where nothing blooms, a quiet string has nothing to carry over before its next note.
  if (settings.ring === "written")
    for (let s = 0; s < intents.length; s++) {
      if (isMeant(intents[s]!)) continue;
      last[s] = null;
      lastMs[s] = 0;
    }
  return [
    { thresholdDb: threshold, strings },
    { alive, last, lastMs, referenceDb, step, intents },
  ];
}

/** A step, and what every string played last, which is kept up to date string by string. */
interface Moment {
  step: Step;
  held: HeldGrip | null;
  hand: HandState;
  settings: Settings;
  model: LoudnessModel;
  before: Step | null;
  last: (TimelineNote | null)[];
  lastMs: number[];
  /** Level of the stroke, and what begins. */
  played: number | null;
  begun: readonly NeckPlace[];
}

function isMeant(intent: Intent | undefined): boolean {
  return intent === "ring" || intent === "muffled" || intent === "free";
}

/** Notes what a string plays from here: its note, or what a stroke sounds in the grip. */
function follow(s: number, wanted: Intent, { step, held, last, lastMs }: Moment): void {
  const note = step.sounding[s] ?? null;
  const played = note ? (step.begins[s] ? note : null) : isMeant(wanted) ? (struckInGrip(step, held, s + 1) ?? null) : null;
  if (!played) return;
  last[s] = played;
  lastMs[s] = step.ms;
}

/** What is set going, or goes on, on a string that is not to sound. */
function setGoing(
  s: number,
  wanted: Intent,
  was: Intent | undefined,
  { step, hand, settings, model, before, last, lastMs, played, begun }: Moment,
): Excitation[] {
  if (isMeant(wanted)) return NO_EXCITATIONS;
  const string = s + 1;
  const note = step.sounding[s];
  if (wanted === "thud" && note) {
    return step.begins[s] ? [excited("struck", model.struck(string, note.pitchFret), string, note.pitchFret, step, model)] : NO_EXCITATIONS;
  }
  if (step.stroke && (step.stroke.crossed.includes(string) || step.stroke.clicked.includes(string))) {
    const keptFret = step.stroke.kept.find((k) => k.string === string)?.fret ?? pressedAt(hand.presses, string);
    last[s] = null;
    return [excited("struck", model.struck(string, keptFret), string, keptFret, step, model)];
  }
  let fresh = NO_EXCITATIONS;
  const ended = last[s];
  if (ended && isMeant(was)) {
    const age = step.ms - lastMs[s]!;
    const db = was === "muffled" ? model.muffled(string, ended.pitchFret, ended.mute, age) : model.after(string, ended.pitchFret, age);
    fresh = withOne(fresh, excited("carry-over", db, string, ended.pitchFret, step, model, was !== "muffled"));
    if (ended.pressedFret > 0) fresh = withOne(fresh, excited("pull-off", model.struck(string, 0) + PULL_OFF_DB[settings.pullOff], string, 0, step, model));
  }
  if (step.stroke && played !== null) {
    const joltDb = played + model.strings.rig.joltDb + JOLT_EXTRA_DB[joltKind(step.stroke)];
    fresh = withOne(fresh, excited("jolt", joltDb, string, 0, step, model));
  }
  const answer = model.sympathy(string, begun);
  if (answer !== null) fresh = withOne(fresh, excited("sympathy", answer, string, 0, step, model));
  if (isShoved(string, step, before)) fresh = withOne(fresh, excited("bend", model.struck(string, 0) + BEND_SHOVE_DB, string, 0, step, model));
  return fresh;
}

/** A string set going, or going on, as a step begins; `lively` as a note that was meant. */
function excited(cause: Cause, db: number, string: number, fret: number, step: Step, model: LoudnessModel, lively = cause === "struck"): Excitation {
  return { string, ms: step.ms, db, slope: model.slope(string, fret), cause, lively };
}

/** What a stroke sounds on a string that the hand holds though no note is written for it: it goes on when the grip is gone. */
function struckInGrip(step: Step, held: HeldGrip | null, string: number): TimelineNote | undefined {
  const { stroke } = step;
  if (stroke?.as !== "play" || !stroke.crossed.includes(string) || !isDown(held, step.sounding)) return undefined;
  const place = placeHeld(held, step.sounding, string);
  if (!place) return undefined;
  // The same object for the same step, so that what follows is known again.
  return knownIn(
    knownIn(knownInGrip, step, () => new Map<GripPlace, TimelineNote>()),
    place,
    () => noteOf(place, stroke),
  );
}

const knownInGrip = new WeakMap<Step, Map<GripPlace, TimelineNote>>();

function noteOf({ string, fret, finger }: GripPlace, { bar, stroke, start }: TimelineStroke): TimelineNote {
  const plain = { tone: "open", from: "stroke", by: undefined, bend: null, vibrato: false, mute: "medium", letRing: false } as const;
  return { bar, stroke, note: -1, string, fret, pressedFret: fret, pitchFret: fret, finger, start, end: start, ...plain };
}

/** What kind of blow a stroke is for the strings it does not touch. */
export function joltKind(stroke: TimelineStroke): keyof typeof JOLT_EXTRA_DB {
  if (stroke.kind === "slap" || stroke.kind === "pop") return stroke.kind;
  return stroke.kind === "none" ? "slap" : stroke.as;
}

const NO_CAUSES: readonly Cause[] = [];

/** There are few lists of causes: the same one is the same object. */
function causesWith(causes: readonly Cause[], cause: Cause): readonly Cause[] {
  const longer = knownIn(knownCauses, causes, () => new Map<Cause, readonly Cause[]>());
  return knownIn(longer, cause, () => [...causes, cause]);
}

const knownCauses = new Map<readonly Cause[], Map<Cause, readonly Cause[]>>();

const NOTHING: StringHazard = { causes: [], undampedDb: null, alive: [], fresh: 0, onlyShaken: false, struck: false, carried: false };

function describe(alive: readonly Excitation[], fresh: readonly Excitation[], step: Step, threshold: number): StringHazard {
  let causes = NO_CAUSES;
  let loudest = Number.NEGATIVE_INFINITY;
  const take = (e: Excitation) => {
    const over = levelAt(e, step.ms) - threshold;
    if (over > loudest) loudest = over;
    if (over > 0 && !causes.includes(e.cause)) causes = causesWith(causes, e.cause);
  };
  let onlyShaken = true;
  let struck = false;
  let carried = false;
  for (const e of fresh) {
    take(e);
    if (e.db <= threshold) continue;
    if (!SHAKES.has(e.cause)) onlyShaken = false;
    if (e.lively && e.cause === "struck") struck = true;
    if (e.lively && e.cause === "carry-over") carried = true;
  }
  let begun = 0;
  for (const e of alive) {
    take(e);
    if (e.ms === step.ms) begun++;
  }
  return {
    causes,
    undampedDb: loudest < FLOOR_DB ? null : Math.round(loudest * 10) / 10,
    alive,
    fresh: begun,
    onlyShaken,
    // What is raked sounds choked under any contact, a palm's too.
    struck: struck && step.stroke?.as !== "rake",
    carried,
  };
}

/** A bent string shoves its neighbours on the side it is bent towards, two of them from a whole tone on; let go, they sound. */
export function isShoved(string: number, step: Step, before: Step | null): boolean {
  if (!before) return false;
  return before.sounding.some((note) => {
    if (!note?.bend || !isLetGo(note, note.bend, step)) return false;
    const { most, side } = note.bend;
    return string === note.string + side || (most >= 2 && string === note.string + 2 * side);
  });
}

/** Whether a bent string comes back as a step begins: let back within its note, or at its end unless the next note takes it over bent. */
function isLetGo(note: TimelineNote, { most, back }: Bend, step: Step): boolean {
  if (back === 0) return turnOf(note) === step.tick;
  if (note.end !== step.tick || (back ?? most) === 0) return false;
  const next = step.begins[note.string - 1] ? step.sounding[note.string - 1] : null;
  return !next?.bend || next.bend.from === 0;
}

/** Loudest thing meant to sound at the start of a step; null in a rest, or when all of it has died away. */
function loudestMeantDb(step: Step, lastMs: readonly number[], model: LoudnessModel): number | null {
  let loudest: number | null = null;
  const take = (db: number) => {
    loudest = loudest === null ? db : Math.max(loudest, db);
  };
  step.sounding.forEach((note, s) => {
    if (!note) return;
    const age = step.begins[s] ? 0 : step.ms - lastMs[s]!;
    const struck = model.struck(note.string, note.pitchFret);
    const now = note.tone === "palm" ? model.muffled(note.string, note.pitchFret, note.mute, age) : model.after(note.string, note.pitchFret, age);
    if (note.tone === "ghost") take(struck - 6);
    else if (now > struck - DIED_AWAY_DB) take(now);
  });
  if (loudest === null && step.stroke && step.stroke.as !== "play") for (const string of step.stroke.crossed) take(model.struck(string, 0) - 6);
  return loudest;
}

/** What is set going here, as it sounds. */
function begunIn({ sounding, begins }: Step): NeckPlace[] {
  const begun: NeckPlace[] = [];
  sounding.forEach((note, s) => {
    if (note && begins[s]) begun.push({ string: note.string, fret: note.pitchFret });
  });
  return begun;
}

/** Level of the stroke that begins here, which shakes everything nobody holds. */
function strokeDb(step: Step, model: LoudnessModel): number | null {
  if (!step.stroke || step.stroke.crossed.length === 0) return null;
  let loudest = Number.NEGATIVE_INFINITY;
  for (const string of step.stroke.crossed) loudest = Math.max(loudest, model.struck(string, step.sounding[string - 1]?.pitchFret ?? 0));
  return loudest;
}
