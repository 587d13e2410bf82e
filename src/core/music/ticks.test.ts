import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fractionOf, parseTicks, TICKS_PER_WHOLE, ticksOf } from "./ticks.ts";

describe("ticks", () => {
  it("holds triplets, quintuplets and septuplets of sixteenths exactly", () => {
    for (const tuplet of [3, 5, 7]) expect(ticksOf(`1/${16 * tuplet}`) * 16 * tuplet).toBe(TICKS_PER_WHOLE);
  });
  it("writes lowest terms and reads any", () => {
    expect(fractionOf(ticksOf("6/16"))).toBe("3/8");
    expect(fractionOf(ticksOf("4/4"))).toBe("1");
    expect(fractionOf(ticksOf("0"))).toBe("0");
  });
  it("refuses what does not fit the grid, and says so", () => {
    for (const bad of ["1/11", "x", "1/0", "-1/4", "0.25", ""]) {
      const result = parseTicks(bad);
      expect(result.ok, bad).toBe(false);
      if (!result.ok) expect(result.says.length).toBeGreaterThan(5);
    }
  });
  it("round-trips every tick", () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 4 * TICKS_PER_WHOLE }), (t) => ticksOf(fractionOf(t)) === t));
  });
});
