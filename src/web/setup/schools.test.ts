import { describe, expect, it } from "vitest";
import { SCHOOL_KEYS, type SchoolKey, schoolOf } from "../../core/hands/schools.ts";
import type { Player } from "../../core/passage/schema.ts";
import { EXAMPLES, exampleOf } from "./schools.ts";

const words = (school: SchoolKey, value: string) => exampleOf(school, { [school]: value } as Player).says;

describe("what a school changes, on its example", () => {
  it("every question of the catalogue has one", () => expect(Object.keys(EXAMPLES).sort()).toEqual([...SCHOOL_KEYS].sort()));
  for (const school of SCHOOL_KEYS)
    it(`${schoolOf(school).asks} every answer says something else`, () => {
      const said = schoolOf(school).options.map(({ value }) => words(school, value));
      // "Free" strokes go as the pendulum does where nothing is written against it.
      const different = new Set(said).size;
      if (school === "strokes") expect(different).toBeGreaterThanOrEqual(3);
      else expect(different, said.join(" | ")).toBe(said.length);
    });
  it("speaks of the hands by what they do (common practice: the laid index, the fingertip, the thumb over the edge)", () => {
    expect(words("index", "laid")).toMatch(/index over 1 to 3/);
    expect(words("index", "arched")).not.toMatch(/index over/);
    expect(words("neighbour", "fingertip")).toMatch(/tip on 3/);
    expect(words("neighbour", "palm")).toMatch(/palm on 3/);
    expect(words("thumbOver", "yes")).toMatch(/thumb over onto 6/);
    expect(words("chuck", "release")).not.toMatch(/flat hand/);
    expect(words("strokes", "down")).toBe(Array(8).fill("down").join(" "));
    expect(words("fretWrap", "on")).toMatch(/fret wrap over 1/);
  });
});
