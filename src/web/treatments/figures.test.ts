import { expect, it } from "vitest";
import { wholePlan } from "../../core/engine.ts";
import { line, passageOf, stroke } from "../../core/test/build.ts";
import { FIGURES } from "./figures.ts";

const figuresOf = (passage: ReturnType<typeof passageOf>) => {
  const plan = wholePlan(passage, { why: "nothing" });
  return Object.fromEntries(FIGURES.map(({ title, of }) => [title, of(passage, plan)]));
};

it("strokes, tones, dead strokes and accents are counted as written", () => {
  const passage = passageOf([
    line(4, ["6/3p", "6/3", "5/5+4/5"]),
    [stroke("0", "1/4", "6/3 5/5", { as: "chuck", strings: [6, 5, 4, 3, 2, 1] }), stroke("1/4", "1/4", "6/3", { accent: true })],
  ]);
  expect(figuresOf(passage)).toMatchObject({ strokes: 5, open: 4, "palm-muted": 1, "dead strokes": 1, accents: 1, "rushed moves": 0 });
});

it("all under the palm needs no lift, muted and open in turn needs one for every open note (common practice)", () => {
  const muted = figuresOf(passageOf(line(4, ["6/3p", "6/3p", "6/3p", "6/3p"])));
  const turns = figuresOf(passageOf(line(4, ["6/0p", "6/0", "6/0p", "6/0"]), { tempo: 60 }));
  expect(muted["palm lifts a bar"]).toBe(0);
  expect(turns["palm lifts a bar"]).toBeGreaterThan(0);
});

it("a passage that is never clean has no tempo up to which it is clean", () => {
  const limits = { hands: null, clean: { tempo: 300, says: "" } };
  const said = ["hands keep up", "clean"].map((of) => FIGURES.find(({ title }) => title === of)!.of(passageOf(line(4, ["6/3"])), { limits } as never));
  expect(said).toEqual(["never", "300+"]);
});
