import { describe, expect, it } from "vitest";
import type { Stray } from "../../core/document/plan.ts";
import { planPassage } from "../../core/engine.ts";
import { TICKS_PER_WHOLE, ticksOf } from "../../core/music/ticks.ts";
import { line, passageOf, stroke } from "../../core/test/build.ts";
import { barRange, selectedRange, stepFrom, strayAfter } from "./selection.ts";

const quarter = ticksOf("1/4");
const eighth = quarter / 2;
const passage = passageOf([line(4, ["6/3", "6/5", "5/3", "5/5"]), [stroke("0", "1/4", "6/3")], [stroke("0", "1/4", "6/5")]]);

describe("what is selected", () => {
  it("goes from where it began to the end of the place the cursor is on, in either direction", () => {
    const forward = selectedRange(passage, { bar: 0, tick: quarter }, { bar: 0, tick: 2 * quarter }, eighth);
    expect(forward).toEqual({ from: quarter, to: 2 * quarter + eighth });
    expect(selectedRange(passage, { bar: 0, tick: 2 * quarter }, { bar: 0, tick: quarter }, eighth)).toEqual(forward);
  });
  it("is nothing where no selection was begun", () => expect(selectedRange(passage, null, { bar: 0, tick: 0 }, quarter)).toBeNull());
  it("else the bar of the cursor is taken, as long as its meter says", () => {
    const three = passageOf([[stroke("0", "1/4", "6/3")], [stroke("0", "1/4", "6/5")]], { meter: [3, 4] });
    expect(barRange(three, { bar: 1, tick: quarter })).toEqual({ from: 3 * quarter, to: 6 * quarter });
  });
});

it("listening to a selection begins with the first step in it and ends before the first one behind it", () => {
  const plan = planPassage(passage, { why: "nothing" });
  const first = stepFrom(plan, passage, quarter + 1);
  expect(plan.steps[first]).toMatchObject({ bar: 1, at: "1/2" });
  expect(plan.steps[stepFrom(plan, passage, TICKS_PER_WHOLE)]).toMatchObject({ bar: 2, at: "0" });
  expect(stepFrom(plan, passage, 99 * TICKS_PER_WHOLE)).toBe(plan.steps.length);
});

describe("the next stray ring", () => {
  const stray = (fromBar: number, fromAt: string, string: number) => ({ fromBar, fromAt, string }) as Stray;
  const strays = [stray(2, "0", 5), stray(1, "1/2", 6), stray(1, "1/2", 4)];
  const from = (bar: number, at: string, string: number) => strayAfter(strays, { bar, tick: ticksOf(at), string });
  it("is the one behind the cursor, by time and then by string", () => {
    expect(from(0, "0", 1)).toEqual({ bar: 0, tick: 2 * quarter, string: 4 });
    expect(from(0, "1/2", 4)).toEqual({ bar: 0, tick: 2 * quarter, string: 6 });
    expect(from(0, "1/2", 6)).toEqual({ bar: 1, tick: 0, string: 5 });
  });
  it("is the first one again behind the last; the plan's order stays as it is", () => {
    const before = [...strays];
    expect(from(1, "0", 5)).toEqual({ bar: 0, tick: 2 * quarter, string: 4 });
    expect(strays).toEqual(before);
  });
  it("is none where nothing rings astray", () => expect(strayAfter([], { bar: 0, tick: 0, string: 1 })).toBeNull());
});
