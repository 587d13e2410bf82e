import { describe, expect, it } from "vitest";
import { firstRung, ladderTo, nextRung, type Rung, wrongShare } from "./ladder.ts";
import type { Try } from "./types.ts";

/** Common practice: 1-trade's numbers for a tempo ladder. */
describe("the tempo ladder", () => {
  const ladder = ladderTo(120, 140, []);
  const climbed = (tries: readonly boolean[], from: Rung = firstRung(ladder)) => tries.reduce((rung, clean) => nextRung(ladder, rung, clean), from);

  it("goes up by three to five per cent after three to five clean tries in a row", () => {
    const { cleanInARow } = ladder;
    expect(cleanInARow).toBeGreaterThanOrEqual(3);
    expect(cleanInARow).toBeLessThanOrEqual(5);
    const up = climbed(new Array(cleanInARow).fill(true));
    expect(up.tempo / ladder.start).toBeGreaterThanOrEqual(1.025);
    expect(up.tempo / ladder.start).toBeLessThanOrEqual(1.055);
    expect(climbed(new Array(cleanInARow - 1).fill(true)).tempo).toBe(ladder.start);
  });
  it("one that was not clean begins the count anew; two in a row go down by five to ten per cent", () => {
    expect(climbed([true, true, true, false, true, true, true]).tempo).toBe(ladder.start);
    const down = climbed([false, false]).tempo / ladder.start;
    expect(down).toBeGreaterThanOrEqual(0.895);
    expect(down).toBeLessThanOrEqual(0.955);
    expect(climbed([false, true, false]).tempo).toBe(ladder.start);
  });
  it("near the goal it goes up by one or two quarters a minute, and never past it", () => {
    const near: Rung = { tempo: 116, clean: 0, failed: 0, atGoal: 0 };
    const up = climbed([true, true, true, true], near).tempo;
    expect(up - 116).toBeGreaterThanOrEqual(1);
    expect(up - 116).toBeLessThanOrEqual(2);
    expect(climbed(new Array(100).fill(true)).tempo).toBe(120);
  });
  it("counts what is clean at the goal, and never goes slower than music is counted", () => {
    expect(climbed(new Array(400).fill(true)).atGoal).toBeGreaterThan(3);
    expect(climbed(new Array(200).fill(false)).tempo).toBe(20);
  });
  it("begins where the hands allow: at their limit's share where that is below the goal, at the goal itself where someone is there", () => {
    expect(ladderTo(160, 100, []).start).toBeGreaterThanOrEqual(50);
    expect(ladderTo(160, 100, []).start).toBeLessThanOrEqual(60);
    expect(ladderTo(120, 140, [{ drill: "whole", tempo: 120, clean: true, at: 1 }]).start).toBeGreaterThan(105);
  });
});

it("whoever plays clean comes on from day to day and reaches the goal, however few tries a day has; after a bad day it begins lower", () => {
  for (const aDay of [3, 4, 6, 12]) {
    const all: Try[] = [];
    let days = 0;
    for (let rung: Rung | null = null; rung === null || rung.tempo < 120; days++) {
      expect(days, `${aDay} tries a day`).toBeLessThan(200);
      const ladder = ladderTo(120, null, all);
      rung = firstRung(ladder);
      for (let n = 0; n < aDay; n++) {
        all.push({ drill: "x", tempo: rung.tempo, clean: true, at: all.length });
        rung = nextRung(ladder, rung, true);
      }
    }
    expect(days).toBeLessThan(60);
  }
  const was = ladderTo(
    120,
    null,
    [90, 94].map((tempo, at) => ({ drill: "x", tempo, clean: true, at })),
  );
  const bad = [
    ...[90, 94].map((tempo, at) => ({ drill: "x", tempo, clean: true, at })),
    ...Array.from({ length: 12 }, (_, k) => ({ drill: "x", tempo: 80, clean: k === 11, at: 10 + k })),
  ];
  expect(ladderTo(120, null, bad).start).toBeLessThan(was.start);
});

it("what nobody has tried counts in full; what was always clean is still worth a look", () => {
  expect(wrongShare([])).toBe(1);
  const clean = Array.from({ length: 20 }, (_, at) => ({ drill: "x", tempo: 80, clean: true, at }));
  expect(wrongShare(clean)).toBeGreaterThan(0);
  expect(wrongShare(clean)).toBeLessThan(0.2);
  expect(wrongShare([...clean, { drill: "x", tempo: 80, clean: false, at: 21 }])).toBeCloseTo(0.1, 5);
});
