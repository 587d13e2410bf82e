import { describe, expect, it } from "vitest";
import { planPassage, wholePlan } from "../engine.ts";
import { parsePassage } from "../passage/parse.ts";
import { INSTRUMENT_PRESETS } from "../passage/presets.ts";
import { drillsOf } from "./drills.ts";
import { FREE_FIGURES, freePassage } from "./free.ts";

describe("practice without a passage", () => {
  const all = INSTRUMENT_PRESETS.flatMap(({ name, instrument }) =>
    FREE_FIGURES.map((figure) => ({ name, figure, passage: freePassage(figure, instrument, {}) })),
  );

  it.each(all)("$figure.title on $name: a document, planned without an issue, that drills can be made of", ({ passage }) => {
    const parsed = parsePassage(JSON.parse(JSON.stringify(passage)));
    if (!parsed.ok) expect.fail(parsed.faults[0]!.says);
    expect(planPassage(parsed.value, { why: "nothing" }).issues).toEqual([]);
    const drills = drillsOf(wholePlan(parsed.value, { why: "nothing" }), parsed.value, [], 5).drills;
    expect(drills.reduce((sum, { minutes }) => sum + minutes, 0)).toBe(5);
  });
  it("each asks for its move (common practice): the palm lifts, the chord is let go, strings are kept by tip and underside, nothing rings into a rest", () => {
    const electric = INSTRUMENT_PRESETS[0]!.instrument;
    const doneIn = (id: string) => planPassage(freePassage(FREE_FIGURES.find((figure) => figure.id === id)!, electric, {}), { why: "nothing" });
    expect(doneIn("palm").counts.palmLiftsPerBar).toBeGreaterThanOrEqual(1);
    expect(doneIn("release").steps.flatMap(({ actions }) => actions.map(({ does }) => does))).toEqual(expect.arrayContaining(["let-go", "press"]));
    const tips = doneIn("tip").steps.flatMap(({ strings }) => strings.flatMap(({ touchedBy }) => touchedBy.map(({ part }) => part)));
    expect(tips).toEqual(expect.arrayContaining(["tip", "underside"]));
    const stop = doneIn("stop");
    expect(stop.strays.filter(({ faint }) => !faint)).toEqual([]);
  });
});
