import { repeated } from "../passage/repeated.ts";
import type { Passage } from "../passage/schema.ts";
import { Rendering } from "../sound/render.ts";
import type { PlannedStages } from "../verdict/verdict.ts";
import { aligned } from "./align.ts";
import { RATE, resampled } from "./spectrum.ts";
import { judging, type TakeResult } from "./take.ts";

/** A take of a passage that may be in it several times, without a stop: what was played as one passage, and what came of it. */
export interface WholeTake {
  of: Passage;
  planned: PlannedStages;
  times: number;
  result: TakeResult;
}

/** What the hands did in a take, however often the passage is in it; `plan` plans it as often as that. */
export function* judgingWhole(
  samples: Float32Array,
  sampleRate: number,
  passage: Passage,
  plan: (passage: Passage) => PlannedStages,
): Generator<{ done: number; of: number }, WholeTake, void> {
  const once = plan(passage);
  const times = timesIn(samples, sampleRate, passage, once);
  const of = repeated(passage, times);
  const planned = times === 1 ? once : plan(of);
  return { of, planned, times, result: yield* judging(samples, sampleRate, of, planned) };
}

/** Anything from so much longer on may be more than once. */
const LEAST_RATIO = 1.6;
const MOST_TIMES = 60;
/** It is in there so often only if it fits about as well as once. */
const MORE_MISFIT = 0.08;
/** What is softer than that against the loudest is no part of it. */
const SOUNDS = 0.02;
const BLOCK_MS = 50;

/** How many times a passage is played in a take: 1 also where it is something else. */
export function timesIn(samples: Float32Array, sampleRate: number, passage: Passage, planned: PlannedStages): number {
  const take = resampled(samples, sampleRate);
  const times = Math.min(MOST_TIMES, Math.round(soundingMs(take) / planned.timeline.endMs));
  if (soundingMs(take) < LEAST_RATIO * planned.timeline.endMs) return 1;
  const rendering = new Rendering(passage, planned, { damping: "planned", gain: "clean", sampleRate: RATE, toMs: planned.timeline.endMs });
  const once = rendering.take(rendering.length) ?? new Float32Array(0);
  const often = new Float32Array(once.length * times);
  for (let time = 0; time < times; time++) often.set(once, time * once.length);
  return aligned(often, take).misfit < aligned(once, take).misfit + MORE_MISFIT ? times : 1;
}

/** How long it is from the first sound to the last. */
function soundingMs(take: Float32Array): number {
  const length = Math.round((BLOCK_MS * RATE) / 1000);
  const peaks = Array.from({ length: Math.floor(take.length / length) }, (_, k) =>
    take.subarray(k * length, (k + 1) * length).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0),
  );
  const least = SOUNDS * peaks.reduce((most, peak) => Math.max(most, peak), 0);
  const isLoud = (peak: number) => peak > least;
  return BLOCK_MS * (peaks.findLastIndex(isLoud) - peaks.findIndex(isLoud) + 1);
}
