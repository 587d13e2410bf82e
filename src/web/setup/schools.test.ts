import { describe, expect, it } from "vitest";
import { SCHOOL_KEYS, type SchoolKey, schoolOf, schoolsOf } from "../../core/hands/schools.ts";
import { INSTRUMENT_KINDS } from "../../core/music/instruments.ts";
import type { Player } from "../../core/passage/schema.ts";
import { AS_USUAL, answered, EXAMPLES, exampleOf, questionsFor } from "./schools.ts";

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

describe("what a player is asked", () => {
  const asked = (player: Player) => questionsFor(player).map(({ school }) => school);
  it.each(INSTRUMENT_KINDS)("who has not said what strikes the strings is asked all that the engine answers for them on %s", (kind) => {
    const { playsWith } = schoolsOf({}, kind);
    const matters = SCHOOL_KEYS.filter((key) => schoolOf(key).askedOf?.includes(playsWith) ?? true);
    expect(asked({})).toEqual(expect.arrayContaining(matters));
  });
  it("fingers are asked for the thumb's place on bass and not for the palm's beside a pick (common practice)", () => {
    expect(asked({ playsWith: "fingers" })).toContain("bassThumb");
    expect(asked({ playsWith: "fingers" })).not.toContain("neighbour");
    expect(asked({ playsWith: "pick" })).not.toContain("bassThumb");
  });
  it("what is shown as chosen is what the engine takes", () => {
    for (const playsWith of ["pick", "fingers", "thumb", "slap"] as const)
      for (const { school, value } of questionsFor({ playsWith }))
        expect(value, `${playsWith}: ${school}`).toBe(schoolsOf({ playsWith }, "electric-guitar")[school]);
  });
  it("an answer can be taken back: then it is as usual on each instrument again", () => {
    const fingers = answered({}, "playsWith", "fingers");
    expect(schoolsOf(fingers, "electric-guitar").playsWith).toBe("fingers");
    const usual = answered(fingers, "playsWith", AS_USUAL);
    expect(INSTRUMENT_KINDS.map((kind) => schoolsOf(usual, kind).playsWith)).toEqual(["pick", "pick", "fingers", "fingers"]);
  });
});
