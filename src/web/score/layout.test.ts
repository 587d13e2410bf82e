import { describe, expect, it } from "vitest";
import type { PlannedString } from "../../core/document/plan.ts";
import { planPassage } from "../../core/engine.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import { line, passageOf, stroke } from "../../core/test/build.ts";
import { stepsByBar } from "../../core/verdict/steps-by-bar.ts";
import { barBoxes, boxesOf, scaleFor, stepAt } from "./layout.ts";

const passage = passageOf([
  [stroke("0", "1/4", "5/3"), stroke("3/4", "1/4", "5/5", { notes: [{ string: 5, fret: 5, length: "1" }] })],
  [],
  [stroke("1/2", "1/4", "5/3")],
]);
const steps = boxesOf(stepsByBar(planPassage(passage), passage), []);

it("a step that goes on past its bar shows in the bars it fills, cut at the bar lines", () => {
  expect(steps[0]!.map((b) => [b.tick, b.endTick])).toEqual([
    [0, ticksOf("1/4")],
    [ticksOf("1/4"), ticksOf("3/4")],
    [ticksOf("3/4"), ticksOf("1")],
  ]);
  expect(steps[1]!.map((b) => [b.index, b.tick, b.endTick])).toEqual([
    [2, 0, ticksOf("3/4")],
    [3, ticksOf("3/4"), ticksOf("1")],
  ]);
  expect(steps[1]!.map(({ begins }) => begins)).toEqual([false, true]);
  expect(steps[2]![0]).toMatchObject({ index: 3, tick: 0, endTick: ticksOf("1/2") });
});
it("finds the step under way at any place", () => {
  expect(stepAt(steps, { bar: 0, tick: ticksOf("1/8") })?.index).toBe(0);
  expect(stepAt(steps, { bar: 1, tick: ticksOf("1/2") })?.index).toBe(2);
  expect(stepAt(boxesOf(stepsByBar(null, passage), []), { bar: 0, tick: 0 })).toBeNull();
});
it("lays bars side by side without gaps; a place is found where it was drawn", () => {
  for (const width of [330, 1200]) {
    const scale = scaleFor(width);
    const boxes = barBoxes(passage, scale);
    for (let i = 1; i < boxes.length; i++) expect(boxes[i]!.x).toBe(boxes[i - 1]!.x + boxes[i - 1]!.width);
    for (const tick of [0, ticksOf("1/16"), ticksOf("7/8")]) expect(scale.tickAt(scale.xOf(tick))).toBeCloseTo(tick, 6);
  }
});
it("a bar of four quarters fits a telephone as a whole", () => {
  expect(barBoxes(passageOf(line(4, ["6/3"])), scaleFor(390 - 58))[0]!.width).toBeLessThanOrEqual(390 - 58);
});

describe("bars that look as before", () => {
  const passage = passageOf([line(4, ["6/3", "5/5"]), line(4, ["4/5", "3/5"]), line(4, ["6/0", "6/3"])]);
  const plan = planPassage(passage);
  const first = boxesOf(stepsByBar(plan, passage), []);
  /** The plan with another first string at its second step. */
  const with1 = (other: Partial<PlannedString>) => {
    const strings = plan.steps[1]!.strings.map((string, s) => (s === 0 ? { ...string, ...other } : string));
    return { ...plan, steps: plan.steps.map((step, i) => (i === 1 ? { ...step, strings } : step)) };
  };
  const drawnAfter = (changed: typeof plan) => boxesOf(stepsByBar(changed, passage), first);

  it("stay the same lists, so that they need not be drawn again", () => {
    for (const same of [plan, structuredClone(plan), with1({ undampedDb: 99, causes: ["jolt"] })])
      for (const [b, boxes] of drawnAfter(same).entries()) expect(boxes).toBe(first[b]);
  });
  it.each<[string, Partial<PlannedString>]>([
    ["sounds otherwise", { state: "free" }],
    ["rings astray otherwise", { strayDb: 12 }],
    ["is touched otherwise", { touchedBy: [{ hand: "picking", part: "palm" }] }],
  ])("are new ones where a string %s, with the step before which that was", (_, other) => {
    const after = drawnAfter(with1(other));
    expect([0, 1, 2].map((b) => after[b] === first[b])).toEqual([false, true, true]);
    expect(after[0]!.map((box, i) => box === first[0]![i])).toEqual(after[0]!.map((_, i) => i !== 1 && i !== 2));
  });
  it("are new ones where a step has another length", () => {
    const shorter = { ...plan, steps: plan.steps.map((step, i) => (i === 1 ? { ...step, at: "1/8" } : step)) };
    expect(
      drawnAfter(shorter)[0]!
        .map((box, i) => box === first[0]![i])
        .slice(0, 2),
    ).toEqual([false, false]);
  });
});
