import { expect, it } from "vitest";
import { planPassage } from "../../core/engine.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import { passageOf, stroke } from "../../core/test/build.ts";
import { barBoxes, stepAt, stepsByBar } from "./layout.ts";

const passage = passageOf([
  [stroke("0", "1/4", "5/3"), stroke("3/4", "1/4", "5/5", { notes: [{ string: 5, fret: 5, length: "1" }] })],
  [],
  [stroke("1/2", "1/4", "5/3")],
]);
const steps = stepsByBar(planPassage(passage), passage);

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
  expect(steps[2]![0]).toMatchObject({ index: 3, tick: 0, endTick: ticksOf("1/2") });
});
it("finds the step under way at any place", () => {
  expect(stepAt(steps, { bar: 0, tick: ticksOf("1/8") })?.index).toBe(0);
  expect(stepAt(steps, { bar: 1, tick: ticksOf("1/2") })?.index).toBe(2);
  expect(stepAt(stepsByBar(null, passage), { bar: 0, tick: 0 })).toBeNull();
});
it("lays bars side by side without gaps", () => {
  const boxes = barBoxes(passage);
  for (let i = 1; i < boxes.length; i++) expect(boxes[i]!.x).toBe(boxes[i - 1]!.x + boxes[i - 1]!.width);
});
