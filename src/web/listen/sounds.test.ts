import { describe, expect, it } from "vitest";
import type { Passage } from "../../core/passage/schema.ts";
import { line, passageOf, stroke } from "../../core/test/build.ts";
import { Sounds, type Stretch } from "./sounds.ts";

const WHOLE: Stretch = { damping: "planned", string: null, fromStep: 0, stepOnly: false, toStep: null, loop: false };

function sounds({ bars, ...rest }: Passage): Sounds {
  const made = new Sounds();
  made.prepare(rest, bars);
  return made;
}

/** All samples that are still to come. */
function heard(from: Sounds, job: number): number {
  let count = 0;
  for (let piece = from.more(job, 5000); piece; piece = from.more(job, 5000)) count += piece.samples.length;
  return count;
}

describe("a stretch of sound", () => {
  const four = passageOf(line(4, ["6/3", "6/5", "5/3", "5/5"]), { tempo: 120 });

  it("comes in pieces up to its end: a beat at 120 is half a second", () => {
    const of = sounds(four);
    of.render(1, { ...WHOLE, toStep: 1, loop: true });
    const rate = of.more(1, 100)!.sampleRate;
    expect(heard(of, 1) + 100).toBeCloseTo(rate / 2, -1);
  });
  it("is left to ring behind the last note, but not where it begins anew", () => {
    const of = sounds(four);
    of.render(1, WHOLE);
    const once = heard(of, 1);
    of.render(2, { ...WHOLE, loop: true });
    expect(heard(of, 2)).toBeLessThan(once);
  });
  it("gives nothing any more once another stretch has begun", () => {
    const of = sounds(four);
    of.render(1, WHOLE);
    of.render(2, WHOLE);
    expect(of.more(1, 100)).toBeNull();
    expect(of.more(2, 100)).not.toBeNull();
  });
  it("cannot be rendered before a passage is there", () => {
    expect(() => new Sounds().render(1, WHOLE)).toThrow("nothing was prepared");
  });
  it("knows its steps from where it begins", () => {
    const of = sounds(four);
    expect(of.render(1, { ...WHOLE, fromStep: 2 }).stepsMs.slice(0, 4)).toEqual([-1000, -500, 0, 500]);
  });
});

/* Common practice: a bar is counted in, the first beat is stressed, and the count goes at the tempo in which it begins. */
describe("beats to hear", () => {
  const beats = (passage: Passage, fromStep = 0) => sounds(passage).render(1, { ...WHOLE, fromStep }).beats;
  it("a bar counts in, each bar's first beat is strong", () => {
    const all = beats(passageOf(line(4, ["6/3", "6/5", "5/3", "5/5"]), { tempo: 120 }));
    expect(all.map(({ ms }) => Math.round(ms))).toEqual([-2000, -1500, -1000, -500, 0, 500, 1000, 1500]);
    expect(all.map(({ strong }) => strong)).toEqual([true, false, false, false, true, false, false, false]);
  });
  it("three beats count in a bar of three", () => {
    const all = beats(passageOf([stroke("0", "1/4", "6/3")], { tempo: 60, meter: [3, 4] }));
    expect(all.filter(({ ms }) => ms < 0).map(({ ms }) => ms)).toEqual([-3000, -2000, -1000]);
  });
  it("a pick-up lies before the first strong beat", () => {
    const passage = passageOf([[stroke("3/4", "1/4", "6/3")], [stroke("0", "1/4", "6/5")]], { tempo: 60 });
    passage.bars[0]!.pickup = true;
    const played = beats(passage).filter(({ ms }) => ms >= 0);
    expect(played.slice(0, 2)).toEqual([
      { ms: 0, strong: false },
      { ms: 1000, strong: true },
    ]);
  });
  it("a bar with a tempo of its own is clicked in it", () => {
    const passage = passageOf([[stroke("0", "1/4", "6/3")], [stroke("0", "1/4", "6/5")]], { tempo: 60 });
    passage.bars[1]!.tempo = 120;
    expect(
      beats(passage)
        .filter(({ ms }) => ms >= 4000)
        .map(({ ms }) => ms),
    ).toEqual([4000, 4500, 5000, 5500]);
  });
});
