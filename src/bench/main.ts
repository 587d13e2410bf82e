import { readFileSync } from "node:fs";
import loadHighs from "highs";
import { documentOf, planPassage, planStages } from "../core/engine.ts";
import { parsePassage } from "../core/passage/parse.ts";
import type { Passage } from "../core/passage/schema.ts";
import { settingsOf } from "../core/passage/settings.ts";
import { PlanMemory } from "../core/plan/memory.ts";
import { planOf } from "../core/plan/planner.ts";
import { ShapeCache } from "../core/shapes/shapes.ts";
import { optimumByHighs } from "../core/test/integer-program.ts";
import { randomPassage } from "../core/test/random-passages.ts";
import { sixteenthRiff } from "./passages.ts";

/** Speed of the engine: medians in ms, beside the aims. Nothing here passes or fails. */

function valid(raw: unknown): Passage {
  const parsed = parsePassage(raw);
  if (!parsed.ok) throw new Error(parsed.faults[0]!.says);
  return parsed.value;
}

function median(runs: number, work: () => void): number {
  work();
  const times = Array.from({ length: runs }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return times[Math.floor(times.length / 2)]!;
}

function row(what: string, ms: number, aim: string): void {
  process.stdout.write(`${what.padEnd(58)} ${ms.toFixed(ms < 1 ? 3 : 1).padStart(9)} ms   ${aim}\n`);
}

const riff = valid(sixteenthRiff(64));
const settings = settingsOf(riff);

process.stdout.write(`Node ${process.version}\n\n`);
row(
  "64 bars of sixteenths: all stages, nothing remembered",
  median(5, () => planStages(riff, settings, new ShapeCache())),
  "aim 100 ms",
);
const warm = new ShapeCache();
row(
  "the same with shapes remembered",
  median(9, () => planStages(riff, settings, warm)),
  "",
);
const { problem } = planStages(riff, settings, warm);
row(
  "of that the dynamic programming",
  median(9, () => planOf(problem)),
  "",
);
let edit = 0;
const memory = new PlanMemory();
row(
  "re-plan after one edit, plan document and sentences too",
  median(9, () => {
    edit++;
    const bars = riff.bars.map((bar, b) =>
      b === 31
        ? {
            ...bar,
            strokes: bar.strokes.map((s, i) =>
              i === edit % 8 && s.notes.length > 0 ? { ...s, notes: s.notes.map((n) => ({ ...n, fret: (n.fret + 1) % 12 })) } : s,
            ),
          }
        : bar,
    );
    const edited = { ...riff, bars };
    documentOf(edited, planStages(edited, settings, warm, memory), "nothing");
  }),
  "aim 16 ms",
);

process.stdout.write("\nGrowth with length (all stages, shapes remembered)\n");
for (const bars of [16, 64, 250, 500]) {
  const passage = valid(sixteenthRiff(bars));
  const cache = new ShapeCache();
  const ms = median(3, () => planStages(passage, settings, cache));
  row(`${bars} bars`, ms, `${(ms / bars).toFixed(2)} ms a bar`);
}

process.stdout.write("\nAgainst HiGHS on the same problems (20 random passages)\n");
const highs = await loadHighs();
let ours = 0;
let theirs = 0;
let equal = 0;
for (let seed = 1; seed <= 20; seed++) {
  const passage = randomPassage(seed, 4);
  const { problem: small, path } = planStages(passage, settingsOf(passage));
  ours += median(15, () => planOf(small));
  const start = performance.now();
  const cost = optimumByHighs(highs, small);
  theirs += performance.now() - start;
  if (JSON.stringify(cost) === JSON.stringify(path.cost)) equal++;
}
row("planner", ours / 20, "");
row("HiGHS", theirs / 20, `${Math.round(theirs / ours)} times as long; same cost on ${equal} of 20 (aim 1000 times)`);

process.stdout.write("\nDemo passages, plan document and sentences\n");
for (const file of ["1-bilge-pump", "3-galley-steam", "5-keelson"]) {
  const passage = valid(JSON.parse(readFileSync(`demo/${file}.resthand.json`, "utf8")));
  row(
    file,
    median(9, () => planPassage(passage)),
    "",
  );
}
