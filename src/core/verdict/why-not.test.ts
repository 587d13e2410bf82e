import { expect, it } from "vitest";
import type { WhyNot } from "../document/plan.ts";
import { documentOf, planStages } from "../engine.ts";
import { planOf } from "../plan/planner.ts";
import type { ProblemStep } from "../plan/problem.ts";
import { bit, type HandShape } from "../shapes/types.ts";
import { somePassages } from "../test/any-passage.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import type { PlannedStages } from "./verdict.ts";

/** Where nothing can be forced because no shape has the contact at all. */
const IMPOSSIBLE = new Set<WhyNot["code"]>(["dead-side", "out-of-reach", "finger-busy", "school", "contortion", "palm-margin", "banned"]);

/** The whole passage planned with one contact forced at one step; null when there is no such plan. */
function forced({ problem }: PlannedStages, k: number, why: WhyNot, string: number) {
  const step = problem.steps[k]!;
  const has = (shape: HandShape) => shape.contacts.some((c) => c.string === string && c.part === why.part && c.finger === why.finger);
  const side = why.hand === "picking" ? "picking" : "fretting";
  const having: ProblemStep = { ...step, [side]: (step[side] as readonly HandShape[]).filter(has) };
  if (having[side].length === 0) return null;
  return planOf({ ...problem, steps: problem.steps.map((other, i) => (i === k ? having : other)) })?.cost ?? null;
}

it("every reason holds when the contact is forced: impossible ones are in no shape, late ones come late, dear ones cost or ring", () => {
  const judged = new Map<string, number>();
  const passages = [...demoPassages(), ...Array.from({ length: 150 }, (_, seed) => randomPassage(seed, 3)), ...somePassages(77, 150)];
  passages.forEach((passage, p) => {
    const planned = planStages(passage);
    const { steps } = documentOf(passage, planned, { why: "everything" });
    steps.forEach((step, i) => {
      // A step of each passage in three, another one in the next passage, else this takes minutes.
      if ((i + p) % 3 !== 0) return;
      for (const { string, whyNot = [], state, touchedBy } of step.strings)
        for (const why of whyNot) {
          const where = `${passage.title} step ${i} string ${string}: ${why.hand} ${why.part} ${why.finger ?? ""} ${why.code} ${why.reason}`;
          judged.set(why.code, (judged.get(why.code) ?? 0) + 1);
          expect(why.reason, where).toMatch(/^[A-Z].*[.]$/);
          const k = planned.problem.stepOf[i]!;
          const { cost: now } = planned.path;
          if (IMPOSSIBLE.has(why.code)) {
            expect(forced(planned, k, why, string), where).toBeNull();
            continue;
          }
          if (why.code === "not-needed") {
            expect(state, where).not.toBe("stray");
            expect(touchedBy.length, where).toBeGreaterThan(0);
            expect(forced(planned, k, why, string), where).not.toBeNull();
            continue;
          }
          if (why.code === "costlier") {
            // No plan is better with it, and where it is meant to ring something rings.
            const cost = forced(planned, k, why, string);
            expect(cost, where).not.toBeNull();
            const levels = (c: typeof now) => [c.harm, c.rushed, c.stray, c.effort, c.changes];
            expect(compare(levels(cost!), levels(now)), where).toBeGreaterThanOrEqual(0);
            if (/would ring/.test(why.reason)) expect(cost!.stray, where).toBeGreaterThan(now.stray);
            continue;
          }
          if (why.code === "would-choke") {
            const cost = forced(planned, k, why, string);
            if (cost) expect(cost.harm, where).toBeGreaterThan(now.harm);
            continue;
          }
          if (why.code === "chimes") {
            const step = planned.problem.steps[k]!;
            expect((step.struck | step.carried) & bit(string), where).not.toBe(0);
            continue;
          }
          if (why.code === "no-time") {
            const cost = forced(planned, k, why, string);
            if (cost) expect(cost.rushed, where).toBeGreaterThan(now.rushed);
          }
        }
    });
  });
  for (const code of ["costlier", "not-needed", "no-time", "contortion", "school", "dead-side", "would-choke"])
    expect(judged.get(code) ?? 0, code).toBeGreaterThan(0);
});

function compare(a: readonly number[], b: readonly number[]): number {
  const at = a.findIndex((x, i) => x !== b[i]);
  return at < 0 ? 0 : a[at]! - b[at]!;
}
