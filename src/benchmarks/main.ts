import { readFileSync } from "node:fs";
import loadHighs from "highs";
import { finished, planPassage, planStages, refinger } from "../core/engine.ts";
import { EngineCache } from "../core/engine-cache.ts";
import { planOf } from "../core/plan/planner.ts";
import { Rendering } from "../core/sound/render.ts";
import { somePassages } from "../core/test/any-passage.ts";
import { optimumByHighs } from "../core/test/integer-program.ts";
import { movedFigures } from "../core/test/moved-figures.ts";
import { readMutated } from "../core/test/mutated-files.ts";
import { randomPassage } from "../core/test/random-passages.ts";
import { sixteenthRiff } from "./passages.ts";
import { afterEdit, fromNothing, median, valid } from "./planning.ts";

/** Speed of the engine: medians in ms, beside the aims. Nothing here passes or fails. */

function row(what: string, ms: number, aim: string): void {
  process.stdout.write(`${what.padEnd(58)} ${ms.toFixed(ms < 1 ? 3 : 1).padStart(9)} ms   ${aim}\n`);
}

const riff = valid(sixteenthRiff(64));

process.stdout.write(`Node ${process.version}\n\n`);
row("64 bars of sixteenths: all stages, nothing remembered", fromNothing(), "aim 100 ms");
const cache = new EngineCache();
row(
  "the same with shapes remembered (new bars throughout)",
  median(9, () => planStages(structuredClone(riff), cache)),
  "",
);
const { problem } = planStages(riff, cache);
row(
  "of that the dynamic programming",
  median(9, () => planOf(problem)),
  "",
);
row("re-plan after one edit, plan document and sentences too", afterEdit(riff, cache), "aim 8 ms");

process.stdout.write("\nGrowth with length (all stages, shapes remembered)\n");
for (const bars of [16, 64, 125, 250]) {
  const passage = valid(sixteenthRiff(bars));
  const remembered = new EngineCache();
  const ms = median(3, () => planStages(structuredClone(passage), remembered));
  row(`${bars} bars`, ms, `${(ms / bars).toFixed(2)} ms a bar`);
}

const SMALL = [...Array.from({ length: 20 }, (_, i) => randomPassage(i + 1, 4)), ...somePassages(37, 20, { bars: 1, strokes: 4, notes: 3, extras: 1 })];
process.stdout.write(`\nAgainst HiGHS on the same problems (${SMALL.length} random passages, half of them with every field of the schema)\n`);
const highs = await loadHighs();
let ours = 0;
let theirs = 0;
let equal = 0;
for (const passage of SMALL) {
  const { problem: small, path } = planStages(passage);
  if (small.steps.length === 0) {
    equal++;
    continue;
  }
  ours += median(15, () => planOf(small));
  const start = performance.now();
  const cost = optimumByHighs(highs, small);
  theirs += performance.now() - start;
  if (JSON.stringify(cost) === JSON.stringify(path.cost)) equal++;
}
row("planner", ours / SMALL.length, "");
row("HiGHS", theirs / SMALL.length, `${Math.round(theirs / ours)} times as long; same cost on ${equal} of ${SMALL.length} (aim 1000 times)`);

row(
  "whole-passage re-fingering, the same 64 bars",
  median(3, () => finished(refinger(structuredClone(riff)))),
  "aim 1000 ms",
);

process.stdout.write("\nSound, six strings, 24 partials each, 44.1 kHz, on one core\n");
for (const gain of ["clean", "edge", "high"] as const) {
  const planned = planStages(riff, cache);
  const seconds = 30;
  const ms = median(3, () => {
    const rendering = new Rendering(riff, planned, { damping: "none", gain, toMs: seconds * 1000 });
    while (rendering.take(16384)) {
      // Rendered and dropped.
    }
  });
  row(`${seconds} s ${gain}, undamped`, ms, `${((seconds * 1000) / ms).toFixed(0)} times real time (aim 100)`);
}
row(
  "first quarter of a second in the middle of 64 bars",
  median(5, () => new Rendering(riff, planStages(riff, cache), { damping: "planned", fromMs: 60_000 }).take(11025)),
  "aim 300 ms with the plan",
);

process.stdout.write("\nDemo passages, plan document and sentences\n");
for (const file of ["1-bilge-pump", "3-galley-steam", "5-keelson"]) {
  const passage = valid(JSON.parse(readFileSync(`demo/${file}.resthand.json`, "utf8")));
  row(
    file,
    median(9, () => planPassage(passage)),
    "",
  );
}

const { compared, differ, reasons } = movedFigures();
const said = Object.entries(reasons).map(([reason, count]) => `${reason} ${count}`);
process.stdout.write(`\nFigures moved along the neck: ${differ} of ${compared} damped otherwise (${said.join(", ")})\n`);

process.stdout.write("\nDamaged files of every readable format\n");
const fuzzed = readMutated(10_000, 1);
row("slowest of 10000", fuzzed.slowestMs, `${fuzzed.read} read, ${fuzzed.refused} refused, ${fuzzed.broken.length} worse (aim 2000 ms, none worse)`);
