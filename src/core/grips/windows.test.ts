import { describe, expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { line, passageOf, type Setting } from "../test/build.ts";

/* Common practice: a chord's shape is taken once, whichever part of it is struck. */
const fingersOf = (bars: string[][], setting: Setting) => {
  const { timeline, fingering } = planStages(
    passageOf(
      bars.map((words) => line(8, words)),
      setting,
    ),
  );
  const byPlace = new Map<string, Set<string>>();
  timeline.steps.forEach((step, i) => {
    for (const { finger, fret, strings } of fingering.hands[i]!.presses)
      for (const string of strings) {
        const place = `${step.bar} ${string}/${fret}`;
        byPlace.set(place, (byPlace.get(place) ?? new Set()).add(`${finger}`));
      }
  });
  return byPlace;
};
const C = ["5/3", "2/1", "4/2", "2/1", "5/3", "2/1", "4/2", "3/0"];

describe("one shape a bar", () => {
  it.each(["nylon", "acoustic"] as const)("a broken chord keeps one finger a place: %s", (on) => {
    const fingers = fingersOf([C], { on, player: { playsWith: "fingers" } });
    expect(Object.fromEntries([...fingers].map(([place, used]) => [place, [...used].join()]))).toEqual({ "0 5/3": "3", "0 4/2": "2", "0 2/1": "1" });
  });
  it("a half bar where the whole one fits no shape", () => {
    const two = ["5/3", "2/1", "4/2", "2/1", "6/3", "2/3", "5/2", "2/3"];
    const fingers = fingersOf([two], { on: "nylon" });
    for (const [place, used] of fingers) expect(used.size, place).toBe(1);
  });
  it("a finger that is written wins, and a line of a pick player is no shape", () => {
    expect([...fingersOf([["5/3~4", "2/1", "4/2", "2/1"]], { on: "nylon" }).get("0 5/3")!]).toEqual(["4"]);
    const run = planStages(passageOf(line(8, ["4/5", "3/7", "2/5"]), { gain: "high" }));
    expect(run.fingering.hands.flatMap((hand) => hand.presses.map((p) => p.strings.length))).toEqual(
      run.fingering.hands.flatMap((hand) => hand.presses.map(() => 1)),
    );
  });
});
