import { transfer } from "comlink";
import { planStages } from "../../core/engine.ts";
import { EngineCache } from "../../core/engine-cache.ts";
import { unitLength } from "../../core/music/beats.ts";
import type { Bar, Passage } from "../../core/passage/schema.ts";
import { Rendering } from "../../core/sound/render.ts";
import type { Damping, Without } from "../../core/sound/score.ts";
import { msPerTick } from "../../core/timeline/clock.ts";
import type { PlannedStages } from "../../core/verdict/verdict.ts";
import { barsReceived, type SentBar } from "../planner/sent-bars.ts";

/** A beat in ms from the start of the sound; those of the bar to count in come before 0. */
export interface Beat {
  ms: number;
  strong: boolean;
}

/** What is to be heard of a prepared passage. */
export interface Stretch {
  damping: Damping;
  /** A contact that fails. */
  without?: Without | undefined;
  /** This string alone; null for all. */
  string: number | null;
  fromStep: number;
  stepOnly: boolean;
  /** Where it ends; null for the passage's end. */
  toStep: number | null;
  loop: boolean;
}

/** Times in ms from the start of a stretch of sound. */
export interface Schedule {
  stepsMs: number[];
  beats: Beat[];
}

/** A step alone is heard this long at least, in ms. */
const SHORTEST_STEP_MS = 600;

/** The worker's side of listening: one passage is prepared, one stretch of it is rendered, piece by piece as it is asked for. */
export class Sounds {
  private readonly cache = new EngineCache();
  private bars: readonly Bar[] = [];
  private prepared: { passage: Passage; planned: PlannedStages } | null = null;
  private rendering: { job: number; sound: Rendering } | null = null;

  /** Plans ahead, so that sound can begin at once. */
  prepare(rest: Omit<Passage, "bars">, bars: readonly SentBar[]): void {
    this.bars = barsReceived(this.bars, bars);
    const passage: Passage = { ...rest, bars: [...this.bars] };
    this.prepared = { passage, planned: planStages(passage, this.cache) };
  }

  /** Begins a stretch of the prepared passage. */
  render(job: number, { damping, without, string, fromStep, stepOnly, toStep, loop }: Stretch): Schedule {
    if (!this.prepared) throw new Error("nothing was prepared");
    const { passage, planned } = this.prepared;
    const { steps, endMs } = planned.timeline;
    const from = steps[fromStep];
    const fromMs = from?.ms ?? 0;
    const untilMs = toStep === null ? endMs : (steps[toStep]?.ms ?? endMs);
    // The passage's end is left to ring, unless it begins anew there.
    const end = stepOnly && from ? { toMs: fromMs + Math.max(SHORTEST_STEP_MS, from.lengthMs) } : toStep === null && !loop ? {} : { toMs: untilMs };
    this.rendering = { job, sound: new Rendering(passage, planned, { damping, without, fromMs, ...(string === null ? {} : { string }), ...end }) };
    return { stepsMs: steps.map((step) => step.ms - fromMs), beats: beatsOf(passage, planned, fromMs, untilMs) };
  }

  /** The next samples of a stretch; null when there are no more, or another stretch has begun. */
  more(job: number, count: number): { samples: Float32Array<ArrayBuffer>; sampleRate: number } | null {
    if (this.rendering?.job !== job) return null;
    const { sound } = this.rendering;
    const samples = sound.take(count) as Float32Array<ArrayBuffer> | null;
    return samples && transfer({ samples, sampleRate: sound.sampleRate }, [samples.buffer]);
  }
}

/** Beats from one moment to another, with one bar to count in before. */
function beatsOf(passage: Passage, { timeline }: PlannedStages, fromMs: number, toMs: number): Beat[] {
  const beats: Beat[] = [];
  let ms = 0;
  let tempo = passage.tempo;
  let first: { beatMs: number; count: number } | null = null;
  passage.bars.forEach((bar, b) => {
    tempo = bar.tempo ?? tempo;
    const [count] = bar.meter;
    const beatMs = msPerTick(tempo) * unitLength(bar.meter);
    // A pick-up bar begins with its first stroke.
    const skippedMs = msPerTick(tempo) * (b === 0 ? (timeline.bars[0]?.offset ?? 0) : 0);
    for (let k = 0; k < count; k++) {
      const at = ms + k * beatMs - skippedMs;
      if (at < fromMs - 1 || at >= toMs - 1) continue;
      first ??= { beatMs, count };
      beats.push({ ms: at - fromMs, strong: k === 0 });
    }
    ms += count * beatMs - skippedMs;
  });
  const { beatMs, count } = first ?? { beatMs: 60_000 / passage.tempo, count: 4 };
  const countIn = Array.from({ length: count }, (_, k) => ({ ms: (k - count) * beatMs, strong: k === 0 }));
  return [...countIn, ...beats];
}
