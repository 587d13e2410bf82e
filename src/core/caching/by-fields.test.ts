import fc from "fast-check";
import { expect, it } from "vitest";
import { ByFields } from "./by-fields.ts";

it("what is known of a value is found again for one with the same fields, and made anew for every other", () => {
  const value = fc.record({
    hand: fc.constantFrom("fretting", "picking"),
    haveMs: fc.oneof(fc.integer({ min: 0, max: 3 }), fc.constantFrom(0.5, 1 / 3, Number.POSITIVE_INFINITY)),
    moves: fc.boolean(),
    idle: fc.option(fc.integer({ min: 0, max: 2 })),
  });
  fc.assert(
    fc.property(fc.array(value, { maxLength: 40 }), (values) => {
      const known = new ByFields<{ of: object }>();
      const found = values.map((one) => known.of(one, () => ({ of: one })));
      values.forEach((one, k) => {
        expect(found[k]!.of).toEqual(one);
        expect(known.of({ ...one }, () => expect.fail("made twice"))).toBe(found[k]);
      });
    }),
    { numRuns: 200, seed: 5 },
  );
});

it("values of two shapes are two, though one begins as the other", () => {
  const known = new ByFields<number>();
  expect(known.of({ a: 1 }, () => 1)).toBe(1);
  expect(known.of({ a: 1, b: 2 }, () => 2)).toBe(2);
  expect(known.of({ a: 1 }, () => 3)).toBe(1);
});
