import { describe, expect, it } from "vitest";
import { planPassage } from "../engine.ts";
import type { Passage } from "../passage/schema.ts";
import { somePassages } from "../test/any-passage.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import type { PlanDocument } from "../verdict/document.ts";
import { after, type Known, nothingKnown } from "./known.ts";

/** Contacts of a step as "hand part finger strings", from the plan and from what a reader of actions knows. */
function inPlan({ strings }: PlanDocument["steps"][number]): string[] {
  const groups = new Map<string, number[]>();
  for (const { string, touchedBy } of strings)
    for (const { hand, part, finger } of touchedBy) {
      const key = `${hand} ${part} ${finger ?? ""}`;
      groups.set(key, [...(groups.get(key) ?? []), string]);
    }
  return [...groups].map(([key, on]) => `${key} ${[...new Set(on)].sort()}`).sort();
}

function known({ presses, groups }: Known): string[] {
  const all = new Map<string, readonly number[]>(groups);
  for (const { finger, strings } of presses) {
    const key = `fretting press ${finger}`;
    all.set(key, [...(all.get(key) ?? []), ...strings]);
  }
  return [...all].map(([key, on]) => `${key} ${[...new Set(on)].sort()}`).sort();
}

describe("actions", () => {
  const check = (passage: Passage) => {
    const plan = planPassage(passage, { why: "nothing", pinPrices: false });
    // Nobody can press two frets with one finger: such a passage is told as faulty, not played.
    if (plan.issues.some(({ code }) => code === "finger-in-two-places")) return;
    let reader = nothingKnown(passage.instrument.tuning.length);
    plan.steps.forEach((step, i) => {
      reader = after(reader, step.actions);
      expect(known(reader), `${passage.title}, step ${i}, bar ${step.bar} at ${step.at}: ${JSON.stringify(step.actions)}`).toEqual(inPlan(step));
    });
  };
  it.each(demoPassages().map((passage) => [passage.title, passage] as const))("whoever is told only the actions of %s knows every contact", (_, passage) =>
    check(passage),
  );
  it("so for 500 random passages", () => {
    for (let seed = 1; seed <= 200; seed++) check(randomPassage(seed, 4));
    for (const passage of somePassages(14, 300)) check(passage);
  });
});
