import { describe, expect, it } from "vitest";
import { ticksOf } from "../music/ticks.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { harmonyOf, heldAt } from "./harmony.ts";

const said = (...bars: Parameters<typeof passageOf>[0][]) =>
  harmonyOf(passageOf(bars as never).bars).map(
    ({ from, name, notes }) => `${from / ticksOf("1/4")} ${name ?? ""} ${notes.map((n) => `${n.string}/${n.fret}`).join(" ")}`,
  );

describe("what the fretting hand holds", () => {
  it("strokes under one name are one chord, whatever part of it each plays", () => {
    const bass = { ...stroke("0", "1/4", "6/3"), chord: "G" };
    const brush = { ...stroke("1/4", "1/4", "3/0 2/0 1/3"), chord: "G" };
    const next = { ...stroke("1/2", "1/4", "5/3 4/2"), chord: "C" };
    expect(said([bass, brush, next] as never)).toEqual(["0 G 6/3 3/0 2/0 1/3", "2 C 5/3 4/2"]);
  });

  it("the same name at other frets is another way to hold it", () => {
    const low = { ...stroke("0", "1/4", "6/3 5/2"), chord: "G" };
    const high = { ...stroke("1/4", "1/4", "6/3 5/5"), chord: "G" };
    expect(said([low, high] as never)).toHaveLength(2);
  });

  it("without names every other set of notes is another chord; a repeated one is not", () => {
    expect(said(line(4, ["6/3", "6/3", "5/5", "6/3"]) as never)).toEqual(["0  6/3", "2  5/5", "3  6/3"]);
  });

  it("dead strokes that hold nothing change nothing; places before the first chord have it already", () => {
    const ghost = { ...stroke("0", "1/4", ""), notes: [], as: "ghost" as const, strings: [6, 5] };
    const bars = passageOf([[ghost, stroke("1/4", "1/4", "6/3 5/5")]] as never).bars;
    const harmony = harmonyOf(bars);
    expect(harmony).toHaveLength(1);
    expect(heldAt(harmony, 0)).toBe(harmony[0]);
    expect(heldAt([], 0)).toBeUndefined();
  });
});
