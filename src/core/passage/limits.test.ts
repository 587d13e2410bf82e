import { describe, expect, it } from "vitest";
import { line, passageOf } from "../test/build.ts";
import { beyond, LIMITS } from "./limits.ts";
import { parsePassage, parsePassageText } from "./parse.ts";

const one = passageOf(line(4, ["6/3"]));
const said = (parsed: ReturnType<typeof parsePassage>) => (parsed.ok ? [] : parsed.faults.map(({ place, says }) => `${place}: ${says}`));
/** A list in so many others. */
const nested = (depth: number): unknown => JSON.parse("[".repeat(depth) + "]".repeat(depth));

describe("limits", () => {
  it("are said as so many more than so many", () => {
    expect(beyond("bars", LIMITS.bars.most)).toBeNull();
    expect(beyond("bars", LIMITS.bars.most + 1)).toBe("5 001 bars, more than the 5 000 any passage has");
    expect(beyond("document", LIMITS.document.most + 1)).toBe("8.1 MB, more than the 8 MB any passage takes");
  });

  it("a passage within them is read, the next bar or stroke is one too many", () => {
    const bars = (count: number) => parsePassage({ ...one, bars: new Array(count).fill({ meter: [4, 4] }) });
    expect(said(bars(LIMITS.bars.most))).toEqual([]);
    expect(said(bars(LIMITS.bars.most + 1))).toEqual(["/bars: 5 001 bars, more than the 5 000 any passage has"]);
    const full = passageOf(line(16, new Array(16).fill("6/3"))).bars[0]!;
    const strokes = (whole: number, rest: number) =>
      parsePassage({ ...one, bars: [...new Array(whole).fill(full), { meter: [4, 4], strokes: full.strokes.slice(0, rest) }] });
    expect(said(strokes(LIMITS.strokes.most / 16, 0))).toEqual([]);
    expect(said(strokes(LIMITS.strokes.most / 16, 1))).toEqual(["/bars: 4 001 strokes, more than the 4 000 any passage has"]);
  });

  it("faulty strokes without end are refused by their number, without a look at each", () => {
    expect(said(parsePassage({ ...one, bars: new Array(4000).fill({ strokes: new Array(500).fill({}) }) }))).toEqual([
      "/bars: 2 000 000 strokes, more than the 4 000 any passage has",
    ]);
  });

  it("what is nested deeper, or holds more, than any passage is refused where it stands", () => {
    expect(said(parsePassage({ ...one, treatments: nested(50_000) }))[0]).toMatch(/^\/treatments\/0\/0\/0: 41 objects inside one another/);
    expect(said(parsePassage({ ...one, treatments: new Array(500_000).fill([]) }))[0]).toMatch(/400 001 objects and lists/);
    expect(said(parsePassageText(`{"format": ${"[".repeat(1_000_000)}`))).toEqual([
      "line 1, column 52: 41 objects inside one another, more than the 40 any passage has",
    ]);
    expect(said(parsePassageText(" ".repeat(8_000_001)))).toEqual(["file: 8.1 MB, more than the 8 MB any passage takes"]);
  });

  it("of many faults the first hundred are named", () => {
    const faults = said(parsePassage({ ...one, bars: new Array(300).fill({ meter: [4, 3] }) }));
    expect(faults).toHaveLength(100);
    expect(said(parsePassage({ ...one, ...Object.fromEntries(Array.from({ length: 1000 }, (_, i) => [`k${i}`, 0])) }))).toHaveLength(20);
  });
});
