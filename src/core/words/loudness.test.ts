import { expect, it } from "vitest";
import { planPassage } from "../engine.ts";
import { demoPassages } from "../test/demos.ts";
import { loudnessWords } from "./loudness.ts";
import { tooFastBy } from "./time.ts";

it("a ring is described by ear: faint, clear, or as loud as what is played", () => {
  expect([2, 9, 12, 21, 23, 40].map((db) => loudnessWords(db, -28))).toEqual([
    "faintly",
    "faintly",
    "clearly",
    "clearly",
    "as loud as the note",
    "as loud as the note",
  ]);
  // Under gain a ring far under the note is heard already, and one as far over what is heard is still no note.
  expect(loudnessWords(23, -45)).toBe("clearly");
});

it("what is too fast is given as a share, not by milliseconds", () => {
  expect([105, 115, 125, 150, 200, 300].map((need) => tooFastBy(need, 100))).toEqual([
    "a hair",
    "a tenth or two",
    "a quarter",
    "half",
    "double",
    "far more than double",
  ]);
});

it("of a string that rings nobody reads that a contact holds it", () => {
  for (const passage of demoPassages())
    for (const { strings } of planPassage(passage, { why: "strays" }).steps)
      for (const { state, whyNot = [] } of strings) if (state === "stray") expect(whyNot.map(({ code }) => code)).not.toContain("not-needed");
});
