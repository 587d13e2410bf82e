import { planStages } from "../../core/engine.ts";
import { type Label, type Mistakes, NO_MISTAKES } from "../../core/perform/mistakes.ts";
import { type Performance, perform } from "../../core/perform/perform.ts";
import { type Finding, takeOf } from "../../core/take/take.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { playSampled } from "./sampled.ts";

/* How well a take is judged: the demos played with known mistakes by our own stand-in and on sampled instruments, and what was found of them. */

const SEEDS = [1, 2, 3];
/** A ring is found where string and time fit so far, in ms. */
const NEAR_MS = 60;
const HARD: Partial<Mistakes> = { noise: 30, room: 0.4, drift: 5, jitter: 20 };

const DEMOS = demoPassages().map((passage) => ({ passage, planned: planStages(passage) }));
type Demo = (typeof DEMOS)[number];

interface Score {
  found: number;
  missed: number;
  untold: number;
  false: number;
}

const isSame = (a: { string?: number; fromMs: number; toMs: number }, b: typeof a) =>
  a.string === b.string && a.fromMs < b.toMs + NEAR_MS && a.toMs > b.fromMs - NEAR_MS;

function count(
  score: Score,
  labels: readonly Label[],
  findings: readonly Finding[],
  untold: readonly { string: number; fromMs: number; toMs: number }[],
): void {
  for (const label of labels) {
    if (findings.some((finding) => isSame(finding, label))) score.found++;
    else score.missed++;
    if (!findings.some((finding) => isSame(finding, label)) && untold.some((one) => isSame(one, label))) score.untold++;
  }
  score.false += findings.filter((finding) => !labels.some((label) => isSame(finding, label))).length;
}

async function judged(name: string, play: (demo: Demo, seed: number) => Promise<Performance> | Performance): Promise<void> {
  const strays: Score = { found: 0, missed: 0, untold: 0, false: 0 };
  const onsets: number[] = [];
  let [refused, all, ms, seconds] = [0, 0, 0, 0];
  for (const demo of DEMOS)
    for (const seed of SEEDS) {
      const { samples, sampleRate, labels, stepsMs } = await play(demo, seed);
      const began = performance.now();
      const result = takeOf(samples, sampleRate, demo.passage, demo.planned);
      ms += performance.now() - began;
      seconds += samples.length / sampleRate;
      all++;
      const rings = labels.filter(({ kind }) => kind === "stray");
      if (result.kind !== "judged") {
        refused++;
        strays.missed += rings.length;
        continue;
      }
      count(
        strays,
        rings,
        result.findings.filter(({ kind, planned }) => kind === "stray" && !planned),
        result.untold,
      );
      for (const { step, ms: heard } of result.strokes) if (heard !== null) onsets.push(Math.abs(heard - stepsMs[step]!));
    }
  onsets.sort((a, b) => a - b);
  const at = (share: number) => (onsets[Math.floor(share * (onsets.length - 1))] ?? Number.NaN).toFixed(1);
  const f1 = (2 * strays.found) / (2 * strays.found + strays.missed + strays.false);
  process.stdout.write(
    `${name.padEnd(28)} strays F1 ${f1.toFixed(2)} (${strays.found} found, ${strays.missed} missed, ${strays.untold} of them cannot be told, ${strays.false} false); ` +
      `onsets ${at(0.5)} / ${at(0.95)} ms; ${refused} of ${all} taken for another passage; ${(ms / seconds).toFixed(0)} ms a second\n`,
  );
}

process.stdout.write("\nTakes (aims: F1 0.98 and 0.92 by the stand-in, 0.95 sampled; onsets 3 / 10 and 5 / 15 ms; 50 ms a second)\n");
await judged("stand-in", ({ passage, planned }, seed) => perform(passage, planned, { ...NO_MISTAKES, stray: 2, silent: 1, late: 1 }, seed));
await judged("stand-in, hard", ({ passage, planned }, seed) => perform(passage, planned, { ...NO_MISTAKES, ...HARD, stray: 2, silent: 1, late: 1 }, seed));
await judged("sampled instruments", ({ passage, planned }, seed) => playSampled(passage, planned, 2, seed));
let [told, pairs] = [0, 0];
for (const one of DEMOS)
  for (const other of DEMOS) {
    if (one === other) continue;
    const { samples, sampleRate } = perform(other.passage, other.planned, NO_MISTAKES, 1);
    pairs++;
    if (takeOf(samples, sampleRate, one.passage, one.planned).kind === "another") told++;
  }
process.stdout.write(`another passage is told from this one: ${told} of ${pairs}\n`);
