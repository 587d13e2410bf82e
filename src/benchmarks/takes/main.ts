import { planStages } from "../../core/engine.ts";
import { parsePassage } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { type Label, type Mistakes, NO_MISTAKES } from "../../core/perform/mistakes.ts";
import { type Performance, perform } from "../../core/perform/perform.ts";
import { type Finding, takeOf } from "../../core/take/take.ts";
import { demoPassages } from "../../core/test/demos.ts";
import type { PlannedStages } from "../../core/verdict/verdict.ts";
import { YARDSTICK } from "../yardstick/passages.ts";
import { timeLongTakes } from "./length.ts";
import { judgeRounds } from "./rounds.ts";
import { playSampled } from "./sampled.ts";

/* How well a take is judged: the demos played with known mistakes by our own stand-in and on sampled instruments, and what was found of them. */

const SEEDS = [1, 2, 3];
/** A ring is found where string and time fit so far, in ms. */
const NEAR_MS = 60;
const PLAYED: Partial<Mistakes> = { stray: 2, open: 1, silent: 1, hole: 1, late: 1 };
const HARD: Partial<Mistakes> = { noise: 30, room: 0.4, drift: 5, jitter: 20 };

interface Played {
  passage: Passage;
  planned: PlannedStages;
}
const playedOf = (passage: Passage): Played => ({ passage, planned: planStages(passage) });
const DEMOS = demoPassages().map(playedOf);
/** Passages on which nothing was tried out, but from how many silent notes on a take is of another passage: every fourth of the yardstick's that are long enough to be a take. */
const LEAST_STROKES = 8;
const OTHERS = YARDSTICK.map((raw) => {
  const parsed = parsePassage(raw);
  if (!parsed.ok) throw new Error(parsed.faults[0]!.says);
  return parsed.value;
})
  .filter(({ bars }) => bars.reduce((sum, { strokes }) => sum + strokes.length, 0) >= LEAST_STROKES)
  .filter((_, i) => i % 4 === 0)
  .map(playedOf);

interface Score {
  found: number;
  missed: number;
  untold: number;
  false: number;
}

const KINDS = ["stray", "open", "silent", "hole", "late"] as const;
type Judged = Extract<ReturnType<typeof takeOf>, { kind: "judged" }>;

const isNear = (a: { string?: number; fromMs: number; toMs: number }, b: typeof a) =>
  a.string === b.string && a.fromMs < b.toMs + NEAR_MS && a.toMs > b.fromMs - NEAR_MS;
const isSame = (kind: (typeof KINDS)[number], finding: Finding, label: Label) => (kind === "late" ? finding.step === label.step : isNear(finding, label));

/** What was found of one kind, beside what was played. A late chuck is a late stroke. */
function count(score: Score, kind: (typeof KINDS)[number], labels: readonly Label[], { findings, untold }: Judged): void {
  const meant = labels.filter((label) => label.kind === kind || (kind === "late" && label.kind === "chuck"));
  const seen = findings.filter((finding) => finding.kind === kind && !finding.planned);
  for (const label of meant) {
    if (seen.some((finding) => isSame(kind, finding, label))) score.found++;
    else if (untold.some((one) => isNear(one, label))) score.untold++;
    else score.missed++;
  }
  score.false += seen.filter((finding) => !labels.some((label) => isSame(kind, finding, label))).length;
}

const f1 = ({ found, missed, untold, false: wrong }: Score, isUntoldMissed: boolean) =>
  ((2 * found) / (2 * found + missed + (isUntoldMissed ? untold : 0) + wrong)).toFixed(2);

async function judged(
  name: string,
  passages: readonly Played[],
  seeds: readonly number[],
  play: (one: Played, seed: number) => Promise<Performance> | Performance,
): Promise<void> {
  const scores = new Map(KINDS.map((kind): [(typeof KINDS)[number], Score] => [kind, { found: 0, missed: 0, untold: 0, false: 0 }]));
  const onsets: number[] = [];
  let [refused, all, ms, seconds] = [0, 0, 0, 0];
  for (const demo of passages)
    for (const seed of seeds) {
      const { samples, sampleRate, labels, stepsMs } = await play(demo, seed);
      const began = performance.now();
      const result = takeOf(samples, sampleRate, demo.passage, demo.planned);
      ms += performance.now() - began;
      seconds += samples.length / sampleRate;
      all++;
      if (result.kind !== "judged") {
        refused++;
        continue;
      }
      for (const kind of KINDS) count(scores.get(kind)!, kind, labels, result);
      for (const { step, ms: heard } of result.strokes) if (heard !== null) onsets.push(Math.abs(heard - stepsMs[step]!));
    }
  onsets.sort((a, b) => a - b);
  const at = (share: number) => (onsets[Math.floor(share * (onsets.length - 1))] ?? Number.NaN).toFixed(1);
  process.stdout.write(
    `${name}: onsets ${at(0.5)} / ${at(0.95)} ms; ${refused} of ${all} taken for another passage; ${(ms / seconds).toFixed(0)} ms a second\n`,
  );
  for (const [kind, score] of scores) {
    const { found, missed, untold, false: wrong } = score;
    if (found + missed + untold + wrong === 0) continue;
    process.stdout.write(
      `  ${kind.padEnd(7)} F1 ${f1(score, true)}, of what can be told ${f1(score, false)}: ${found} found, ${missed} missed, ${untold} cannot be told, ${wrong} false\n`,
    );
  }
}

process.stdout.write("\nA minute of a take\n");
timeLongTakes();
process.stdout.write("\nTakes (aims: F1 0.98 and 0.92 by the stand-in, 0.95 sampled; onsets 3 / 10 and 5 / 15 ms; 50 ms a second)\n");
const plain = ({ passage, planned }: Played, seed: number) => perform(passage, planned, { ...NO_MISTAKES, ...PLAYED }, seed);
const hard = ({ passage, planned }: Played, seed: number) => perform(passage, planned, { ...NO_MISTAKES, ...HARD, ...PLAYED }, seed);
const sampled = ({ passage, planned }: Played, seed: number) => playSampled(passage, planned, 2, seed);
await judged("stand-in", DEMOS, SEEDS, plain);
await judged("stand-in, hard", DEMOS, SEEDS, hard);
await judged("sampled instruments", DEMOS, SEEDS, sampled);
await judged("stand-in, passages never tried out", OTHERS, [1], plain);
await judged("sampled instruments, passages never tried out", OTHERS, [1], sampled);
let [told, pairs] = [0, 0];
for (const one of DEMOS)
  for (const other of DEMOS) {
    if (one === other) continue;
    const { samples, sampleRate } = perform(other.passage, other.planned, NO_MISTAKES, 1);
    pairs++;
    if (takeOf(samples, sampleRate, one.passage, one.planned).kind === "another") told++;
  }
process.stdout.write(`another passage is told from this one: ${told} of ${pairs}\nTimes through in the trainer\n`);
judgeRounds();
