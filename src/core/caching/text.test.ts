import fc from "fast-check";
import { expect, it } from "vitest";
import { textOf } from "./text.ts";

it("values of one type have equal texts exactly when they are equal", () => {
  const press = fc.record({ finger: fc.constantFrom<number | string>(1, 2, "T"), strings: fc.array(fc.integer({ min: 1, max: 12 }), { maxLength: 3 }) });
  const value = fc.record({
    words: fc.array(fc.constantFrom("ring", "quiet"), { maxLength: 3 }),
    left: fc.array(press, { maxLength: 2 }),
    on: fc.boolean(),
    at: fc.option(fc.integer({ min: -3, max: 30 })),
    ms: fc.oneof(fc.constantFrom(0.1, 163.043, 163.044, 1e9), fc.double({ noNaN: true, noDefaultInfinity: true })),
  });
  fc.assert(
    fc.property(value, value, (a, b) => {
      expect(textOf(a) === textOf(b)).toBe(JSON.stringify(a) === JSON.stringify(b));
      expect(textOf(structuredClone(a))).toBe(textOf(a));
    }),
    { numRuns: 2000, seed: 3 },
  );
  expect(textOf([1, 23])).not.toBe(textOf([12, 3]));
  expect(textOf([[1], [2]])).not.toBe(textOf([[1, 2]]));
});
