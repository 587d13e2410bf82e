import { describe, expect, it } from "vitest";
import type { Player } from "../../core/passage/schema.ts";
import { exampleWords, SCHOOLS, type School } from "./schools.ts";

const words = (school: School, value: string) => exampleWords(school, { [school.key]: value } as Player).join(" ");

describe("what a school changes, on its example", () => {
  for (const school of SCHOOLS)
    it(`${school.asks} every answer says something else`, () => {
      const said = school.options.map(({ value }) => words(school, value));
      // "Free" strokes go as the pendulum does where nothing is written against it.
      const different = new Set(said).size;
      if (school.key === "strokes") expect(different).toBeGreaterThanOrEqual(3);
      else expect(different, said.join(" | ")).toBe(said.length);
    });
  it("speaks of the hands by what they do (common practice: the laid index, the fingertip, the thumb over the edge)", () => {
    const of = (key: School["key"]) => SCHOOLS.find((school) => school.key === key)!;
    expect(words(of("index"), "laid")).toMatch(/underside on 1, 2, 3/);
    expect(words(of("index"), "arched")).not.toMatch(/underside/);
    expect(words(of("neighbour"), "fingertip")).toMatch(/fingertip on 3/);
    expect(words(of("neighbour"), "palm")).toMatch(/palm on 3/);
    expect(words(of("thumbOver"), "yes")).toMatch(/thumb on 6/);
    expect(words(of("chuck"), "release")).not.toMatch(/flat hand/);
    expect(words(of("strokes"), "down")).toBe(Array(8).fill("down").join(" "));
  });
});
