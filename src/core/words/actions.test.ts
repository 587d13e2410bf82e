import { expect, it } from "vitest";
import type { Action } from "../document/plan.ts";
import { phraseOf, sentenceOf } from "./actions.ts";
import { runs } from "./contacts.ts";

it("strings are listed as one would say them, the treble ones first", () => {
  expect([[4], [1, 2, 3], [4, 2], [6, 5], [1, 2, 4], [6, 5, 4, 2, 1]].map(runs)).toEqual(["4", "1 to 3", "2 and 4", "5, 6", "1, 2 and 4", "1, 2 and 4 to 6"]);
});

it("what several fingers do alike is said once, each hand for itself", () => {
  const actions: Action[] = [
    { hand: "picking", does: "stroke", direction: "up", strings: [1, 2, 3] },
    { hand: "fretting", does: "let-go", by: 3 },
    { hand: "fretting", does: "let-go", by: 4 },
    { hand: "fretting", does: "down", places: [{ string: 2, fret: 1, finger: 1 }] },
  ];
  expect(sentenceOf(actions, "fretting")).toBe("Ring, little let go; index 2 at 1.");
  expect(sentenceOf(actions, "picking")).toBe("Up 1 to 3.");
});

it("a stroke over strings apart names each of them", () => {
  expect(phraseOf({ hand: "picking", does: "stroke", direction: "down", strings: [6, 5, 4, 3] })).toBe("down 6 to 3");
  expect(phraseOf({ hand: "picking", does: "rake", part: "slap", strings: [2, 1, 5] })).toBe("rake slap 2, 1, 5");
});
