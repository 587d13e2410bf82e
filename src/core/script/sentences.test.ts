import { describe, expect, it } from "vitest";
import { line, plan, stroke } from "../test/build.ts";
import { stringsInWords } from "../words/contacts.ts";

describe("sentences", () => {
  it("put the count in front and say only what changes", () => {
    const p = plan(line(8, ["5/3~1", "5/3~1", "5/5~3", "5/5~3"]), { gain: "high" });
    expect(p.steps[0]!.fretting).toMatch(/^1: index presses string 5 at fret 3; /);
    expect(p.steps[1]!.fretting).toBe("");
    expect(p.steps[2]!.fretting).toMatch(/^2: ring finger presses string 5 at fret 5/);
    expect(p.steps[1]!.picking).toBe("1 &: up-stroke on string 5.");
  });
  it("name sixteenths as players count them", () => {
    const p = plan(line(16, ["5/3", "5/3", "5/3", "5/3", "5/5"]), { tempo: 60 });
    expect(p.steps.slice(0, 5).map((s) => s.picking.split(":")[0])).toEqual(["1", "1 e", "1 &", "1 a", "2"]);
  });
  it("say that the hand lands before a chuck, and that it lifts again", () => {
    const chord = "5/3~3 4/2~2 3/0 2/1~1 1/0";
    const p = plan([stroke("0", "1/4", chord), stroke("1/4", "1/8", chord, { as: "chuck", strings: [6, 5, 4, 3, 2, 1] }), stroke("1/2", "1/4", chord)], {
      on: "acoustic",
    });
    expect(p.steps[1]!.picking).toBe("2: chuck down through strings 1 to 6; hand lands flat on strings 1 to 6 just before the stroke.");
    expect(p.steps.find((s) => s.at === "1/2")!.picking).toMatch(/^3: down-stroke on strings 1 to 5/);
    expect(p.steps.map((s) => s.picking).join(" ")).toMatch(/lift the hand/);
  });
  it("name plucking fingers, not hands' sides", () => {
    const p = plan([stroke("0", "1/4", "4/3", { stroke: "i" }), stroke("1/4", "1/4", "4/3", { stroke: "m" })], { on: "bass" });
    expect(p.steps[0]!.picking).toMatch(/^1: index plucks string 4/);
    expect(p.steps[1]!.picking).toMatch(/^2: middle finger plucks string 4/);
    for (const step of p.steps) expect(`${step.fretting}${step.picking}`).not.toMatch(/\b(left|right|above|below)\b/);
  });
});

it("strings are listed as one would say them", () => {
  expect([[4], [1, 2, 3], [4, 2], [6, 5], [1, 2, 4]].map(stringsInWords)).toEqual([
    "string 4",
    "strings 1 to 3",
    "strings 2 and 4",
    "strings 5 and 6",
    "strings 1, 2 and 4",
  ]);
});
