import { expect, it } from "vitest";
import { parseSteps } from "./steps.ts";

const A = 9;
it.each([
  ["IV V", [5, 7]],
  ["I vi ii V", [0, 9, 2, 7]],
  ["bVII #IV", [10, 6]],
  ["D E", [5, 7]],
  ["Bb | G#", [1, 11]],
])("%s over A", (text, steps) => {
  expect(parseSteps(text, A)).toEqual({ ok: true, steps });
});
it.each([
  ["IV X", 3],
  ["", 0],
  ["IIII", 0],
  ["H", 0],
])("%j is refused at character %i", (text, at) => {
  expect(parseSteps(text, A)).toMatchObject({ ok: false, at });
});
