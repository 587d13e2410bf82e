import { readdirSync, readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { parsePassageText } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { randomPassage } from "../test/random-passages.ts";
import { replay } from "../test/replay.ts";
import { outcomesOf } from "./verdict.ts";

function strays(passage: Passage): { told: string[]; heard: string[] } {
  const planned = planStages(passage, settingsOf(passage));
  const outcomes = outcomesOf(planned, "nothing");
  const told = outcomes.flatMap((o, i) => o.strings.filter((s) => s.state === "stray").map((s) => `${i}/${s.string}`));
  const steps = outcomes.map((o, i) => ({
    step: planned.timeline.steps[i]!,
    intents: planned.intent[i]!,
    contacts: [...o.fretting.contacts, ...o.picking.contacts],
  }));
  return { told, heard: replay(passage, steps) };
}

it("playing the touches back on the string model, apart from the planner, hears the strays it tells and no others", () => {
  const demos = readdirSync("demo")
    .filter((f) => f.endsWith(".json"))
    .map((f) => {
      const parsed = parsePassageText(readFileSync(`demo/${f}`, "utf8"));
      if (!parsed.ok) throw new Error(f);
      return parsed.value;
    });
  const randoms = Array.from({ length: 400 }, (_, i) => randomPassage(5000 + i, 7));
  let all = 0;
  for (const passage of [...demos, ...randoms]) {
    const { told, heard } = strays(passage);
    all += told.length;
    expect(heard, passage.title).toEqual(told);
  }
  expect(all).toBeGreaterThan(50);
});
