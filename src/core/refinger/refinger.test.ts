import { describe, expect, it } from "vitest";
import { heardStrays } from "../document/plan.ts";
import { applyEdit } from "../edit/edit.ts";
import { finished, planPassage, planStages, refinger } from "../engine.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { openPitches } from "../passage/settings.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import { cheapestAlike, shiftCost } from "./alike.ts";
import { type Figure, figuresOf } from "./figures.ts";
import { choicesOf, isGripped, shiftMs, TOO_FAST } from "./places.ts";
import { changesOf } from "./refinger.ts";

const DEMOS = demoPassages();

/** Pitches that sound, in order. */
const pitchesOf = (passage: Passage) => {
  const open = openPitches(passage.instrument);
  return passage.bars.map((bar) => bar.strokes.map((s) => s.notes.map((n) => open[n.string - 1]! + n.fret)));
};

describe("the hand's way through places", () => {
  /** All ways through, one after the other, figures of one kind alike: nothing shared with the search but the prices. */
  function leastOfAll(figures: readonly Figure[]): number {
    const strokes = figures.flatMap((figure, f) => figure.strokes.map((own, k) => ({ ...own, kind: figure.kind, k, f })));
    let least = Number.POSITIVE_INFINITY;
    const taken = new Map<string, number>();
    const walk = (at: number, position: number, cost: number, last: number) => {
      if (cost >= least) return;
      const stroke = strokes[at];
      if (!stroke) {
        least = cost;
        return;
      }
      const key = `${stroke.kind} ${stroke.k}`;
      const own = taken.get(key);
      for (const [i, choice] of stroke.choices.entries()) {
        if (own !== undefined && own !== i) continue;
        if (stroke.k > 0 && stroke.isRepeat && i !== last) continue;
        if (own === undefined) taken.set(key, i);
        const have = strokes[at - 1]?.untilMs ?? Number.POSITIVE_INFINITY;
        walk(at + 1, choice.position || position, cost + choice.cost + shiftCost(position, choice.position, have), i);
        if (own === undefined) taken.delete(key);
      }
    };
    walk(0, 0, 0, -1);
    return least;
  }
  const waysIn = (passage: Passage, most = 40) => {
    const strokes = choicesOf(passage, planStages(passage).timeline).map((s) => ({ ...s, choices: s.choices.slice(0, most) }));
    return figuresOf(passage, strokes);
  };
  /** Bars of two kinds in turn, which come again. */
  const again = (seed: number): Passage => {
    const [a, b] = [randomPassage(seed, 3).bars[0]!, randomPassage(seed + 1000, 3).bars[0]!];
    const first = randomPassage(seed, 3);
    const fits = b.strokes.every((s) => s.notes.every(({ string }) => string <= first.instrument.tuning.length));
    const order = fits ? [a, b, a, a, b] : [a, a, a];
    return { ...first, bars: order.map((bar, i) => ({ ...bar, id: `b${i}`, strokes: bar.strokes.map((s) => ({ ...s, id: `${i} ${s.at}` })) })) };
  };

  it("is within 3% of the cheapest of all ways, tried one by one, where figures come again, and its bound is below it", () => {
    let repeated = 0;
    for (let seed = 0; seed < 60; seed++) {
      const passage = again(seed);
      const { figures, kinds } = waysIn(passage, 5);
      repeated += figures.length - kinds;
      const least = leastOfAll(figures);
      const found = finished(cheapestAlike(figures, kinds));
      expect(found.bound, passage.title).toBeLessThanOrEqual(least + 1e-6);
      expect(found.cost, passage.title).toBeLessThanOrEqual(1.03 * least + 1e-6);
      expect(finished(cheapestAlike(figures, kinds, 0)).cost, passage.title).toBeCloseTo(least, 6);
    }
    expect(repeated).toBeGreaterThan(60);
  });
  it("proves 3% on every demo and on long passages that come again", () => {
    for (const passage of [...DEMOS, ...Array.from({ length: 30 }, (_, i) => again(500 + i))]) {
      const { figures, kinds } = waysIn(passage);
      const { cost, bound } = finished(cheapestAlike(figures, kinds));
      expect(cost, passage.title).toBeLessThanOrEqual(1.03 * bound + 1e-9);
    }
  });
  it("goes on in one position where the same pitches are written up and down the neck", () => {
    // A scale on one string against the same in one position.
    const { figures, kinds } = waysIn(passageOf(line(8, ["4/2", "4/4", "4/14", "4/4"])));
    const frets = finished(cheapestAlike(figures, kinds)).choices.flatMap((own) => own.flatMap((choice) => choice.places.map((p) => p.fret)));
    expect(Math.max(...frets)).toBeLessThan(8);
  });
  it("a low note that comes again and again is played at one place", () => {
    for (let seed = 0; seed < 20; seed++) {
      const high = 10 + (seed % 6);
      const passage = passageOf([line(8, ["6/5", `5/${high}`, "6/5", `4/${high}`, "6/5", `5/${high}`, "6/5", `4/${high}`])]);
      const found = finished(refinger(passage)).passage;
      const low = found.bars[0]!.strokes.filter((_, i) => i % 2 === 0).map(({ notes }) => `${notes[0]!.string}/${notes[0]!.fret}`);
      expect(new Set(low).size).toBe(1);
    }
  });
  it("asks for no shift that no hand makes in time, unless the music itself does", () => {
    const path = (tempo: number) => {
      const { figures, kinds } = waysIn(passageOf(line(16, ["6/3", "1/8", "6/3", "1/8", "6/3", "1/8", "6/3", "1/8"]), { tempo }));
      return finished(cheapestAlike(figures, kinds)).cost;
    };
    expect(path(60)).toBeLessThan(TOO_FAST);
    expect(shiftMs(5)).toBeGreaterThan(shiftMs(1));
  });
  it("leaves a slurred note, a natural harmonic, what rings over and what a written grip holds where they are written", () => {
    const slurred = passageOf([
      stroke("0", "1/8", "4/5~1"),
      stroke("1/8", "1/8", "", { notes: [{ string: 4, fret: 7, from: "hammer" }] }),
      stroke("1/4", "1/4", "", { notes: [{ string: 3, fret: 12, harmonic: true }] }),
    ]);
    for (const { choices } of choicesOf(slurred, planStages(slurred).timeline)) expect(choices).toHaveLength(1);
    const held = passageOf(line(4, ["5/3", "4/5", "3/5", "2/5"]));
    held.bars[0]!.grips = [{ at: "0", notes: [5, 4, 3, 2].map((string) => ({ string, fret: string === 5 ? 3 : 5 })) }];
    for (const { choices } of choicesOf(held, planStages(held).timeline)) expect(choices).toHaveLength(1);
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
      expect(is.cost.rushed, passage.title).toBeLessThanOrEqual(was.cost.rushed);
      expect(is.issues.length, passage.title).toBeLessThanOrEqual(was.issues.length);
      expect(changesOf(passage, found)).toEqual(changes);
      const levels = ({ cost }: typeof was) => [cost.harm, cost.rushed, cost.stray];
      const first = levels(is).findIndex((level, k) => level !== levels(was)[k]);
      if (first >= 0) expect(levels(is)[first], passage.title).toBeLessThan(levels(was)[first]!);
      if (is.cost.stray < was.cost.stray) better++;
      if (changes.length === 0) expect(found).toEqual(passage);
    }
    expect(better).toBeGreaterThan(5);
  });
  it("treats equal bars alike, whatever their strokes and notes are called", () => {
    const bilge = DEMOS.find(({ title }) => title === "Bilge Pump")!;
    const named = (bars: Passage["bars"], time: number): Passage["bars"] =>
      bars.map((bar, b) => ({
        ...bar,
        id: `${time} ${b}`,
        strokes: bar.strokes.map((s, k) => ({ ...s, id: `${time} ${b} ${k}`, notes: s.notes.map((note, n) => ({ ...note, id: `${time} ${b} ${k} ${n}` })) })),
      }));
    const twice: Passage = { ...bilge, bars: [...named(bilge.bars, 1), ...named(bilge.bars, 2)] };
    const { passage, changes } = finished(refinger(twice));
    const strokes = (from: number) =>
      JSON.stringify(
        passage.bars.slice(from, from + bilge.bars.length).map((bar) => bar.strokes),
        (key, value) => (key === "id" ? undefined : value),
      );
    expect(strokes(0)).toBe(strokes(bilge.bars.length));
    // The stray of bar 2 goes, and that of the bar like it.
    expect(changes.map(({ bars }) => bars)).toEqual([[2, 2 + bilge.bars.length]]);
  });
  it("leaves what a written grip holds as it is written, whatever rings", () => {
    let gripped = 0;
    for (const demo of DEMOS) {
      const passage = structuredClone(demo);
      if (!applyEdit(passage, { kind: "take-over-grips", from: 0 })) continue;
      const { passage: found } = finished(refinger(passage));
      for (const [b, bar] of passage.bars.entries())
        for (const [s, stroke] of bar.strokes.entries()) {
          if (!isGripped(passage, b, stroke)) continue;
          gripped++;
          expect(found.bars[b]!.strokes[s]).toEqual(stroke);
        }
    }
    expect(gripped).toBeGreaterThan(40);
  });
  it("says how far it is and can be stopped after any plan", () => {
    const search = refinger(DEMOS[0]!);
    const first = search.next();
    expect(first).toMatchObject({ done: false, value: { done: 0 } });
    expect(search.return(undefined as never).done).toBe(true);
  });
});
