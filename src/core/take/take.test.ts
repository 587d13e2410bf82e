import { describe, expect, it } from "vitest";
import { knownIn } from "../caching/known.ts";
import { planStages } from "../engine.ts";
import { type Mistakes, NO_MISTAKES } from "../perform/mistakes.ts";
import { perform } from "../perform/perform.ts";
import { seededRandom } from "../perform/random.ts";
import { practiceSessionSchema } from "../practice/record.ts";
import { againstOf, wrongIn } from "../practice/takes.ts";
import { Rendering } from "../sound/render.ts";
import { demoPassages } from "../test/demos.ts";
import { practiceOf, takeOfStrays } from "../test/practice-sessions.ts";
import { aligned, inTake } from "./align.ts";
import { keptTakeOf } from "./kept.ts";
import { saidOf, summaryOf } from "./said.ts";
import { RATE, resampled, Spectrogram } from "./spectrum.ts";
import { takeOf } from "./take.ts";

const DEMOS = demoPassages().map((passage) => ({ passage, planned: planStages(passage) }));
const soundOf = ({ passage, planned }: (typeof DEMOS)[number]) => {
  const sound = new Rendering(passage, planned, { damping: "planned", gain: "clean", sampleRate: RATE, toMs: planned.timeline.endMs });
  return sound.take(sound.length)!;
};
const played = ({ passage, planned }: (typeof DEMOS)[number], mistakes: Partial<Mistakes>, seed = 1) =>
  knownIn(PLAYED, `${passage.title} ${passage.tempo} ${JSON.stringify(mistakes)} ${seed}`, () =>
    perform(passage, planned, { ...NO_MISTAKES, ...mistakes }, seed, RATE),
  );
const PLAYED = new Map<string, ReturnType<typeof perform>>();
/** The same sound is looked at in several tests. */
const JUDGED = new WeakMap<Float32Array, ReturnType<typeof takeOf>>();
const judged = (one: (typeof DEMOS)[number], samples: Float32Array, rate = RATE) => {
  const result = JUDGED.get(samples) ?? takeOf(samples, rate, one.passage, one.planned);
  JUDGED.set(samples, result);
  if (result.kind !== "judged") throw new Error(`${one.passage.title}: ${result.kind}`);
  return result;
};
const share = (values: readonly number[], of: number) => [...values].sort((a, b) => a - b)[Math.floor(of * (values.length - 1))]!;

describe("samples", () => {
  it("of any rate become those of the analysis: a tone keeps its pitch and its strength", () => {
    for (const rate of [8_000, 16_000, 22_050, 44_100, 44_101, 48_000, 96_000]) {
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
      const heard = new Map(judged(one, samples).strokes.map(({ step, ms }) => [step, ms]));
      one.planned.timeline.steps.forEach(({ stroke, ms }, i) => {
        if (!stroke) return;
        expect(Math.abs(inTake(alignment, ms) - stepsMs[i]!), `${one.passage.title}, step ${i}`).toBeLessThan(75);
        const at = heard.get(i) ?? null;
        if (at === null) missed++;
        else off.push(Math.abs(at - stepsMs[i]!));
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

const wrong = (result: ReturnType<typeof judged>) => result.findings.filter(({ planned }) => !planned);

describe("what the hands did", () => {
  it("is nothing where the plan was played as it is", () => {
    for (const one of DEMOS) expect(wrong(judged(one, played(one, {}).samples)), one.passage.title).toEqual([]);
  });
  it("a string that rings because its contact is left out is named, where it rings, and nothing else", () => {
    let many = 0;
    for (const one of [DEMOS[5]!, DEMOS[0]!, DEMOS[1]!, DEMOS[2]!])
      for (const seed of [1, 2, 3]) {
        const { samples, labels } = played(one, { stray: 1 }, seed);
        const result = judged(one, samples);
        for (const label of labels) {
          const near = ({ string, fromMs, toMs }: { string?: number; fromMs: number; toMs: number }) =>
            string === label.string && fromMs < label.toMs + 60 && toMs > label.fromMs - 60;
          // Where it cannot be told, that is said.
          expect(wrong(result).some(near) || result.untold.some(near), `${one.passage.title} ${seed}`).toBe(true);
          expect(wrong(result).filter((finding) => !near(finding))).toEqual([]);
          if (wrong(result).some(near)) many++;
        }
      }
    expect(many).toBeGreaterThanOrEqual(9);
  });
  it("a string that rings through a chuck or a ghost is named, and led to what keeps it", () => {
    for (const one of [DEMOS[1]!, DEMOS[2]!])
      for (const seed of [4, 5]) {
        const { samples, labels } = played(one, { stray: 1 }, seed);
        const [label] = labels;
        expect(one.planned.intent[label!.step]![label!.string! - 1]).toBe("thud");
        const result = judged(one, samples);
        const [said] = saidOf(one.passage, one.planned, result).wrong;
        expect([said!.finding!.kind, said!.finding!.string], `${one.passage.title} ${seed}`).toEqual(["stray", label!.string]);
        expect(said!.keeper).not.toBeNull();
      }
  });
  it("a note that did not speak is named, in every hand", () => {
    for (const one of DEMOS) {
      const { samples, labels } = played(one, { silent: 1 }, 3);
      expect(
        wrong(judged(one, samples)).map(({ kind, step, string }) => [kind, step, string]),
        one.passage.title,
      ).toEqual(labels.map(({ kind, step, string }) => [kind, step, string]));
    }
  });
  it("a note that should be muffled and rings open is named, in a room as well; those that the palm muffles are not", () => {
    const one = DEMOS[0]!;
    for (const room of [{}, { noise: 40, room: 0.3 }])
      for (const open of [0, 1, 2]) {
        const { samples, labels } = played(one, { open, ...room });
        expect(labels).toHaveLength(open);
        const found = wrong(judged(one, samples)).filter(({ kind }) => kind === "open");
        expect(found.map(({ step, string }) => [step, string])).toEqual(labels.map(({ step, string }) => [step, string]).sort((a, b) => a[0]! - b[0]!));
      }
  });
  it("a note that ends early is named, and what was held as long as it should be is not", () => {
    let [found, all] = [0, 0];
    for (const one of DEMOS) {
      const { samples, labels } = played(one, { hole: 1 }, 2);
      const own = labels[0];
      for (const finding of wrong(judged(one, samples))) {
        // A short note that ends early hardly spoke.
        expect([finding.kind === "silent" || finding.kind === "hole", finding.step, finding.string], one.passage.title).toEqual([true, own?.step, own?.string]);
        found++;
      }
      all += labels.length;
    }
    expect(found).toBeGreaterThan(all / 2);
  });
  it("in a room that holds what was let go it is told by its fall, and what fades by itself is not", () => {
    let [found, all] = [0, 0];
    for (const one of DEMOS)
      for (const seed of [2, 4]) {
        const { samples, labels } = played(one, { hole: 1, noise: 30, room: 0.4 }, seed);
        const own = labels[0];
        for (const finding of wrong(judged(one, samples)).filter(({ kind }) => kind === "hole")) {
          expect([finding.step, finding.string], `${one.passage.title} ${seed}`).toEqual([own?.step, own?.string]);
          found++;
        }
        all += labels.length;
      }
    expect(found).toBeGreaterThan(all / 3);
  });
  it("up-strokes that come late against down-strokes are told by how much", () => {
    for (const one of [DEMOS[1]!, DEMOS[2]!, DEMOS[6]!])
      for (const upMs of [-15, 0, 25]) {
        const result = judged(one, played(one, { upMs }).samples);
        expect(Math.abs(result.upMs! - upMs), `${one.passage.title} ${upMs}`).toBeLessThan(3);
        const says = upMs === 0 ? /^(?!.*Up-strokes)/ : upMs > 0 ? /Up-strokes come 2\d ms late/ : /Up-strokes come 1\d ms early/;
        expect(summaryOf(one.passage, result)).toMatch(says);
      }
  });
  it("up-strokes that are softer than down-strokes are told, and even ones are not", () => {
    for (const one of [DEMOS[1]!, DEMOS[2]!, DEMOS[6]!])
      for (const upDb of [0, 4, 9]) {
        const result = judged(one, played(one, { upDb }).samples);
        expect(Math.abs(result.upDb! + upDb), `${one.passage.title} ${upDb}`).toBeLessThan(1);
        const says = upDb === 0 ? /^(?!.*Up-strokes)/ : upDb === 4 ? /Up-strokes are a little softer than/ : /Up-strokes are clearly softer than/;
        expect(summaryOf(one.passage, result)).toMatch(says);
      }
    const both = judged(DEMOS[2]!, played(DEMOS[2]!, { upDb: 9, upMs: 25 }).samples);
    expect(summaryOf(DEMOS[2]!.passage, both)).toMatch(/Up-strokes come 2\d ms late against down-strokes, and are clearly softer\./);
  });
  it("two strings at one pitch cannot be told apart, and neither is accused", () => {
    // The fifth fret of the second string of a bass, and its first string open: 98 Hz both.
    const one = DEMOS[3]!;
    const at = one.planned.timeline.steps.findIndex(({ sounding, begins }) => begins[1] && sounding[1]?.fret === 5);
    const result = judged(one, played(one, { stray: 3 }, 1).samples);
    expect(at).toBeGreaterThan(-1);
    const heardAt = result.strokes.find(({ step }) => step === at)!.ms!;
    expect(wrong(result).filter(({ kind, string, fromMs }) => kind === "stray" && string === 1 && Math.abs(fromMs - heardAt) < 20)).toEqual([]);
  });
  it("a contact that lies lightly, so that its ring is fainter than anybody hears, is none", () => {
    const one = DEMOS[5]!;
    const { samples } = played(one, {});
    const faint = samples.slice();
    // What rings when a contact is left out, 20 dB down, under the take as planned.
    const { samples: ringing, labels } = played(one, { stray: 1 }, 1);
    for (let i = 0; i < faint.length; i++) faint[i]! += 0.1 * (ringing[i]! - samples[i]!);
    expect(labels).toHaveLength(1);
    expect(wrong(judged(one, faint))).toEqual([]);
  });
  it("a take that is clipped, and one at another tempo, are told", () => {
    const one = DEMOS[5]!;
    const { samples } = played(one, {});
    const loudest = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
    const clipped = samples.map((sample) => Math.max(-1, Math.min(1, (3 * sample) / loudest)));
    expect(judged(one, clipped).clipped).toBeGreaterThan(100);
    expect(summaryOf(one.passage, judged(one, clipped))).toContain("clipped");
    const slower = { ...one.passage, tempo: Math.round(one.passage.tempo * 0.85) };
    const result = judged(one, played({ passage: slower, planned: planStages(slower) }, {}).samples);
    expect(Math.abs(result.tempo / slower.tempo - 1)).toBeLessThan(0.03);
    expect(summaryOf(one.passage, result)).toContain(`Played at ${result.tempo}`);
  });
  it("sound that nobody made is refused, or judged, and breaks nothing", () => {
    const one = DEMOS[6]!;
    const random = seededRandom(3);
    const length = RATE * 8;
    const absurd: Record<string, (i: number) => number> = {
      "one sample": (i) => (i === 100 ? 1 : 0),
      "a constant": () => 0.7,
      "very loud noise": () => 1e9 * (2 * random() - 1),
      "a square at half the rate": (i) => (i % 2 === 0 ? 1 : -1),
    };
    for (const [name, sampleAt] of Object.entries(absurd)) {
      const samples = Float32Array.from({ length }, (_, i) => sampleAt(i));
      expect(["another", "silence"], name).toContain(takeOf(samples, RATE, one.passage, one.planned).kind);
    }
    for (const few of [0, 1, 5000]) expect(["another", "silence"]).toContain(takeOf(new Float32Array(few).fill(0.5), RATE, one.passage, one.planned).kind);
  });
  it("is said with what keeps the string, and against the take before", () => {
    const one = DEMOS[5]!;
    const first = judged(one, played(one, { stray: 1, silent: 1 }, 1).samples);
    const second = judged(one, played(one, {}).samples);
    const said = saidOf(one.passage, one.planned, first);
    const ring = said.wrong.find(({ finding }) => finding?.kind === "stray")!;
    expect(ring.says).toMatch(/^String \d rang (on )?for \d\.\d s where it should be still\. What keeps it: .+\.$/);
    expect(ring.place).toMatch(/^Bar \d, /);
    const kept = [first, second].map((result, n) =>
      keptTakeOf(one.passage, result, saidOf(one.passage, one.planned, result), takeOfStrays(n, "2026-03-01T18:00:00.000Z", [])),
    );
    const log = { ...practiceOf(1, { figure: "palm" }, "2026-03-01T18:00:00.000Z", {}), takes: kept };
    // As it stands in a log, and against each other.
    expect(practiceSessionSchema.parse(JSON.parse(JSON.stringify(log))).takes).toEqual(kept);
    expect(wrongIn(kept[0]!).map(({ kind, string }) => [kind, string])).toEqual(wrong(first).map(({ kind, string }) => [kind, string]));
    expect(againstOf(kept[0]!, kept[1]!)).toEqual({ gone: wrongIn(kept[0]!), come: [] });
    expect(againstOf(kept[1]!, kept[0]!)).toEqual({ gone: [], come: wrongIn(kept[0]!) });
    expect(summaryOf(one.passage, second)).toMatch(/^Only what was meant rang\./);
  });
});
