import { describe, expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { Rendering } from "../sound/render.ts";
import { demoPassages } from "../test/demos.ts";
import { type Mistakes, NO_MISTAKES, readMistakes } from "./mistakes.ts";
import { perform } from "./perform.ts";
import { seededRandom } from "./random.ts";
import { inRoom, withNoise } from "./room.ts";

const RATE = 11_000;
const DEMOS = demoPassages().map((passage) => ({ passage, planned: planStages(passage) }));
const BASS = DEMOS[3]!;
const played = (mistakes: Partial<Mistakes>, seed = 1, { passage, planned } = BASS) => perform(passage, planned, { ...NO_MISTAKES, ...mistakes }, seed, RATE);
const powerOf = (samples: Float32Array, fromMs: number, toMs: number) => {
  const [from, to] = [fromMs, toMs].map((ms) => Math.round((ms * RATE) / 1000)) as [number, number];
  return samples.subarray(from, to).reduce((sum, sample) => sum + sample * sample, 0) / (to - from);
};

describe("a performance by nobody", () => {
  it("without mistakes is the plan, heard a moment later, and has no label", () => {
    const { passage, planned } = BASS;
    const { samples, labels, stepsMs } = played({});
    const plain = new Rendering(passage, planned, { damping: "planned", gain: "clean", sampleRate: RATE });
    const planSamples = plain.take(plain.length)!;
    expect(labels).toEqual([]);
    const lead = Math.round((stepsMs[0]! * RATE) / 1000);
    for (let i = 0; i < planSamples.length - lead; i += 997) expect(samples[i + lead]).toBeCloseTo(planSamples[i]!, 4);
  });
  it("is the same for the same seed, and another for another", () => {
    const mistakes = { stray: 1, silent: 1, late: 1, noise: 40, room: 0.2 };
    expect(played(mistakes, 5)).toEqual(played(mistakes, 5));
    expect(played(mistakes, 6).labels).not.toEqual(played(mistakes, 5).labels);
  });
  it("a string that should be still rings where that is labelled, louder by far than as planned", () => {
    for (const one of [DEMOS[0]!, DEMOS[3]!, DEMOS[5]!])
      for (const kind of ["stray", "overlap", "light"] as const) {
        const seed = 1;
        const clean = played({}, seed, one).samples;
        const { samples, labels } = played({ [kind]: 1 }, seed, one);
        for (const { fromMs, toMs, string, step } of labels) {
          // The plan lets nothing of it be heard: the difference is the ring.
          const ring = Float32Array.from(samples, (sample, i) => sample - (clean[i] ?? 0));
          const name = `${one.passage.title}, step ${step}, string ${string}`;
          expect(powerOf(ring, fromMs + 60, Math.min(toMs, fromMs + 200)), name).toBeGreaterThan(1e-6);
          expect(powerOf(ring, fromMs + 60, Math.min(toMs, fromMs + 200)), name).toBeGreaterThan(30 * powerOf(ring, Math.max(0, fromMs - 150), fromMs - 50));
        }
      }
    expect(DEMOS.flatMap((one) => played({ stray: 2 }, 1, one).labels).length).toBeGreaterThan(6);
  });
  it("a note that never speaks, and one that ends early, leave a hole", () => {
    const clean = played({}).samples;
    for (const kind of ["silent", "hole"] as const) {
      const { samples, labels } = played({ [kind]: 1 }, 2);
      expect(labels).toHaveLength(1);
      const { fromMs, toMs } = labels[0]!;
      const [from, to] = kind === "silent" ? [fromMs + 40, Math.min(toMs, fromMs + 250)] : [fromMs + 40, toMs];
      expect(powerOf(samples, from, to), kind).toBeLessThan(0.3 * powerOf(clean, from, to));
    }
  });
  it("strokes are off by what is said, drift and jitter move all of them, and no more than asked for", () => {
    const { planned } = BASS;
    const plain = planned.timeline.steps.map(({ ms }) => ms + 300);
    const late = played({ late: 2 }, 3);
    for (const { step, byMs } of late.labels) expect(late.stepsMs[step]! - plain[step]!).toBeCloseTo(byMs!, 6);
    const drifted = played({ drift: 6 }).stepsMs;
    const last = plain.length - 1;
    expect((drifted[last]! - 300) / (plain[last]! - 300)).toBeCloseTo(0.97, 1);
    for (const [i, ms] of played({ jitter: 20 }, 4).stepsMs.entries()) expect(Math.abs(ms - plain[i]!)).toBeLessThanOrEqual(20);
  });
  it("says what it does not understand", () => {
    expect(readMistakes("stray=2, noise=30")).toEqual({ ok: true, value: { ...NO_MISTAKES, stray: 2, noise: 30 } });
    expect(readMistakes("")).toEqual({ ok: true, value: NO_MISTAKES });
    for (const text of ["squeak=1", "stray", "stray=-1", "stray=x", "times=0", "stray=1=2", "__proto__=1"]) expect(readMistakes(text).ok, text).toBe(false);
  });
});

describe("where it is recorded", () => {
  it("noise lies so far below the music as asked for", () => {
    const tone = Float32Array.from({ length: 20_000 }, (_, i) => Math.sin(i / 7));
    const noisy = tone.slice();
    withNoise(noisy, 30, seededRandom(1));
    const noise = noisy.map((sample, i) => sample - tone[i]!);
    expect(10 * Math.log10(powerOf(tone, 0, 1000) / powerOf(noise, 0, 1000))).toBeCloseTo(30, 0);
  });
  it("the echo of a room falls by 60 dB in its time (Schroeder's integration), or sooner where its walls swallow high pitches", () => {
    for (const seconds of [0.3, 0.6]) {
      const click = new Float32Array(RATE * 2);
      click[0] = 1;
      const echo = inRoom(click, RATE, seconds, seededRandom(2));
      echo[0] = 0;
      const left = new Float64Array(echo.length + 1);
      for (let i = echo.length - 1; i >= 0; i--) left[i] = left[i + 1]! + echo[i]! ** 2;
      const at = (db: number) => left.findIndex((energy) => 10 * Math.log10(energy / left[0]!) < db) / RATE;
      // From -5 to -25 dB, three times: the usual way to measure it (ISO 3382).
      const measured = 3 * (at(-25) - at(-5));
      expect(measured).toBeLessThan(1.1 * seconds);
      expect(measured).toBeGreaterThan(0.4 * seconds);
    }
  });
});
