import { expect, it } from "vitest";
import { backbeats, beatsOf, beatTicks } from "./beats.ts";
import { ticksOf } from "./ticks.ts";

/* Common practice: eighths in threes are felt as dotted quarters; the backbeat is every second beat. */
it.each([
  [[4, 4], 4, "1/4", ["1/4", "3/4"]],
  [[2, 4], 2, "1/4", ["1/4"]],
  [[3, 4], 3, "1/4", ["1/4", "2/4"]],
  [[5, 4], 5, "1/4", ["1/4", "3/4"]],
  [[6, 8], 2, "3/8", ["3/8"]],
  [[12, 8], 4, "3/8", ["3/8", "9/8"]],
  [[9, 8], 3, "3/8", ["3/8", "6/8"]],
  [[2, 2], 2, "1/2", ["1/2"]],
  [[7, 8], 7, "1/8", ["1/8", "3/8", "5/8"]],
] as const)("%j has %i beats", (meter, beats, beat, back) => {
  expect(beatsOf(meter)).toBe(beats);
  expect(beatTicks(meter)).toBe(ticksOf(beat));
  expect(backbeats(meter)).toEqual(back.map((at) => ticksOf(at)));
});
