import { describe, expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { type Mistakes, NO_MISTAKES } from "../perform/mistakes.ts";
import { perform } from "../perform/perform.ts";
import { seededRandom } from "../perform/random.ts";
import { Rendering } from "../sound/render.ts";
import { demoPassages } from "../test/demos.ts";
import { aligned, inTake } from "./align.ts";
import { Beginnings } from "./onsets.ts";
import { RATE, resampled, Spectrogram } from "./spectrum.ts";
import { takeOf } from "./take.ts";

const DEMOS = demoPassages().map((passage) => ({ passage, planned: planStages(passage) }));
const soundOf = ({ passage, planned }: (typeof DEMOS)[number]) => {
  const sound = new Rendering(passage, planned, { damping: "planned", gain: "clean", sampleRate: RATE, toMs: planned.timeline.endMs });
  return sound.take(sound.length)!;
};
const played = ({ passage, planned }: (typeof DEMOS)[number], mistakes: Partial<Mistakes>, seed = 1) =>
  perform(passage, planned, { ...NO_MISTAKES, ...mistakes }, seed, RATE);
const share = (values: readonly number[], of: number) => [...values].sort((a, b) => a - b)[Math.floor(of * (values.length - 1))]!;

describe("samples", () => {
  it("of any rate become those of the analysis: a tone keeps its pitch and its strength", () => {
    for (const rate of [16_000, 44_100, 48_000, 96_000]) {
      const tone = Float32Array.from({ length: rate }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 1000 * i) / rate));
      const spectrogram = new Spectrogram(resampled(tone, rate), 4096, 256);
      const frame = spectrogram.frameAt(500);
      const magnitudes = spectrogram.at(frame);
      const loudest = magnitudes.indexOf(Math.max(...magnitudes));
      expect(Math.abs(loudest * spectrogram.binHz - 1000), `${rate}`).toBeLessThan(spectrogram.binHz);
      expect(spectrogram.peak(frame, 1000), `${rate}`).toBeGreaterThan(0.42);
      expect(spectrogram.peak(frame, 1000), `${rate}`).toBeLessThan(0.51);
    }
  });
  it("what lies over half of the rate is gone, and does not come back as another pitch", () => {
    const tone = Float32Array.from({ length: 48_000 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 15_000 * i) / 48_000));
    const spectrogram = new Spectrogram(resampled(tone, 48_000), 4096, 256);
    expect(Math.max(...spectrogram.at(spectrogram.frameAt(500)))).toBeLessThan(0.02);
  });
});

describe("a take is found in time", () => {
  it.each([
    ["as planned", {}, 3, 10],
    ["with drift, jitter, noise and a room", { drift: 5, jitter: 20, noise: 30, room: 0.4 }, 5, 15],
  ] as const)("each stroke to some milliseconds, %s", (_, mistakes, middle, most) => {
    const off: number[] = [];
    let missed = 0;
    for (const one of [DEMOS[1]!, DEMOS[2]!, DEMOS[3]!, DEMOS[5]!]) {
      const { samples, stepsMs } = played(one, mistakes);
      const alignment = aligned(soundOf(one), samples);
      const beginnings = new Beginnings(samples);
      one.planned.timeline.steps.forEach(({ stroke, ms }, i) => {
        if (!stroke) return;
        expect(Math.abs(inTake(alignment, ms) - stepsMs[i]!), `${one.passage.title}, step ${i}`).toBeLessThan(75);
        const heard = beginnings.near(inTake(alignment, ms));
        if (heard) off.push(Math.abs(heard.ms - stepsMs[i]!));
        else missed++;
      });
    }
    expect(share(off, 0.5)).toBeLessThan(middle);
    expect(share(off, 0.95)).toBeLessThan(most);
    expect(missed / (off.length + missed)).toBeLessThan(0.15);
  });
  it("another passage, silence and noise are told from this one", () => {
    const some = [DEMOS[5]!, DEMOS[3]!];
    for (const one of some)
      for (const other of some) {
        const { samples } = played(other, { noise: 40 });
        const result = takeOf(samples, RATE, one.passage, one.planned);
        expect(result.kind, `${other.passage.title} for ${one.passage.title}`).toBe(one === other ? "judged" : "another");
      }
    const { passage, planned } = some[1]!;
    expect(takeOf(new Float32Array(5 * RATE), RATE, passage, planned).kind).toBe("silence");
    const random = seededRandom(1);
    expect(
      takeOf(
        Float32Array.from({ length: 10 * RATE }, () => 0.2 * (random() - 0.5)),
        RATE,
        passage,
        planned,
      ).kind,
    ).toBe("another");
  });
  it("a stroke that comes late or early is said, by how much, and its tempo is", () => {
    for (const one of [DEMOS[3]!, DEMOS[4]!]) {
      const { samples, labels } = played(one, { late: 2 }, 2);
      const result = takeOf(samples, RATE, one.passage, one.planned);
      if (result.kind !== "judged") throw new Error(result.kind);
      const late = result.findings.filter(({ kind }) => kind === "late");
      for (const label of labels) expect(Math.abs(late.find(({ step }) => step === label.step)!.byMs! - label.byMs!), one.passage.title).toBeLessThan(20);
      expect(Math.abs(result.tempo / one.passage.tempo - 1)).toBeLessThan(0.02);
    }
  });
});
