import { describe, expect, it } from "vitest";
import { sixteenthRiff } from "../../bench/passages.ts";
import { applyEdit, type Edit } from "../edit/edit.ts";
import { planStages } from "../engine.ts";
import { TICKS_PER_WHOLE } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { ShapeCache } from "../shapes/shapes.ts";
import { randomPassage, seeded } from "../test/random-passages.ts";
import { costOfPath, PlanMemory } from "./memory.ts";

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

describe("planning again after an edit", () => {
  it("gives byte for byte what planning afresh gives, over random sequences of edits", () => {
    let remembered = 0;
    for (let seed = 1; seed <= 12; seed++) {
      const random = seeded(seed);
      const passage = structuredClone(riff(8));
      const memory = new PlanMemory();
      const cache = new ShapeCache();
      const settings = settingsOf(passage);
      for (let n = 0; n < 12; n++) {
        applyEdit(passage, randomEdit(passage, random));
        const quick = planStages(structuredClone(passage), settings, cache, memory);
        const fresh = planStages(structuredClone(passage), settings, cache);
        expect(JSON.stringify(quick.path), `seed ${seed}, edit ${n}`).toBe(JSON.stringify(fresh.path));
        if (n > 0) remembered += quick.problem.steps.length - memory.plannedSteps;
      }
    }
    expect(remembered).toBeGreaterThan(1000);
  });
  it("plans only the steps around an edit in a long passage", () => {
    const passage = structuredClone(riff(32));
    const memory = new PlanMemory();
    const cache = new ShapeCache();
    const settings = settingsOf(passage);
    planStages(structuredClone(passage), settings, cache, memory);
    applyEdit(passage, { kind: "set-fret", place: { bar: 16, tick: 0 }, string: 5, fret: 7, length: TICKS_PER_WHOLE / 16 });
    const { problem } = planStages(structuredClone(passage), settings, cache, memory);
    expect(memory.plannedSteps).toBeLessThan(problem.steps.length / 4);
  });
});

it("a path's cost, added up step by step, is what the planner says", () => {
  for (let seed = 1; seed <= 150; seed++) {
    const passage = randomPassage(seed, 7);
    const { problem, path } = planStages(passage, settingsOf(passage));
    expect(costOfPath(problem, path.chosen)).toEqual(path.cost);
  }
});
