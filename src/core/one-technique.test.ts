import { expect, it } from "vitest";
import { movedFigures } from "./test/moved-figures.ts";

it("a figure moved along the neck keeps its technique, or has a reason not to; most need none", () => {
  const { compared, differ, without } = movedFigures();
  expect(without).toEqual([]);
  expect(differ / compared).toBeLessThan(0.2);
}, 120_000);
