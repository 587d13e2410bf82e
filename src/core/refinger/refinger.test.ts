import { describe, expect, it } from "vitest";
import { heardStrays } from "../document/plan.ts";
import { finished, planPassage, planStages, refinger } from "../engine.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { openPitches } from "../passage/settings.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import { type Choice, cheapestPlaces, choicesOf, PLACE_COSTS } from "./places.ts";

const DEMOS = demoPassages();

/** Pitches that sound, in order. */
const pitchesOf = (passage: Passage) => {
  const open = openPitches(passage.instrument);
  return passage.bars.map((bar) => bar.strokes.map((s) => s.notes.map((n) => open[n.string - 1]! + n.fret)));
};

describe("the path through places", () => {
  const shiftCost = (from: number, to: number) => (from === 0 || to === 0 ? 0 : PLACE_COSTS.shift * Math.abs(to - from));
  /** All ways through, one after the other: nothing shared with the search but the prices. */
  function leastOfAll(options: readonly (readonly Choice[])[]): number {
    let least = Number.POSITIVE_INFINITY;
    const walk = (k: number, position: number, cost: number) => {
      if (k === options.length) {
        least = Math.min(least, cost);
        return;
      }
      for (const choice of options[k]!) walk(k + 1, choice.position || position, cost + choice.cost + (k === 0 ? 0 : shiftCost(position, choice.position)));
    };
    walk(0, 0, 0);
    return least;
  }
  const costOf = (path: readonly Choice[]) => {
    let position = 0;
    return path.reduce((sum, choice, k) => {
      const shift = k === 0 ? 0 : shiftCost(position, choice.position);
      position = choice.position || position;
      return sum + choice.cost + shift;
    }, 0);
  };

  it("is the cheapest of all ways, tried one by one, on 60 random passages", () => {
    let free = 0;
    for (let seed = 0; seed < 60; seed++) {
      const passage = randomPassage(seed, 5);
      const strokes = choicesOf(passage, planStages(passage).timeline).map((s) => ({ ...s, choices: s.choices.slice(0, 8) }));
      free += strokes.filter((s) => s.choices.length > 1).length;
      expect(costOf(cheapestPlaces(strokes)), passage.title).toBe(leastOfAll(strokes.map((s) => s.choices)));
    }
    expect(free).toBeGreaterThan(60);
  });
  it("goes on in one position where the same pitches are written up and down the neck", () => {
    // A scale on one string against the same in one position.
    const passage = passageOf(line(8, ["4/2", "4/4", "4/14", "4/4"]));
    const path = cheapestPlaces(choicesOf(passage, planStages(passage).timeline));
    const frets = path.flatMap((choice) => choice.places.map((p) => p.fret));
    expect(Math.max(...frets)).toBeLessThan(8);
  });
  it("leaves a slurred note, a natural harmonic and what rings over where they are written", () => {
    const slurred = passageOf([
      stroke("0", "1/8", "4/5~1"),
      stroke("1/8", "1/8", "", { notes: [{ string: 4, fret: 7, from: "hammer" }] }),
      stroke("1/4", "1/4", "", { notes: [{ string: 3, fret: 12, harmonic: true }] }),
    ]);
    for (const { choices } of choicesOf(slurred, planStages(slurred).timeline)) expect(choices).toHaveLength(1);
  });
});

describe("re-fingering", () => {
  it("keeps every pitch, is never worse level by level, and leaves a valid document", () => {
    let better = 0;
    for (const passage of [...DEMOS, ...Array.from({ length: 60 }, (_, i) => randomPassage(300 + i, 5))]) {
      const { passage: found, before, after, changes } = finished(refinger(passage));
      const parsed = parsePassage(JSON.parse(JSON.stringify(found)));
      if (!parsed.ok) expect.fail(`${passage.title}: ${parsed.faults[0]!.says}`);
      expect(pitchesOf(found)).toEqual(pitchesOf(passage));
      const [was, is] = [planPassage(passage), planPassage(parsed.value)];
      expect(heardStrays(is)).toEqual(after);
      expect(heardStrays(was)).toEqual(before);
      const levels = ({ cost }: typeof was) => [cost.harm, cost.rushed, cost.stray];
      const first = levels(is).findIndex((level, k) => level !== levels(was)[k]);
      if (first >= 0) expect(levels(is)[first], passage.title).toBeLessThan(levels(was)[first]!);
      if (is.cost.stray < was.cost.stray) better++;
      if (changes.length === 0) expect(found).toEqual(passage);
    }
    expect(better).toBeGreaterThan(5);
  });
  it("treats equal bars alike", () => {
    const bilge = DEMOS.find(({ title }) => title === "Bilge Pump")!;
    const twice: Passage = { ...bilge, bars: [...bilge.bars, ...bilge.bars.map((bar, b) => ({ ...bar, id: `again${b}` }))] };
    const { passage } = finished(refinger(twice));
    const strokes = (from: number) => passage.bars.slice(from, from + bilge.bars.length).map((bar) => bar.strokes);
    expect(strokes(0)).toEqual(strokes(bilge.bars.length));
  });
  it("says how far it is and can be stopped after any plan", () => {
    const search = refinger(DEMOS[0]!);
    const first = search.next();
    expect(first).toMatchObject({ done: false, value: { done: 0 } });
    expect(search.return(undefined as never).done).toBe(true);
  });
});
