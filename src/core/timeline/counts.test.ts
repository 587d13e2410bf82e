import { describe, expect, it } from "vitest";
import { ticksOf } from "../music/ticks.ts";
import type { Bar } from "../passage/schema.ts";
import { stroke } from "../test/build.ts";
import { countOf, countsIn } from "./counts.ts";

const bar = (meter: Bar["meter"], ...at: string[]) => ({ meter, strokes: at.map((place) => stroke(place, "1/16", "3/5")) }) as unknown as Bar;
const said = (of: Bar) =>
  countsIn(of)
    .map(({ says }) => says)
    .join(" ");

describe("counts over a bar (common practice)", () => {
  it("halves of every beat; quarters all over the bar once a stroke asks for them", () => {
    expect(said(bar([4, 4], "0", "1/8"))).toBe("1 & 2 & 3 & 4 &");
    expect(said(bar([3, 4], "0", "5/16"))).toBe("1 e & a 2 e & a 3 e & a");
  });
  it("triplets where they are, the other beats as they were", () => {
    expect(said(bar([4, 4], "0", "1/12", "1/6", "1/4", "3/8"))).toBe("1 trip let 2 & 3 & 4 &");
  });
  it("beats of eighths in odd meters are counted through", () => {
    expect(said(bar([7, 8], "0", "3/8"))).toBe("1 2 3 4 5 6 7");
    expect(said(bar([5, 4], "0"))).toBe("1 & 2 & 3 & 4 & 5 &");
  });
  it("of sextuplets, quintuplets and septuplets what is struck, by number", () => {
    expect(said(bar([1, 4], "0", "1/24", "1/12", "1/8", "1/6", "5/24"))).toBe("1 2 3 4 5 6");
    expect(said(bar([2, 4], "0", "1/20", "3/20"))).toBe("1 2 4 2 &");
    expect(said(bar([1, 4], "0", "3/28"))).toBe("1 4");
    // Below halves of an eighth nobody has names.
    expect(said(bar([2, 8], "0", "1/32"))).toBe("1 2 3 4 2");
  });
  it("says of every place what a sentence says of it", () => {
    const [meter, ...rest] = [[4, 4] as Bar["meter"], "0", "1/12", "3/8", "9/16"];
    for (const { tick, says, isBeat } of countsIn(bar(meter, ...rest))) {
      const whole = countOf(tick, { meter });
      expect(isBeat ? whole : whole.split(" ").slice(1).join(" ")).toBe(says);
      expect(isBeat).toBe(tick % ticksOf("1/4") === 0);
    }
  });
});
