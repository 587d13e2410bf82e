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
 * 130; release and press fluent to 100-125, expert at 145; two frets of one string fluent to 130-150, expert at 180.
 */
describe("ceilings that players know", () => {
  it("alternating palm-muted and open sixteenths of one string stop where experts do", () => {
    const { ceilingTempo: ceiling } = wholePlan(
      passageOf(
        line(
          16,
          Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? "6/0p" : "6/0")),
        ),
      ),
    );
    expect(ceiling).toBeGreaterThanOrEqual(115);
    expect(ceiling).toBeLessThanOrEqual(135);
  });
  it("with the neighbour played open the palm stays where it is, and the hands go on as fast as they like", () => {
    const riff = line(
      16,
      Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? "6/0p" : "5/2~1")),
    );
    const plan = wholePlan(passageOf(riff));
    expect(plan.ceilingTempo).toBeGreaterThanOrEqual(170);
    expect(plan.counts.palmLiftsPerBar).toBe(0);
  });
  it("two frets of one string go as fast as experts play them: the lower finger never lets go", () => {
    const two = line(
      16,
      Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? "3/5~1" : "3/7~3")),
    );
    expect(wholePlan(passageOf(two, { gain: "high" })).ceilingTempo).toBeGreaterThanOrEqual(180);
  });
  it("release and press on every other sixteenth stops where experts do", () => {
    const chord = "4/3~2 3/2~1 2/3~3";
    const strokes = Array.from({ length: 16 }, (_, i) => stroke(`${i}/16`, "1/16", chord, i % 2 === 1 ? { as: "ghost", strings: [4, 3, 2] } : {}));
    const { ceilingTempo: ceiling } = wholePlan(passageOf(strokes, { player: { chuck: "release" } }));
    expect(ceiling).toBeGreaterThanOrEqual(125);
    expect(ceiling).toBeLessThanOrEqual(150);
  });
  it("a faster palm has a higher ceiling", () => {
    const riff = line(
      16,
      Array.from({ length: 16 }, (_, i) => (i % 2 === 0 ? "6/0p" : "6/0")),
    );
    const slow = wholePlan(passageOf(riff)).ceilingTempo!;
    const fast = wholePlan(passageOf(riff, { player: { moveMs: { palmLand: 50, palmLift: 40 } } })).ceilingTempo!;
    expect(fast).toBeGreaterThan(slow);
  });
});
