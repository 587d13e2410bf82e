import { describe, expect, it } from "vitest";
import { bendOf } from "./bends.ts";

describe("bends", () => {
  it("go towards the middle of the neck unless it is written otherwise (common practice)", () => {
    expect([1, 2, 3, 4, 5, 6].map((string) => bendOf({ string, bend: 2 })!.side)).toEqual([1, 1, 1, -1, -1, -1]);
    expect(bendOf({ string: 3, bend: { by: 2, towards: "treble" } })!.side).toBe(-1);
  });
  it("are held, let back to the fret, or eased down to less; a string that is not moved is not bent", () => {
    expect(bendOf({ string: 3, bend: 2 })).toMatchObject({ from: 0, most: 2, back: null });
    expect(bendOf({ string: 3, bend: { by: 2, then: "release" } })).toMatchObject({ from: 0, most: 2, back: 0 });
    expect(bendOf({ string: 3, bend: { by: 1, from: 2 } })).toMatchObject({ from: 2, most: 2, back: 1 });
    expect(bendOf({ string: 3, bend: { by: 0, from: 2 } })).toMatchObject({ from: 2, most: 2, back: 0 });
    expect(bendOf({ string: 3, bend: 0 })).toBeNull();
    expect(bendOf({ string: 3 })).toBeNull();
  });
});
