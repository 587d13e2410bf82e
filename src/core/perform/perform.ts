import { AUDIBLE_DB } from "../acoustics/constants.ts";
import { LoudnessModel } from "../acoustics/loudness-model.ts";
import { StringSet } from "../acoustics/modal.ts";
import { levelAt } from "../hazards/excitations.ts";
import type { StringHazard } from "../hazards/types.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { RENDERED_PARTIALS, Rendering, SAMPLE_RATE } from "../sound/render.ts";
import { type SoundScore, type StringEvent, scoreOf } from "../sound/score.ts";
import type { Step } from "../timeline/types.ts";
import { type Outcome, outcomesOf, type PlannedStages } from "../verdict/verdict.ts";
import { isChuck, type Label, type Mistakes } from "./mistakes.ts";
import { seededRandom } from "./random.ts";
import { inRoom, withNoise } from "./room.ts";

/** A performance by nobody: what is heard, what went wrong in it, and when each step was really played. */
export interface Performance {
  samples: Float32Array;
  sampleRate: number;
  labels: Label[];
  /** When each step begins in the sound, in ms. */
  stepsMs: number[];
}

/** Silence before the first note, in ms. */
const LEAD_MS = 300;
/** A late stroke is so late, or early. */
const LATE_MS = [45, 90] as const;
/** A hole is so long. */
const HOLE_MS = [90, 200] as const;
/** A finger that ends a note early. */
const STOP = { fromMm: 0, toMm: 2000, rate: 400 } as const;
/** A ring is labelled where it is so far over what is heard, so long. */
const OVER_DB = 8;
/** Fainter ones nobody finds in a take. */
const LEAST_DB = -12;
const LEAST_MS = 90;
const LOOK_RATE = 11_025;

/** A contact that is left out, that lands late, that lies too lightly: so long, with such a share of its weight. */
const RINGS = [
  { kind: "stray", lasts: null, share: 0 },
  { kind: "overlap", lasts: [200, 350], share: 0 },
  { kind: "light", lasts: null, share: 0.04 },
] as const;

type Random = () => number;
type Events = StringEvent[][];

/**
 * The plan, played with mistakes. Each is chosen by the seed among the places where it can be made; rings are followed to where they
 * end, and one that nobody would hear is no mistake.
 */
export function perform(passage: Passage, planned: PlannedStages, mistakes: Mistakes, seed: number, sampleRate = SAMPLE_RATE): Performance {
  const random = seededRandom(seed);
  const outcomes = outcomesOf(planned);
  const settings = settingsOf(passage);
  const strings = new StringSet(passage.instrument, RENDERED_PARTIALS);
  const events: Events = scoreOf(planned, outcomes, strings, settings, "planned").map((list) => [...list]);
  const { steps, endMs } = planned.timeline;
  const taken = new Set<number>();
  const labels: Label[] = [
    ...someOf(mistakes.silent, random, silentPlaces(steps), taken).map(({ step, string }) => muteNote(events, steps, step, string)),
    ...someOf(mistakes.open, random, openPlaces(planned), taken).map((place): Label => {
      letRing(events[place.string - 1]!, place, 0);
      return { kind: "open", step: place.step, string: place.string, fromMs: place.fromMs, toMs: place.untilMs };
    }),
    ...someOf(mistakes.hole, random, holePlaces(steps, endMs), taken).map(({ step, string, endsMs }) => {
      const toMs = endsMs - 10;
      const fromMs = toMs - between(HOLE_MS, random);
      insert(events[string - 1]!, { ms: fromMs, kind: "touch", touches: [STOP] });
      return { kind: "hole" as const, step, string, fromMs, toMs };
    }),
    ...RINGS.flatMap(({ kind, lasts, share }) =>
      strayPlaces(planned, new LoudnessModel(strings), outcomes, random, taken, mistakes[kind], lasts, (place) =>
        ringOf(passage, planned, events, place, share),
      ).map(({ place, ring }): Label => {
        letRing(events[place.string - 1]!, place, share);
        return { kind, step: place.step, string: place.string, fromMs: place.fromMs, toMs: ring.toMs, db: ring.db };
      }),
    ),
  ];
  const offsets = new Map<number, number>();
  const off = (kind: "late" | "chuck", places: { step: number }[]) =>
    someOf(mistakes[kind], random, places, taken).map(({ step }): Label => {
      const byMs = between(LATE_MS, random) * (random() < 0.7 ? 1 : -1);
      offsets.set(step, byMs);
      return { kind, step, fromMs: steps[step]!.ms, toMs: steps[step]!.ms + steps[step]!.lengthMs, byMs };
    });
  labels.push(
    ...off("chuck", strokesIn(steps, isChuck)),
    ...off(
      "late",
      strokesIn(steps, (step) => !isChuck(step)),
    ),
  );
  soften(events, steps, mistakes.upDb);

  const ofStep = (i: number) => {
    const step = steps[i]!;
    const jitter = step.stroke ? (2 * random() - 1) * mistakes.jitter : 0;
    return (offsets.get(i) ?? 0) + jitter + (step.stroke?.kind === "up" ? mistakes.upMs : 0);
  };
  const shifts = steps.map((_, i) => ofStep(i));
  const drifted = (ms: number) => ms * (1 - (mistakes.drift / 200) * (ms / Math.max(1, endMs)));
  const moved = (ms: number, shift: number) => LEAD_MS + Math.max(0, drifted(ms + shift));
  const score: SoundScore = events.map((list) =>
    list.map((event) => ({ ...event, ms: moved(event.ms, shifts[stepOf(steps, event)]!) })).sort((a, b) => a.ms - b.ms),
  );
  const toMs = moved(endMs, 0) + 1200;
  const sound = new Rendering(passage, planned, { damping: "planned", gain: "clean", score, toMs, sampleRate });
  let samples = sound.take(sound.length) ?? new Float32Array(0);
  if (mistakes.room > 0) samples = inRoom(samples, sampleRate, mistakes.room, random);
  if (mistakes.noise > 0) withNoise(samples, mistakes.noise, random);
  return {
    samples,
    sampleRate,
    labels: labels.map((label) => ({ ...label, fromMs: moved(label.fromMs, 0), toMs: moved(label.toMs, 0) })),
    stepsMs: steps.map(({ ms }, i) => moved(ms, shifts[i]!)),
  };
}

function between([least, most]: readonly [number, number], random: Random): number {
  return Math.round(least + (most - least) * random());
}

/** Some places, each in a step of its own and none beside another. */
function someOf<Place extends { step: number }>(many: number, random: Random, places: readonly Place[], taken: Set<number>): Place[] {
  const left = [...places];
  const found: Place[] = [];
  while (found.length < many && left.length > 0) {
    const [place] = left.splice(Math.floor(random() * left.length), 1);
    if ([-1, 0, 1].some((beside) => taken.has(place!.step + beside))) continue;
    taken.add(place!.step);
    found.push(place!);
  }
  return found;
}

function strokesIn(steps: readonly Step[], fits: (step: Step) => boolean): { step: number }[] {
  return steps.flatMap((step, i) => (i > 0 && step.stroke && fits(step) ? [{ step: i }] : []));
}

/** Plain notes that a stroke plays. */
function silentPlaces(steps: readonly Step[]): { step: number; string: number }[] {
  return steps.flatMap((step, i) =>
    (step.stroke?.notes ?? []).flatMap((note) =>
      note.from === "stroke" && note.tone === "open" && step.begins[note.string - 1] ? [{ step: i, string: note.string }] : [],
    ),
  );
}

/** A note that never speaks: the string is struck dead. */
function muteNote(events: Events, steps: readonly Step[], step: number, string: number): Label {
  const { ms } = steps[step]!;
  const list = events[string - 1]!;
  const at = list.findIndex((event) => event.kind === "pluck" && event.ms >= ms - 1);
  const pluck = list[at]!;
  const until = list.find((event, i) => i > at && (event.kind === "pluck" || event.kind === "change"))?.ms;
  events[string - 1] = list.filter((event) => event === pluck || event.ms < pluck.ms || (until !== undefined && event.ms >= until));
  insert(events[string - 1]!, { ms: Math.max(0, pluck.ms - 5), kind: "touch", touches: [STOP] });
  const after = list.filter((event) => event.kind === "touch" && until !== undefined && event.ms <= until).at(-1);
  if (until !== undefined)
    insert(events[string - 1]!, after && after.ms > pluck.ms ? { ...after, ms: until - 1 } : { ms: until - 1, kind: "touch", touches: [] });
  return { kind: "silent", step, string, fromMs: pluck.ms, toMs: until ?? pluck.ms + 400 };
}

/** Plain notes that are long enough to end early, and go on to something else. */
function holePlaces(steps: readonly Step[], endMs: number): { step: number; string: number; endsMs: number }[] {
  return silentPlaces(steps).flatMap(({ step, string }) => {
    const note = steps[step]!.sounding[string - 1]!;
    const next = steps.findIndex((later, i) => i > step && (later.sounding[string - 1] !== note || later.begins[string - 1]));
    const endsMs = next < 0 ? endMs : steps[next]!.ms;
    return endsMs - steps[step]!.ms > HOLE_MS[1] + 150 ? [{ step, string, endsMs }] : [];
  });
}

interface StrayPlace {
  step: number;
  string: number;
  fromMs: number;
  /** Up to where the contact is left out. */
  untilMs: number;
}

/** Notes that the palm muffles, and that are long enough to be heard. */
function openPlaces({ timeline: { steps, endMs }, intent }: PlannedStages): StrayPlace[] {
  return steps.flatMap((step, i) =>
    step.sounding.flatMap((note, s): StrayPlace[] => {
      if (!note || !step.begins[s] || intent[i]![s] !== "muffled") return [];
      const next = steps.findIndex((later, k) => k > i && (later.sounding[s] !== note || later.begins[s]));
      const untilMs = next < 0 ? endMs : steps[next]!.ms;
      return untilMs - step.ms < LEAST_OPEN_MS ? [] : [{ step: i, string: s + 1, fromMs: step.ms, untilMs }];
    }),
  );
}
const LEAST_OPEN_MS = 200;

/** Rings that would be heard where a contact is left out, as many as asked for. */
function strayPlaces(
  { timeline: { steps, endMs }, hazards }: PlannedStages,
  model: LoudnessModel,
  outcomes: readonly Outcome[],
  random: Random,
  taken: Set<number>,
  many: number,
  lasts: readonly [number, number] | null,
  ringAt: (place: StrayPlace) => Ring | null,
): { place: StrayPlace; ring: Ring }[] {
  const places = outcomes.flatMap(({ strings }, i) =>
    strings.flatMap(({ string, intent, touchedBy, undampedDb }): StrayPlace[] => {
      if ((intent !== "quiet" && intent !== "thud") || touchedBy.length === 0 || (undampedDb ?? 0) < OVER_DB) return [];
      if (expectedDb(hazards[i]!.strings[string - 1]!, steps[i]!.ms + LEAST_MS) - model.struck(string, 0) < LEAST_DB) return [];
      const next = steps.findIndex((step, k) => k > i && (step.begins[string - 1] || step.stroke?.crossed.includes(string)));
      const untilMs = next < 0 ? endMs : steps[next]!.ms;
      return untilMs - steps[i]!.ms < LEAST_MS ? [] : [{ step: i, string, fromMs: steps[i]!.ms, untilMs }];
    }),
  );
  const found: { place: StrayPlace; ring: Ring }[] = [];
  const left = [...places];
  while (found.length < many && left.length > 0) {
    const [place] = left.splice(Math.floor(random() * left.length), 1);
    if ([-1, 0, 1].some((beside) => taken.has(place!.step + beside))) continue;
    const at = lasts ? { ...place!, untilMs: Math.min(place!.untilMs, place!.fromMs + between(lasts, random)) } : place!;
    if (found.some(({ place: other }) => other.string === at.string && other.fromMs < at.untilMs && at.fromMs < other.untilMs)) continue;
    const ring = ringAt(at);
    if (!ring) continue;
    taken.add(at.step);
    found.push({ place: at, ring });
  }
  return found;
}

/** How loud a string would be at a moment if nothing touched it, in model dB. */
function expectedDb({ alive }: StringHazard, ms: number): number {
  return Math.max(Number.NEGATIVE_INFINITY, ...alive.map((excitation) => levelAt(excitation, ms)));
}

interface Ring {
  toMs: number;
  db: number;
}

/** How a string rings where its contacts are left out; null where nobody would hear it, or it rings anyway. */
function ringOf(passage: Passage, planned: PlannedStages, events: Events, place: StrayPlace, share: number): Ring | null {
  const own = [...events[place.string - 1]!];
  letRing(own, place, share);
  const alone = (list: StringEvent[], fromMs = place.fromMs, toMs = place.untilMs) => {
    const score = events.map((_, s) => (s === place.string - 1 ? list : []));
    const sound = new Rendering(passage, planned, { damping: "planned", gain: "clean", score, fromMs, toMs, sampleRate: LOOK_RATE });
    return levelsOf(sound.take(sound.length) ?? new Float32Array(0));
  };
  const pluck = alone([{ ms: 0, kind: "pluck", fret: 0, partial: 1, level: 1, noise: null }], 0, 4 * LEVEL_MS).at(-1)!;
  const threshold = Math.max(AUDIBLE_DB[settingsOf(passage).gain] + OVER_DB, LEAST_DB);
  const [with_, without] = [own, events[place.string - 1]!].map((list) => alone(list).map((db) => db - pluck)) as [number[], number[]];
  let blocks = 0;
  // The plan itself lets it ring for a moment while fingers land.
  while (blocks < with_.length && (with_[blocks]! > threshold || blocks < 2)) blocks++;
  const toMs = place.fromMs + blocks * LEVEL_MS;
  const quiet = without[Math.min(without.length - 1, 3)] ?? -200;
  if (toMs - place.fromMs < LEAST_MS || quiet > threshold - OVER_DB) return null;
  return { toMs, db: Math.round(with_[Math.min(3, with_.length - 1)]!) };
}

const LEVEL_MS = 30;

/** Level of every 30 ms, in dB. */
function levelsOf(samples: Float32Array): number[] {
  const length = Math.round((LEVEL_MS * LOOK_RATE) / 1000);
  return Array.from({ length: Math.floor(samples.length / length) }, (_, k) => {
    let power = 0;
    for (let i = k * length; i < (k + 1) * length; i++) power += samples[i]! ** 2;
    return 20 * Math.log10(Math.sqrt(power / length) + 1e-10);
  });
}

/** Nothing touches the string from one moment to another, or too lightly: with such a share of what it should; what was planned holds again then. */
function letRing(list: StringEvent[], { fromMs, untilMs }: StrayPlace, share: number): void {
  const lead = 40;
  const inside = (event: StringEvent) => event.ms >= fromMs - lead && event.ms < untilMs - 1;
  const last = list.findLast((event) => event.kind === "touch" && event.ms < untilMs - 1);
  for (let i = list.length - 1; i >= 0; i--) if (list[i]!.kind === "touch" && inside(list[i]!)) list.splice(i, 1);
  const light = share > 0 && last?.kind === "touch" ? last.touches.map((touch) => ({ ...touch, rate: touch.rate * share })) : [];
  insert(list, { ms: fromMs, kind: "touch", touches: light });
  if (last) insert(list, { ...last, ms: untilMs - 1 });
}

/** Up-strokes are softer by so many dB. */
function soften(events: Events, steps: readonly Step[], db: number): void {
  if (db === 0) return;
  const share = 10 ** (-db / 20);
  for (const list of events)
    for (const [i, event] of list.entries())
      if (event.kind === "pluck" && steps[stepAt(steps, event.ms)]!.stroke?.kind === "up") list[i] = { ...event, level: event.level * share };
}

/** Contacts are put down and taken off so long before their stroke at most. */
const LEAD_OF_TOUCH_MS = 60;

/** The step that something belongs to: hands move with their stroke, a contact a little before it. */
function stepOf(steps: readonly Step[], { kind, ms }: StringEvent): number {
  const next = kind === "touch" ? steps.findIndex((step) => step.ms >= ms - 0.001) : -1;
  return next >= 0 && steps[next]!.ms - ms < LEAD_OF_TOUCH_MS ? next : stepAt(steps, ms);
}

function stepAt(steps: readonly Step[], ms: number): number {
  return Math.max(
    0,
    steps.findLastIndex((step) => step.ms <= ms + 0.001),
  );
}

function insert(list: StringEvent[], event: StringEvent): void {
  const at = list.findIndex(({ ms }) => ms > event.ms);
  list.splice(at < 0 ? list.length : at, 0, event);
}
