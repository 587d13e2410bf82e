import { describe, expect, it } from "vitest";
import { figureOf, wordsIn } from "./figures.ts";

const inBeats = (beats: number, ...said: [string, string][]) =>
  figureOf(
    said.map(([count, says]) => {
      const [beat, part = ""] = count.split(" ");
      return { place: { beat: Number(beat), part, says: count }, says };
    }),
    beats,
  );
const bar = (...said: [string, string][]) => inBeats(4, ...said);

/** A scratch: chord pressed at some sixteenths, let go between. */
const scratch: [string, string][] = [
  ["1", "press"],
  ["1 e", "let go"],
  ["1 &", ""],
  ["1 a", "press"],
  ["2", "let go"],
  ["2 &", "press"],
  ["2 a", "let go"],
];

describe("a bar's figure", () => {
  it("says what is done at several places once, and what comes in between as else", () => {
    expect(bar(["1", "index over 1 to 3"], ["2", ""], ["3", "index over 1 to 3"])).toBe("1, 3 (index over 1 to 3)");
    expect(bar(...scratch)).toBe("1, 1 a, 2 & (press), else let go");
  });
  it("says else only where the hand goes back right after everything else", () => {
    const held = scratch.map(([count, says]): [string, string] => [count, count === "2" ? "" : says]);
    expect(bar(...held)).not.toContain("else");
    // Let go twice in a row is reported as it is: somebody may have pressed in between.
    expect(bar(["1", "press"], ["1 &", "let go"], ["2", "let go"])).not.toContain("else");
  });
  it("says one beat for all where they are alike", () => {
    const beat = (n: number): [string, string][] => [
      [`${n}`, "Am"],
      [`${n} &`, "index up"],
    ];
    expect(inBeats(3, ...beat(1), ...beat(2), ...beat(3))).toBe("every beat: (Am) · & (index up)");
    expect(inBeats(3, ...beat(1), ...beat(2), ["3", "Am"])).not.toContain("every");
    // A long note through beats 3 and 4: nothing is done there.
    expect(inBeats(4, ...beat(1), ...beat(2))).not.toContain("every");
  });
  it("says nothing of a bar in which the hand does nothing, and counts words without dots and brackets", () => {
    expect(bar(["1", ""], ["2", ""])).toBe("");
    expect(wordsIn("1, 1 a (press) · 2 &, else let go")).toBe(9);
  });
});
