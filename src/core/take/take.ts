import { AUDIBLE_DB } from "../acoustics/constants.ts";
import { LoudnessModel } from "../acoustics/loudness-model.ts";
import { StringSet } from "../acoustics/modal.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import type { FINDING_KINDS } from "../practice/record.ts";
import { Rendering } from "../sound/render.ts";
import { outcomesOf, type PlannedStages } from "../verdict/verdict.ts";
import { aligned, type Clock } from "./align.ts";
import { type Heard, Levels, median as middle } from "./levels.ts";
import { Beginnings } from "./onsets.ts";
import { type Gap, ringsOf } from "./rings.ts";
import { RATE, resampled } from "./spectrum.ts";
import { heardStrokes, timesOf, timing } from "./strokes.ts";
import { restsOf, voicesOf } from "./voices.ts";

/** Something that the hands did otherwise than planned. Times are of the take, in ms. */
export interface Finding {
  kind: (typeof FINDING_KINDS)[number];
  step: number;
  string?: number;
  fromMs: number;
  toMs: number;
  /** Late by so much; below 0 early. */
  byMs?: number;
  /** It sounded until then, and went on. */
  over?: true;
  /** The plan says so itself: only other notes or places take it away. */
  planned?: true;
  /** Loudness of a ring against a full pluck. */
  db?: number;
}

/** A string that could not be told from others at a step. */
export interface Untold {
  step: number;
  string: number;
  fromMs: number;
  toMs: number;
}

export type TakeResult =
  | { kind: "silence" | "another"; misfit: number }
  | {
      kind: "judged";
      misfit: number;
      /** When each stroke of the plan was heard, by its step and its bar from 0; null where nothing began. */
      strokes: { step: number; bar: number; ms: number | null; offMs: number | null }[];
      findings: Finding[];
      untold: Untold[];
      /** How loud each string was where it was to be still, stretch by stretch. */
      rests: { string: number; step: number; gaps: Gap[] }[];
      /** Every note that was meant, when it was heard. */
      notes: { string: number; step: number; fromMs: number; toMs: number; isDull: boolean }[];
      /** By how much up-strokes come late against down-strokes; null where there are not both. */
      upMs: number | null;
      /** By how much notes of up-strokes are louder than notes of down-strokes on the same string; null where there are not both. */
      upDb: number | null;
      /** Samples at the end of the scale. */
      clipped: number;
      /** Quarters a minute as it was played. */
      tempo: number;
    };

/** From here on a take is of another passage: played badly in a bad room it is 0.6 off at most, on another instrument 0.7. */
const ANOTHER = 0.74;
/**
 * Nor is it this one where it fits badly and much of it is not there: how far off it is, with the share of notes that never speak and
 * of strokes where nothing begins. Played badly in a bad room and on other instruments it comes to 0.82 at most, another passage to
 * 1.07 and more.
 */
const ANOTHER_TOGETHER = 0.95;
/** Quieter than that is silence. */
const SILENCE = 0.0008;
/** Later or earlier than that against what is around it is told. */
const LATE_MS = 32;
/** And so many times what is usual for this player. */
const UNEVEN = 4;
const STRAY_OVER_DB = 4;
/** Fainter rings cannot be told from what is left of other strings. */
const LEAST_DB = -14;
/** A note that did not speak is so far under a pluck. */
const SILENT_DB = -14;
/** A note that is to last is looked at once more at its end. */
const HOLE_AFTER_MS = 180;
const HOLE_LOOK_MS = 118;
/** Looks before that one, and how far it fell between: a string that is left alone fades as it did so far, one that is let go falls as fast as the room lets it. */
const BEFORE_HOLE_MS = [120, 160, 200];
const HOLE_FALL_DB = 5;
/** And where the note is so short that nobody has seen it fade yet. */
const HOLE_SHORT_FALL_DB = 7;
/** What was as faint as that before leaves no hole. */
const HOLE_FROM_DB = -14;
/** Nobody looks where it is no further under what it would have faded to. */
const HOLE_UNDER_DB = 3;
/** Parts of the work, about as long as each other. */
const STAGES = 7;
/** What the plan itself lets ring may be so much louder than it says. */
const PLANNED_OVER_DB = 6;
/** What usually is left of strings that are still: a ring is so much over it, and more where a room may still hold what was just stilled. */
const OVER_USUAL_DB = { stilled: 17, other: 13 } as const;
/** However much is left. */
const MOST_FLOOR_DB = -7;

/** What the hands really did: samples of a take of a passage and its plan in, what was otherwise out. */
export function takeOf(samples: Float32Array, sampleRate: number, passage: Passage, planned: PlannedStages, clock: Clock | null = null): TakeResult {
  const work = judging(samples, sampleRate, passage, planned, clock);
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}

/** The same, saying how far it is. */
export function* judging(
  samples: Float32Array,
  sampleRate: number,
  passage: Passage,
  planned: PlannedStages,
  clock: Clock | null = null,
): Generator<{ done: number; of: number }, TakeResult, void> {
  const take = resampled(samples, sampleRate);
  if (loudestOf(take) < SILENCE) return { kind: "silence", misfit: 1 };
  const { steps, endMs } = planned.timeline;
  const rendering = new Rendering(passage, planned, { damping: "planned", gain: "clean", sampleRate: RATE, toMs: endMs });
  const reference = rendering.take(rendering.length) ?? new Float32Array(0);
  yield { done: 1, of: STAGES };
  const alignment = aligned(reference, take, clock);
  yield { done: 2, of: STAGES };
  if (alignment.misfit > ANOTHER) return { kind: "another", misfit: alignment.misfit };
  const model = new LoudnessModel(new StringSet(passage.instrument));
  const strokes = heardStrokes(steps, reference, new Beginnings(take, lowestHz(model.strings, passage)), alignment);
  const heardAt = timesOf(alignment, strokes);
  const voices = voicesOf(planned).map((voice): Heard => ({ ...voice, heardFrom: heardAt(voice.fromMs), heardTo: heardAt(voice.toMs) }));
  yield { done: 3, of: STAGES };
  const levels = new Levels(take, passage, voices);
  yield { done: 4, of: STAGES };
  const findings: Finding[] = [];
  const untold: Untold[] = [];
  const { gain } = settingsOf(passage);
  const threshold = Math.max(AUDIBLE_DB[gain] + STRAY_OVER_DB, LEAST_DB);
  const onsets = strokes.flatMap(({ heard }) => (heard === null ? [] : [heard]));
  const outcomes = outcomesOf(planned);
  /** As loud as the plan itself lets a string ring between two moments, in dB against a full pluck. */
  const plannedDb = (string: number, fromMs: number, toMs: number) =>
    Math.max(
      -99,
      ...steps.flatMap((step, i) => {
        if (heardAt(step.ms) >= toMs || heardAt(step.ms + step.lengthMs) <= fromMs) return [];
        const over = outcomes[i]!.strings[string - 1]!.strayDb ?? outcomes[i]!.faintDb[string - 1];
        return over == null ? [] : [over + planned.hazards[i]!.thresholdDb - model.struck(string, 0)];
      }),
    );
  const rests = restsOf(passage, planned).map((rest) => ({ ...rest, from: heardAt(rest.fromMs), to: heardAt(rest.toMs) }));
  const heard = strokes.flatMap((stroke) => (stroke.heard === null ? [] : [{ ms: stroke.ms, begins: stroke.heard }]));
  const between = heard.map((one, i) => ({ ...one, ends: heard[i + 1]?.begins ?? Math.max(one.begins, heardAt(endMs)) }));
  const gaps = ringsOf(levels, planned, model, rests, between);
  yield { done: 6, of: STAGES };
  // What usually is left of strings that have just been stilled, and of all others: the take's own noise, and its room.
  const floorOf = (kind: keyof typeof OVER_USUAL_DB) => {
    const usual = middle(gaps.flat().flatMap(({ db, isStilled }) => (db === null || isStilled !== (kind === "stilled") ? [] : [db]))) ?? -60;
    return Math.min(MOST_FLOOR_DB, Math.max(threshold, usual + OVER_USUAL_DB[kind]));
  };
  const floors = { stilled: floorOf("stilled"), other: floorOf("other") };
  for (const [i, rest] of rests.entries()) {
    for (const gap of gaps[i]!) if (gap.db === null) untold.push({ step: rest.step, string: rest.string, fromMs: gap.begins, toMs: gap.ends });
    const rings = gaps[i]!.map(({ begins, ends, db, isStilled }) => {
      if (db === null || db <= (isStilled ? floors.stilled : floors.other)) return "no";
      return db < plannedDb(rest.string, begins, ends) + PLANNED_OVER_DB ? "planned" : "stray";
    });
    for (const kind of ["stray", "planned"] as const)
      for (const run of runsOf(gaps[i]!, (_, k) => rings[k] === kind))
        findings.push({
          kind: "stray",
          ...(kind === "planned" ? { planned: true as const } : {}),
          ...(run[0]!.isStilled ? { over: true as const } : {}),
          step: rest.step,
          string: rest.string,
          fromMs: run[0]!.begins,
          toMs: run.at(-1)!.ends,
          db: Math.round(Math.max(...run.map(({ db }) => db!))),
        });
  }
  const loud: { string: number; ms: number; isUp: boolean; figure: number }[] = [];
  for (const voice of voices) {
    const { step, string, heardFrom, heardTo } = voice;
    if (heardTo - heardFrom < 110) continue;
    const levelAt = (fromMs: number, toMs: number, at: readonly number[]) => {
      const window = levels.fit(toMs - fromMs);
      return middle(at.flatMap((share) => levels.at(fromMs + share * window, [voice]).db[string - 1] ?? []));
    };
    const next = onsets.find((onset) => onset > heardFrom + 5) ?? heardTo;
    if (voice.isMuffled && ringsOpen(levels, voice, Math.min(next, heardTo))) findings.push({ kind: "open", step, string, fromMs: heardFrom, toMs: heardTo });
    if (voice.isDull) continue;
    const level = levelAt(heardFrom, Math.min(next, heardTo), [0.4, 0.5, 0.6]);
    if (level !== null && voice.isPlucked) loud.push({ string, ms: heardFrom, isUp: steps[step]!.stroke?.kind === "up", figure: level });
    if (level === null) untold.push({ step, string, fromMs: heardFrom, toMs: heardTo });
    else if (level < SILENT_DB) findings.push({ kind: "silent", step, string, fromMs: heardFrom, toMs: heardTo });
    else {
      // From the last stroke before its end on, where that is not its own.
      const last = Math.max(heardFrom + HOLE_AFTER_MS, onsets.findLast((onset) => onset < heardTo - 20) ?? 0);
      if (voice.isBent || heardTo - last < HOLE_LOOK_MS) continue;
      const window = levels.fit(Math.min(HOLE_LOOK_MS, heardTo - last));
      const at = heardTo - 0.5 * window - 12;
      const end = levels.at(at, [voice]).db[string - 1] ?? null;
      const slope = model.slope(string, voice.fret) / 1000;
      if (end === null || end > level - slope * (heardTo - heardFrom) - HOLE_UNDER_DB) continue;
      const early = (heardFrom + Math.min(next, heardTo)) / 2;
      const fell = BEFORE_HOLE_MS.flatMap((ms) => {
        const before = at - ms;
        const db = before - 0.5 * window < heardFrom ? null : levels.at(before, [voice]).db[string - 1];
        if (db == null || db < HOLE_FROM_DB) return [];
        const fell = db - end;
        return [before > early ? fell - ms * Math.max(slope, (level - db) / (before - early)) - HOLE_FALL_DB : fell - ms * slope - HOLE_SHORT_FALL_DB];
      });
      if (Math.max(...fell) > 0) findings.push({ kind: "hole", step, string, fromMs: heardTo - window, toMs: heardTo });
    }
  }
  const timed = timing(strokes);
  const late = Math.max(LATE_MS, UNEVEN * (middle(timed.flatMap(({ offMs }) => (offMs === null ? [] : [Math.abs(offMs)]))) ?? 0));
  for (const { step, ms, heard, offMs } of timed) {
    if (heard === null) {
      if (!findings.some((one) => one.kind === "silent" && one.step === step)) findings.push({ kind: "missed", step, fromMs: heardAt(ms), toMs: heardAt(ms) });
    } else if (offMs !== null && Math.abs(offMs) > late) findings.push({ kind: "late", step, fromMs: heard, toMs: heard, byMs: Math.round(offMs) });
  }
  const shareOf = (kind: Finding["kind"], of: number) => findings.filter((finding) => finding.kind === kind).length / Math.max(1, of);
  if (alignment.misfit + shareOf("silent", voices.length) + shareOf("missed", strokes.length) > ANOTHER_TOGETHER)
    return { kind: "another", misfit: alignment.misfit };
  const span = heardAt(endMs) - heardAt(0);
  return {
    kind: "judged",
    misfit: alignment.misfit,
    strokes: timed.map(({ step, heard, offMs }) => ({ step, bar: steps[step]!.bar, ms: heard, offMs })),
    findings: findings.sort((a, b) => a.fromMs - b.fromMs),
    untold,
    rests: rests.map(({ string, step }, i) => ({ string, step, gaps: gaps[i]! })),
    notes: voices.map(({ string, step, heardFrom, heardTo, isDull }) => ({ string, step, fromMs: heardFrom, toMs: heardTo, isDull })),
    upMs: usualOf(upsAgainstDowns(timed.flatMap(({ ms, isUp, heard }) => (heard === null ? [] : [{ ms, isUp, figure: heard }])))),
    upDb: usualOf(passage.instrument.tuning.flatMap((_, s) => upsAgainstDowns(loud.filter(({ string }) => string === s + 1)))),
    clipped: clippedOf(samples),
    tempo: span > 0 ? Math.round((passage.tempo * endMs) / span) : passage.tempo,
  };
}

function lowestHz(strings: StringSet, { instrument }: Passage): number {
  return Math.min(...instrument.tuning.map((_, s) => strings.live(s + 1, 0).frequencies[0]!));
}

function loudestOf(samples: Float32Array): number {
  let loudest = 0;
  for (let i = 0; i < samples.length; i++) loudest = Math.max(loudest, Math.abs(samples[i]!));
  return loudest;
}

const FULL_SCALE = 0.999;

function clippedOf(samples: Float32Array): number {
  let clipped = 0;
  for (let i = 0; i < samples.length; i++) if (Math.abs(samples[i]!) >= FULL_SCALE) clipped++;
  return clipped;
}

/** A muffled note is looked at at its beginning and its end, so far apart at least, in ms: where it has hardly faded until then, it rings. */
const LEAST_FADING_MS = 80;
const HARDLY_DB = 5;
const STILL_DB = -12;

/** Whether a note that should be muffled rings; false where that cannot be told. */
function ringsOpen(levels: Levels, voice: Heard, endMs: number): boolean {
  // The short window: two looks that see nothing of each other.
  const window = levels.fit(Math.min(endMs - voice.heardFrom, 2 * LEAST_FADING_MS));
  const [first, last] = [voice.heardFrom + 0.45 * window + 15, endMs - 0.4 * window];
  if (last - first < LEAST_FADING_MS) return false;
  const [early, late] = [first, last].map((ms) => levels.at(ms, [voice]).db[voice.string - 1]);
  return early != null && late != null && late > STILL_DB && early - late < HARDLY_DB;
}

/** A figure of each up-stroke, against where the down-strokes before and after it put it. */
function upsAgainstDowns(strokes: readonly { ms: number; isUp: boolean; figure: number }[]): number[] {
  return strokes.flatMap(({ ms, isUp, figure }, i) => {
    const before = strokes.slice(0, i).findLast((one) => !one.isUp);
    const after = strokes.slice(i + 1).find((one) => !one.isUp);
    if (!isUp || !before || !after) return [];
    return [figure - before.figure - ((ms - before.ms) / (after.ms - before.ms)) * (after.figure - before.figure)];
  });
}

function usualOf(figures: readonly number[]): number | null {
  return figures.length < LEAST_STROKES ? null : middle(figures);
}
const LEAST_STROKES = 4;

/** What follows each other and fits. */
function runsOf<T>(items: readonly T[], fits: (item: T, at: number) => boolean): T[][] {
  const runs: T[][] = [];
  let last: T[] | null = null;
  for (const [at, item] of items.entries()) {
    if (!fits(item, at)) last = null;
    else if (last) last.push(item);
    else {
      last = [item];
      runs.push(last);
    }
  }
  return runs;
}
