import { describe, expect, it } from "vitest";
import { finished, limits, wholePlan } from "../engine.ts";
import { line, passageOf, type Setting, type StrokeInput, stroke } from "../test/build.ts";
import { limitsSearch } from "./limits.ts";

const of = (strokes: StrokeInput[], setting: Setting = {}) => finished(limits(passageOf(strokes, setting)));

describe("the search", () => {
  it("finds each limit by itself and judges no tempo twice", () => {
    const seen: number[] = [];
    const search = limitsSearch((tempo) => {
      seen.push(tempo);
      return { isRushed: tempo > 133, rings: tempo > 87 };
    });
    expect(finished(search)).toEqual({ hands: 133, clean: 87 });
    expect(new Set(seen).size).toBe(seen.length);
  });
  it("is null where it fails at 20 already", () => {
    expect(finished(limitsSearch(() => ({ isRushed: true, rings: false })))).toEqual({ hands: null, clean: 300 });
  });
});

/* Common practice: what the hands can do is one question, what stays clean another. */
describe("two limits", () => {
  const bass = ["4/3", "4/3", "3/5", "4/3", "4/3", "3/5", "2/5", "3/5"];
  it("rests in a bass line take nothing from what the hands can do", () => {
    const hands = (words: string[]) => of(line(8, words), { on: "bass" }).hands!.tempo;
    expect(hands(bass.map((word, i) => (i % 2 === 1 ? "-" : word)))).toBeGreaterThanOrEqual(hands(bass));
  });
  it("a string that nobody can hold is no fault of the hands", () => {
    // The string between two open ones is struck in passing at any tempo.
    const found = of([stroke("0", "1/2", "6/0 4/0 3/2~1"), stroke("1/2", "1/2", "6/0 4/0 3/2~1")], { gain: "high" });
    expect(found.clean).toBeNull();
    expect(found.hands).toEqual({ tempo: 300, says: "No gesture runs out of time up to 300." });
  });
  it("says which gesture gives out first and where", () => {
    const alternating = line(
      16,
      Array.from({ length: 8 }, (_, i) => (i % 2 === 0 ? "6/0p" : "6/0")),
    );
    const { hands } = of(alternating);
    expect(hands).toMatchObject({
      bar: 1,
      at: "1/8",
      says: expect.stringMatching(/^Faster than \d+ there is no time for the palm landing in bar 1 at 1 &\.$/),
    });
  });
  it("says what rings first beyond the clean tempo, and the lower of both is the ceiling", () => {
    // A root and a popped string two over, in turn: the thumb has to come over onto the root's string.
    const popped = Array.from({ length: 8 }, (_, i) => stroke(`${i}/8`, "1/8", i % 2 === 0 ? "4/3~1" : "2/3~1", { stroke: i % 2 === 0 ? "slap" : "pop" }));
    const plan = wholePlan(passageOf(popped, { on: "bass", player: { playsWith: "slap" } }));
    expect(plan.limits!.clean!.says).toMatch(/^Faster than \d+ string 4 rings in bar 1 at 1 &\.$/);
    expect(plan.ceilingTempo).toBe(Math.min(plan.limits!.hands!.tempo, plan.limits!.clean!.tempo));
  });
});
