import { describe, expect, it } from "vitest";
import { sixteenthRiff } from "../../benchmarks/passages.ts";
import { applyEdit, type Edit } from "../edit/edit.ts";
import { documentOf, planPassage, planStages } from "../engine.ts";
import { EngineCache } from "../engine-cache.ts";
import { TICKS_PER_WHOLE } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { costOfPath } from "../test/cost-of-path.ts";
import { randomPassage, seeded } from "../test/random-passages.ts";

function riff(bars: number): Passage {
  const parsed = parsePassage(sixteenthRiff(bars));
  if (!parsed.ok) throw new Error(parsed.faults[0]!.says);
  return parsed.value;
}

function randomEdit(passage: Passage, random: () => number): Edit {
  const below = (n: number) => Math.floor(random() * n);
  const place = { bar: below(passage.bars.length), tick: (below(16) * TICKS_PER_WHOLE) / 16 };
  const string = 1 + below(passage.instrument.tuning.length);
  const length = TICKS_PER_WHOLE / 16;
  switch (below(7)) {
    case 0:
      return { kind: "remove-note", place, string };
    case 1:
      return { kind: "set-tone", place, string, tone: random() < 0.5 ? "palm" : "open" };
    case 2:
      return { kind: "set-as", place, as: random() < 0.5 ? "ghost" : "play", length };
    case 3:
      return { kind: "add-bar", after: below(passage.bars.length) };
    case 4:
      return { kind: "remove-bar", bar: below(passage.bars.length) };
    default:
      return { kind: "set-fret", place, string, fret: below(12), length };
  }
}

/** The passage after an edit, with the bars that it left alone as they were. */
function edited(passage: Passage, edit: Edit): Passage {
  const copy = structuredClone(passage);
  applyEdit(copy, edit);
  const known = new Map(passage.bars.map((bar) => [JSON.stringify(bar), bar]));
  return { ...copy, bars: copy.bars.map((bar) => known.get(JSON.stringify(bar)) ?? bar) };
}

describe("planning again after an edit", () => {
  it("gives byte for byte what planning afresh gives, over random sequences of edits", () => {
    let remembered = 0;
    const edits = (passage: Passage, seed: number) => {
      const random = seeded(seed);
      const cache = new EngineCache();
      let now = passage;
      for (let n = 0; n < 12; n++) {
        now = edited(now, randomEdit(now, random));
        const stages = planStages(now, cache);
        const quick = documentOf(now, stages, { cache });
        expect(JSON.stringify(quick), `seed ${seed}, edit ${n}`).toBe(JSON.stringify(planPassage(structuredClone(now), { why: "nothing" })));
        if (n > 0) remembered += stages.problem.steps.length - cache.plan.plannedSteps;
      }
    };
    for (let seed = 1; seed <= 10; seed++) edits(riff(8), seed);
    for (let seed = 1; seed <= 40; seed++) edits(randomPassage(7000 + seed, 12), seed);
    // What is left after the edited step has the same numbers here, and other postures.
    edits(randomPassage(7000 + 136, 12), 136);
    expect(remembered).toBeGreaterThan(1000);
  }, 120_000);
  it.each([
    ["a string the riff plays all the time", 5],
    ["a string the riff plays nowhere else", 1],
  ])("works out only the steps around a note on %s, at every stage", (_, string) => {
    const passage = riff(32);
    const cache = new EngineCache();
    planPassage(passage, { why: "nothing", cache });
    const now = edited(passage, { kind: "set-fret", place: { bar: 16, tick: 0 }, string, fret: 7, length: TICKS_PER_WHOLE / 16 });
    const { steps } = planPassage(now, { why: "nothing", cache });
    const few = steps.length / 4;
    const parts = cache.of(now);
    expect(cache.plan.plannedSteps).toBeLessThan(few);
    const { intent, hazards, fingering, shapes, problem, verdict, document } = parts;
    const stages = {
      intent,
      hazards: hazards.steps,
      hands: fingering.hands,
      needs: fingering.needs,
      shapes: shapes.steps,
      problem: problem.steps,
      verdict,
      document,
    };
    for (const [name, stage] of Object.entries(stages)) expect(stage.worked, name).toBeLessThan(few);
  });
});

it("settings are the same object through every edit, until they say something else", () => {
  const passage = riff(2);
  const cache = new EngineCache();
  const { settings } = planStages(passage, cache);
  const now = edited(passage, { kind: "set-fret", place: { bar: 0, tick: 0 }, string: 1, fret: 7, length: TICKS_PER_WHOLE / 16 });
  expect(planStages(now, cache).settings).toBe(settings);
  expect(planStages({ ...now, tempo: 60 }, cache).settings).toBe(settings);
  const louder = planStages({ ...now, gain: "high" }, cache).settings;
  expect(louder).not.toBe(settings);
  expect(louder).toEqual({ ...settings, gain: "high" });
});

it("a path's cost, added up step by step, is what the planner says", () => {
  for (let seed = 1; seed <= 150; seed++) {
    const passage = randomPassage(seed, 7);
    const { problem, path } = planStages(passage);
    expect(costOfPath(problem, path.chosen)).toEqual(path.cost);
  }
});
