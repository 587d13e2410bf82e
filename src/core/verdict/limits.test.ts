import { describe, expect, it } from "vitest";
import type { Limit } from "../document/plan.ts";
import { finished, limits, planStages, wholePlan } from "../engine.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import { atTempo } from "../passage/tempo.ts";
import { somePassages } from "../test/any-passage.ts";
import { line, passageOf, type Setting, type StrokeInput, stroke } from "../test/build.ts";
import { randomPassage } from "../test/random-passages.ts";
import { countOf } from "../timeline/counts.ts";
import { ceilingSearch } from "./ceiling.ts";
import { bottlenecksOf } from "./figures.ts";
import { handsLimitOf, KeepingUpCache } from "./keeping-up.ts";
import { outcomesOf } from "./verdict.ts";

const of = (strokes: StrokeInput[], setting: Setting = {}) => finished(limits(passageOf(strokes, setting)));

/** What the limit stands for, by planning: up to the tempo nothing is rushed, a beat a minute faster something is. */
function handsByPlanning(passage: Passage): Limit | null {
  const rushedAt = (tempo: number) => planStages(atTempo(passage, tempo)).path.cost.rushed > 0;
  const tempo = finished(ceilingSearch((t) => !rushedAt(t)));
  if (tempo === null || tempo === 300) return tempo === null ? null : { tempo, says: "No gesture runs out of time up to 300." };
  const planned = planStages(atTempo(passage, tempo + 1));
  const { bar, at, move } = bottlenecksOf(planned, outcomesOf(planned))[0]!;
  return { tempo, bar, at, says: `Faster than ${tempo} there is no time for the ${move} in bar ${bar} at ${countOf(ticksOf(at), passage.bars[bar - 1]!)}.` };
}

describe("what the hands can do comes out of one plan", () => {
  it("and is what planning at every tempo finds, with the gesture that gives out first: random passages and all that the schema knows", () => {
    const passages = [...Array.from({ length: 60 }, (_, i) => randomPassage(i + 1, 8)), ...somePassages(23, 30, { bars: 2, strokes: 6, notes: 4, extras: 2 })];
    for (const passage of passages) expect(handsLimitOf(passage, planStages(passage)), passage.title).toEqual(handsByPlanning(passage));
  });
  it("at whatever tempo it is written", () => {
    const passage = passageOf(line(8, ["6/0p", "6/0", "6/0p", "6/3~2", "5/2~1", "6/0p", "6/0", "5/3~2"]));
    const found = [40, 90, 131, 260].map((tempo) => handsLimitOf(atTempo(passage, tempo), planStages(atTempo(passage, tempo))));
    expect(found[0]!.tempo).toBeLessThan(300);
    for (const limit of found) expect(limit).toEqual(found[0]);
  });
  it("an edit leaves it as planning afresh gives it", () => {
    const cache = new KeepingUpCache();
    const words = ["6/0p", "6/0", "6/3~2", "5/2~1", "6/0p", "4/2~1", "6/0", "5/3~2"];
    for (const [at, word] of [
      [3, "6/0p"],
      [0, "5/0"],
      [7, "6/0p"],
      [3, "4/4~3"],
      [5, "-"],
    ] as const) {
      words[at] = word;
      const passage = passageOf(line(8, words));
      const planned = planStages(passage);
      expect(handsLimitOf(passage, planned, cache)).toEqual(handsLimitOf(passage, planned));
    }
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
