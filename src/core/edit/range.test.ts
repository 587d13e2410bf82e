import fc from "fast-check";
import { expect, it } from "vitest";
import { TICKS_PER_WHOLE, ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Pin } from "../passage/schema.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { randomPassage } from "../test/random-passages.ts";
import { applyEdit, type Edit } from "./edit.ts";
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

it("on a neck with a capo no edit writes a fret that lies beyond it", () => {
  // 22 frets, capo at 5: seventeen are left.
  const passage = passageOf(line(4, ["6/3", "5/3"]));
  passage.instrument.capo = 5;
  const place = { bar: 0, tick: 0 };
  const shape = (fret: number) => [null, null, null, null, null, fret];
  const edits = (fret: number): Edit[] => [
    { kind: "set-fret", place, string: 6, fret, length: BAR / 4 },
    { kind: "set-chord", from: 0, to: BAR / 4, length: BAR / 4, name: null, shape: shape(fret) },
    { kind: "write-chords", bar: 0, chords: [[{ name: "x", shape: shape(fret) }]] },
    { kind: "paste", at: 0, figure: { length: BAR, strokes: [{ offset: 0, stroke: { length: "1/4", notes: [{ string: 6, fret }] } }] } },
  ];
  for (const edit of edits(18)) expect(applyEdit(structuredClone(passage), edit), edit.kind).toBe(false);
  for (const edit of edits(17)) expect(applyEdit(structuredClone(passage), edit), edit.kind).toBe(true);
  // String 5 at fret 14 is string 6 at fret 19.
  applyEdit(passage, { kind: "set-fret", place: { bar: 0, tick: BAR / 4 }, string: 5, fret: 14, length: BAR / 4 });
  expect(applyEdit(passage, { kind: "move-note", place: { bar: 0, tick: BAR / 4 }, string: 5, to: 6 })).toBe(false);
});

it("when bars come and go, what speaks of bars by number goes on speaking of the same music", () => {
  const passage = passageOf([line(4, ["6/1"]), line(4, ["6/2"]), line(4, ["6/3"]), line(4, ["6/4"])]);
  const contact = { hand: "fretting", part: "tip" } as const;
  const pin = (from: number, to: number): Pin => ({ want: "ban", string: 5, from: { bar: from, at: "0" }, to: { bar: to, at: "0" }, contact });
  passage.pins = [pin(1, 2), pin(3, 4), pin(2, 3), pin(2, 5)];
  const rule = (from: number, to: number) => ({ kind: "plain" as const, bars: { from, to } });
  passage.treatments = [{ id: "t", name: "T", overrides: {}, rules: [rule(1, 4), rule(2, 2), rule(4, 4), { kind: "plain" }] }];
  expect(applyEdit(passage, { kind: "remove-bar", bar: 1 })).toBe(true);
  expect(passage.pins).toEqual([pin(1, 2), pin(2, 3), pin(2, 4)]);
  expect(passage.treatments[0]!.rules).toEqual([rule(1, 3), rule(3, 3), { kind: "plain" }]);
  expect(applyEdit(passage, { kind: "add-bar", after: 0 })).toBe(true);
  expect(passage.pins).toEqual([pin(1, 3), pin(3, 4), pin(3, 5)]);
  expect(passage.treatments[0]!.rules).toEqual([rule(1, 4), rule(4, 4), { kind: "plain" }]);
  expect(passage.bars.map((bar) => bar.strokes[0]?.notes[0]?.fret)).toEqual([1, undefined, 3, 4]);
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
