import fc from "fast-check";
import { expect, it } from "vitest";
import { TICKS_PER_WHOLE, ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { randomPassage } from "../test/random-passages.ts";
import { clearRange, figureOf, pasteFigure, placeAt, ticksAt } from "./range.ts";

const BAR = TICKS_PER_WHOLE;

it("places and ticks from the beginning are two names of the same, over bars of different meters", () => {
  const passage = passageOf([line(4, ["6/3"]), line(4, ["6/3"])], { meter: [3, 4] });
  passage.bars.push({ meter: [5, 4], strokes: [] });
  fc.assert(
    fc.property(fc.integer({ min: 0, max: (3 + 3 + 5) * (BAR / 4) - 1 }), (ticks) => {
      expect(ticksAt(passage, placeAt(passage, ticks)!)).toBe(ticks);
    }),
  );
  expect(placeAt(passage, 11 * (BAR / 4))).toBeNull();
});

it("a copied bar pasted after the last one is the same music in a new bar", () => {
  const passage = passageOf([line(8, ["6/3", "-", "5/5p", "4/5+3/5"])]);
  expect(pasteFigure(passage, BAR, figureOf(passage, 0, BAR))).toBe(true);
  expect(passage.bars).toHaveLength(2);
  const said = (bar: number) => passage.bars[bar]!.strokes.map(({ at, ...stroke }) => ({ ...stroke, at: ticksOf(at) }));
  expect(said(1)).toEqual(said(0));
});

it("what begins in the range is replaced, what begins before or after it stays", () => {
  const passage = passageOf(line(4, ["6/1", "6/2", "6/3", "6/4"]));
  const figure = figureOf(passageOf(line(4, ["5/7", "5/9"])), 0, BAR / 2);
  pasteFigure(passage, BAR / 4, figure);
  expect(passage.bars[0]!.strokes.map((s) => s.notes.map((n) => `${n.string}/${n.fret}`).join())).toEqual(["6/1", "5/7", "5/9", "6/4"]);
});

it("a stroke that would reach over its bar's end is kept to it, and the document stays valid", () => {
  const passage = passageOf([stroke("0", "1", "6/3")]);
  pasteFigure(passage, BAR / 2, figureOf(passage, 0, BAR));
  expect(passage.bars[0]!.strokes.map((s) => s.length)).toEqual(["1", "1/2"]);
  expect(parsePassage(JSON.parse(JSON.stringify(passage))).ok).toBe(true);
});

it("what another instrument has no string or fret for is refused, and nothing changes", () => {
  const bass = passageOf(line(4, ["4/3"]), { on: "bass" });
  const before = structuredClone(bass);
  expect(pasteFigure(bass, 0, figureOf(passageOf(line(4, ["6/3"])), 0, BAR))).toBe(false);
  expect(bass).toEqual(before);
});

it("any range of any passage, pasted anywhere, leaves a valid document; cleared, it leaves nothing there", () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 300 }),
      fc.integer({ min: 0, max: 7 }),
      fc.integer({ min: 1, max: 8 }),
      fc.integer({ min: 0, max: 15 }),
      (seed, from, length, at) => {
        const passage = structuredClone(randomPassage(seed, 5));
        const figure = figureOf(passage, (from * BAR) / 8, ((from + length) * BAR) / 8);
        expect(pasteFigure(passage, (at * BAR) / 8, figure)).toBe(true);
        const parsed = parsePassage(JSON.parse(JSON.stringify(passage)));
        if (!parsed.ok) expect.fail(parsed.faults[0]!.says);
        clearRange(passage, 0, BAR);
        expect(passage.bars[0]!.strokes).toEqual([]);
      },
    ),
    { seed: 11, numRuns: 200 },
  );
});
