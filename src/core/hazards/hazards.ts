import { AUDIBLE_DB, BEND_SHOVE_DB, COINCIDENCE_HZ, COINCIDENCE_SHARE, FLOOR_DB, JOLT_EXTRA_DB, PULL_OFF_DB } from "../acoustics/constants.ts";
import { type LiveString, StringSet, struckLoudnessDb } from "../acoustics/modal.ts";
import { dbOf } from "../acoustics/weighting.ts";
import type { IntentTable } from "../intent/intent.ts";
import type { Instrument } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Step, Timeline, TimelineNote, TimelineStroke } from "../timeline/types.ts";
import type { Cause, Excitation, HazardTable, StringHazard } from "./types.ts";

/** Most excitations kept alive per string: three bits of memory in the planner. */
export const MOST_ALIVE = 7;

/** For every step and string: what would set it going or keep it going, and how loud. */
export function hazardsOf(timeline: Timeline, intent: IntentTable, settings: Settings, instrument: Instrument): HazardTable {
  const strings = new StringSet(instrument);
  const model = new LoudnessModel(strings);
  const thresholdDb: number[] = [];
  const rows: StringHazard[][] = [];
  /** Excitations alive per string if nothing ever touched it. */
  const alive: Excitation[][] = Array.from({ length: timeline.strings }, () => []);
  /** Last note per string, for what goes on after its end. */
  const last: (TimelineNote | null)[] = new Array(timeline.strings).fill(null);
  const lastMs: number[] = new Array(timeline.strings).fill(0);
  let reference = 0;

  for (const step of timeline.steps) {
    const intents = intent[step.index]!;
    const before = step.index > 0 ? intent[step.index - 1]! : null;
    reference = referenceDb(step, lastMs, model) ?? reference;
    const threshold = reference + AUDIBLE_DB[settings.gain];
    thresholdDb.push(threshold);
    const played = strokeDb(step, model);
    rows.push(
      intents.map((wanted, s): StringHazard => {
        const string = s + 1;
        const note = step.sounding[s];
        if (step.begins[s] && note) {
          last[s] = note;
          lastMs[s] = step.ms;
        }
        if (wanted === "ring" || wanted === "muffled" || wanted === "free") {
          alive[s] = [];
          return NOTHING;
        }
        const fresh: Excitation[] = [];
        const add = (cause: Cause, db: number, fret: number) => {
          const lively = cause === "struck" || (cause === "carry-over" && before?.[s] !== "muffled");
          fresh.push({ string, step: step.index, ms: step.ms, db, slope: model.slope(string, fret), cause, lively });
        };
        const struck = step.stroke?.crossed.includes(string) ?? false;
        const keptFret = step.stroke?.kept.find((k) => k.string === string)?.fret ?? 0;
        if (wanted === "thud" && note) {
          if (step.begins[s]) add("struck", model.struck(string, note.fret), note.fret);
        } else if (struck) {
          last[s] = null;
          add("struck", model.struck(string, keptFret), keptFret);
        } else {
          const ended = last[s];
          const stopsHere = before !== null && ["ring", "muffled", "free"].includes(before[s]!);
          if (ended && stopsHere) {
            const age = step.ms - lastMs[s]!;
            add("carry-over", before[s] === "muffled" ? model.muffled(string, ended.fret, age) : model.after(string, ended.fret, age), ended.fret);
            if (ended.fret > 0 && before[s] === "ring") add("pull-off", model.struck(string, 0) + PULL_OFF_DB[settings.pullOff], 0);
          }
          if (step.stroke && step.stroke.crossed.length > 0 && played !== null) {
            const extra = JOLT_EXTRA_DB[joltKind(step.stroke)];
            add("jolt", played + strings.rig.joltDb + extra, 0);
          }
          const answer = model.sympathy(string, step);
          if (answer !== null) add("sympathy", answer, 0);
          if (isShoved(string, step, timeline.steps[step.index - 1])) add("bend", model.struck(string, 0) + BEND_SHOVE_DB, 0);
        }
        alive[s] = stillAlive([...fresh, ...alive[s]!], step.ms, threshold);
        return describe(alive[s]!, fresh, step, threshold);
      }),
    );
  }
  return { thresholdDb, strings: rows };
}

/** What kind of blow a stroke is for the strings it does not touch. */
function joltKind(stroke: TimelineStroke): keyof typeof JOLT_EXTRA_DB {
  if (stroke.kind === "slap" || stroke.kind === "pop") return stroke.kind;
  return stroke.kind === "none" ? "slap" : stroke.as;
}

const NOTHING: StringHazard = { causes: [], undampedDb: null, alive: [], fresh: 0, struck: false, carried: false };

/** Level of an excitation in model dB at a moment. */
export function levelAt(excitation: Excitation, ms: number): number {
  return excitation.db - (excitation.slope * (ms - excitation.ms)) / 1000;
}

function describe(alive: Excitation[], fresh: Excitation[], step: Step, threshold: number): StringHazard {
  const all = [...fresh, ...alive.filter((e) => e.step < step.index)];
  let loudest = Number.NEGATIVE_INFINITY;
  for (const excitation of all) loudest = Math.max(loudest, levelAt(excitation, step.ms) - threshold);
  const causes = [...new Set(all.filter((e) => levelAt(e, step.ms) - threshold > 0).map((e) => e.cause))];
  return {
    causes,
    undampedDb: loudest < FLOOR_DB ? null : Math.round(loudest * 10) / 10,
    alive,
    fresh: alive.filter((e) => e.step === step.index).length,
    struck: fresh.some((e) => e.lively && e.cause === "struck" && e.db > threshold),
    carried: fresh.some((e) => e.lively && e.cause === "carry-over" && e.db > threshold),
  };
}

/** Newest first; an excitation that a newer one drowns, now and later, can never be the loudest again. */
function stillAlive(excitations: Excitation[], ms: number, threshold: number): Excitation[] {
  const sorted = excitations.filter((e) => levelAt(e, ms) > threshold).sort((a, b) => b.step - a.step || levelAt(b, ms) - levelAt(a, ms));
  const kept: Excitation[] = [];
  for (const e of sorted) {
    const drowned = kept.some((newer) => levelAt(newer, ms) >= levelAt(e, ms) && newer.slope <= e.slope + 1e-9);
    if (!drowned && kept.length < MOST_ALIVE) kept.push(e);
  }
  return kept;
}

/** A bent string shoves its neighbours; when the bend ends they sound. Strings 1-3 bend bass-wards, the others treble-wards (common practice). */
function isShoved(string: number, step: Step, before: Step | undefined): boolean {
  if (!before) return false;
  return before.sounding.some((note) => {
    if (!note || note.bend === 0 || note.end !== step.tick) return false;
    const side = note.string <= 3 ? 1 : -1;
    return string === note.string + side || (note.bend >= 2 && string === note.string + 2 * side);
  });
}

/** Loudest thing meant to sound at the start of a step; null in a rest. */
function referenceDb(step: Step, lastMs: readonly number[], model: LoudnessModel): number | null {
  let loudest: number | null = null;
  const take = (db: number) => {
    loudest = loudest === null ? db : Math.max(loudest, db);
  };
  step.sounding.forEach((note, s) => {
    if (!note) return;
    const age = step.begins[s] ? 0 : step.ms - lastMs[s]!;
    if (note.tone === "palm") take(model.muffled(note.string, note.fret, age));
    else if (note.tone === "open") take(model.after(note.string, note.fret, age));
    else take(model.struck(note.string, note.fret) - 6);
  });
  if (loudest === null && step.stroke && step.stroke.as !== "play") for (const string of step.stroke.crossed) take(model.struck(string, 0) - 6);
  return loudest;
}

/** Level of the stroke that begins here, which shakes everything nobody holds. */
function strokeDb(step: Step, model: LoudnessModel): number | null {
  if (!step.stroke || step.stroke.crossed.length === 0) return null;
  return Math.max(...step.stroke.crossed.map((string) => model.struck(string, step.sounding[string - 1]?.fret ?? 0)));
}

/** Loudness figures by string and fret, each computed once. */
class LoudnessModel {
  private readonly figures = new Map<string, number>();
  constructor(private readonly strings: StringSet) {}

  struck(string: number, fret: number): number {
    return this.once(`s${string},${fret}`, () => struckLoudnessDb(this.strings.live(string, fret), [], 0));
  }

  /** dB per second that a free string loses over its first half second. */
  slope(string: number, fret: number): number {
    return this.once(`d${string},${fret}`, () => 2 * (this.struck(string, fret) - struckLoudnessDb(this.strings.live(string, fret), [], 500)));
  }

  after(string: number, fret: number, ms: number): number {
    return this.struck(string, fret) - (this.slope(string, fret) * ms) / 1000;
  }

  muffled(string: number, fret: number, ms: number): number {
    const loss = this.once(`m${string},${fret}`, () => {
      const live = this.strings.live(string, fret);
      const bridge = live.fromNutMm + live.lengthMm;
      const { palmTone } = this.strings.rig;
      const palm = { fromMm: bridge - palmTone.toBridgeMm, toMm: bridge - palmTone.fromBridgeMm, rate: palmTone.rate };
      return 4 * (struckLoudnessDb(live, [palm], 0) - struckLoudnessDb(live, [palm], 250));
    });
    return this.struck(string, fret) - (loss * ms) / 1000;
  }

  /** How loud an open, untouched string answers the notes that begin in this step; null when nothing begins. */
  sympathy(string: number, step: Step): number | null {
    let power = 0;
    let any = false;
    step.sounding.forEach((note, s) => {
      if (!note || !step.begins[s] || s + 1 === string) return;
      any = true;
      const answer = this.once(`y${string},${note.string},${note.fret}`, () =>
        answerAmplitude(this.strings.live(string, 0), this.strings.live(note.string, note.fret), this.strings.rig.coupling),
      );
      power += answer * answer;
    });
    return any && power > 0 ? dbOf(Math.sqrt(power)) : null;
  }

  private once(key: string, make: () => number): number {
    const known = this.figures.get(key);
    if (known !== undefined) return known;
    const value = make();
    this.figures.set(key, value);
    return value;
  }
}

/** Weighted amplitude with which one string's partials answer another's through the bridge. */
export function answerAmplitude(answering: LiveString, played: LiveString, coupling: number): number {
  let power = 0;
  for (let i = 0; i < answering.frequencies.length; i++) {
    const f = answering.frequencies[i]!;
    const width = COINCIDENCE_HZ + COINCIDENCE_SHARE * f;
    let amplitude = 0;
    for (let j = 0; j < played.frequencies.length; j++) {
      const off = (played.frequencies[j]! - f) / width;
      if (Math.abs(off) < 40) amplitude += (coupling * played.loudness[j]!) / (1 + off * off);
    }
    power += amplitude * amplitude;
  }
  return Math.sqrt(power);
}
