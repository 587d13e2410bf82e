import { describe, expect, it } from "vitest";
import { wholePlan } from "../engine.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { ceilingSearch } from "./ceiling.ts";

describe("the search", () => {
  const run = (clean: (tempo: number) => boolean) => {
    const search = ceilingSearch(clean);
    let step = search.next();
    while (!step.done) step = search.next();
    return step.value;
  };
  it("finds the edge, stops at 300, and says null when nothing is clean", () => {
    expect(run((t) => t <= 137)).toBe(137);
    expect(run(() => true)).toBe(300);
    expect(run(() => false)).toBeNull();
  });
  it("is not fooled by a clean island above a failing tempo", () => {
    expect(run((t) => t <= 84 || t > 120)).toBe(84);
  });
});

/*
 * Common practice: sixteenths that alternate palm and open are fluent to 90-115 bpm and expert at
 * 130; release and press fluent to 100-125, expert at 145. The default move times are a fluent hand's.
 */
describe("ceilings that players know", () => {
  it("alternating palm-muted and open sixteenths stop between 85 and 130", () => {
    const { ceilingTempo: ceiling } = wholePlan(
      passageOf(
        line(
          16,
          Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? "6/0p" : "5/2~1")),
        ),
      ),
    );
    expect(ceiling).toBeGreaterThanOrEqual(85);
    expect(ceiling).toBeLessThanOrEqual(130);
  });
  it("release and press on every other sixteenth stops between 95 and 145", () => {
    const chord = "4/3~2 3/2~1 2/3~3";
    const strokes = Array.from({ length: 16 }, (_, i) => stroke(`${i}/16`, "1/16", chord, i % 2 === 1 ? { as: "ghost", strings: [4, 3, 2] } : {}));
    const { ceilingTempo: ceiling } = wholePlan(passageOf(strokes, { player: { chuck: "release" } }));
    expect(ceiling).toBeGreaterThanOrEqual(95);
    expect(ceiling).toBeLessThanOrEqual(145);
  });
  it("a faster palm has a higher ceiling", () => {
    const riff = line(
      16,
      Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? "6/0p" : "5/2~1")),
    );
    const slow = wholePlan(passageOf(riff)).ceilingTempo!;
    const fast = wholePlan(passageOf(riff, { player: { moveMs: { palmLand: 50, palmLift: 40 } } })).ceilingTempo!;
    expect(fast).toBeGreaterThan(slow);
  });
});
