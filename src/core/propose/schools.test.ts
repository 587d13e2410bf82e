import { expect, it } from "vitest";
import { heardStrays } from "../document/plan.ts";
import { finished, planPassage, schools } from "../engine.ts";
import { line, passageOf } from "../test/build.ts";

const asked = (passage: Parameters<typeof schools>[0]) => new Map(finished(schools(passage)).map((question) => [question.key, question]));

/** A line over all strings in sixteenths: the palm has to go along, or the index has to lie there. */
const sweep = passageOf(line(16, ["5/7", "4/5", "3/5", "2/5", "1/5", "2/5", "3/5", "4/5"]), { on: "electric", tempo: 90 });

it("tries every answer of every question that is asked of such a player, and of no other", () => {
  const questions = asked(sweep);
  expect(questions.has("bassThumb")).toBe(false);
  for (const key of ["playsWith", "fretWrap"] as const) expect(questions.has(key), key).toBe(false);
  expect(questions.get("index")!.tried.map(({ value, isChosen }) => [value, isChosen])).toEqual([
    ["laid", true],
    ["arched", false],
  ]);
  const plucked = asked({ ...sweep, player: { playsWith: "fingers" } });
  expect(plucked.has("pickHand")).toBe(false);
});

it("what suits is what leaves fewer strings astray and the hands stiller; a hand that damps nothing is not it", () => {
  const { tried, suits, why } = asked(sweep).get("damps")!;
  const of = (value: string) => tried.find((one) => one.value === value)!.figures;
  expect(of("both").strays).toBeLessThanOrEqual(Math.min(of("fretting").strays, of("picking").strays));
  expect(of("picking").strays).toBeGreaterThan(of("both").strays);
  expect(suits).not.toBe("picking");
  expect(why).toMatch(/^It (leaves|asks|lifts)/);
});

it("its figures are those of the plan with that player", () => {
  const question = asked(sweep).get("index")!;
  for (const { value, figures } of question.tried) {
    const plan = planPassage({ ...sweep, player: { index: value as "laid" | "arched" } });
    expect([figures.strays, figures.rushed, figures.palmLifts]).toEqual([heardStrays(plan).length, plan.bottlenecks.length, plan.counts.palmLiftsPerBar]);
  }
});

it("where all come to the same nothing suits better", () => {
  expect(asked(sweep).get("strumPalmMute")).toMatchObject({ suits: null, why: "It makes no difference here." });
});
