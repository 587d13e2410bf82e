import { describe, expect, it } from "vitest";
import { TICKS_PER_WHOLE, ticksOf } from "../music/ticks.ts";
import { settingsOf } from "../passage/settings.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { countOf } from "./counts.ts";
import { timelineOf } from "./timeline.ts";

const lay = (passage: ReturnType<typeof passageOf>) => timelineOf(passage, settingsOf(passage));

describe("steps", () => {
  it("begin at every onset and every end, nowhere else", () => {
    const timeline = lay(passageOf([stroke("0", "1/4", "5/3"), stroke("1/2", "1/8", "5/5 4/7")]));
    expect(timeline.steps.map((s) => s.atTicks)).toEqual(["0", "1/4", "1/2", "5/8"].map(ticksOf));
  });
  it("last as long as tempo says: a quarter at 120 is 500 ms", () => {
    const timeline = lay(passageOf([stroke("0", "1/4", "5/3"), stroke("1/4", "3/4", "5/5")], { tempo: 120 }));
    expect(timeline.steps.map((s) => [s.ms, s.lengthMs])).toEqual([
      [0, 500],
      [500, 1500],
    ]);
  });
  it("written equally long are equally long, in whichever bar: none differs by what its place was rounded by", () => {
    const bar = line(16, new Array(16).fill("6/3"));
    const { steps, endMs } = lay(passageOf([bar, bar, bar], { tempo: 92 }));
    expect(new Set(steps.map((s) => s.lengthMs))).toEqual(new Set([163.043]));
    for (const [i, { ms }] of steps.entries()) expect(Math.abs(ms - (i * 60000) / 92 / 4)).toBeLessThanOrEqual(0.0005 + 1e-9);
    expect(endMs).toBe(7826.087);
  });
  it("a string's next onset ends its note, and a dead stroke through it does too", () => {
    const timeline = lay(passageOf([stroke("0", "1", "5/3"), stroke("1/4", "1/4", "5/5"), { at: "1/2", length: "1/8", as: "ghost", strings: [5] }]));
    expect(timeline.notes.map((n) => n.end)).toEqual([ticksOf("1/4"), ticksOf("1/2")]);
  });
  it("begin where a bend is let back, half-way through its note as far as it sounds", () => {
    const bent = { string: 3, fret: 7, length: "1/2", bend: { by: 2, then: "release" as const } };
    const alone = lay(passageOf([stroke("0", "1/2", "", { notes: [bent] })]));
    expect(alone.steps.map((s) => s.atTicks)).toEqual(["0", "1/4", "1/2"].map(ticksOf));
    const cut = lay(passageOf([stroke("0", "1/4", "", { notes: [bent] }), stroke("1/4", "1/4", "3/5")]));
    expect(cut.steps.map((s) => s.atTicks)).toEqual(["0", "1/8", "1/4", "1/2"].map(ticksOf));
  });
  it("a string cannot be bent off the edge of the neck", () => {
    const off = (string: number, towards: "bass" | "treble") =>
      lay(passageOf([stroke("0", "1/2", "", { notes: [{ string, fret: 7, bend: { by: 1, towards } }] })])).issues.map((issue) => issue.code);
    expect([off(6, "bass"), off(1, "treble"), off(1, "bass"), off(6, "treble")]).toEqual([["bend-off-neck"], ["bend-off-neck"], [], []]);
  });
  it("notes may cross bar lines", () => {
    const timeline = lay(passageOf([[stroke("3/4", "1/4", "5/3", { notes: [{ string: 5, fret: 3, length: "1/2" }] })], []]));
    expect(timeline.notes[0]!.end).toBe(ticksOf("5/4"));
    expect(timeline.steps.at(-1)).toMatchObject({ bar: 1, atTicks: ticksOf("1/4") });
  });
  it("bars of 4/4 and 5/4 mix, each with its own count", () => {
    const passage = passageOf([line(4, ["5/3", "5/3", "5/3", "5/3"]), line(4, ["5/3", "5/3", "5/3", "5/3", "5/3"])].map((s) => s.slice(0, 4)));
    passage.bars[1]!.meter = [5, 4];
    const timeline = lay(passage);
    expect(timeline.bars.map((b) => b.start)).toEqual([0, TICKS_PER_WHOLE]);
    expect(timeline.end).toBe(ticksOf("9/4"));
  });
  it("a pick-up starts at its first stroke and keeps its written place", () => {
    const passage = passageOf([[stroke("7/8", "1/8", "5/3")], [stroke("0", "1/4", "5/5")]], { tempo: 120 });
    passage.bars[0]!.pickup = true;
    const timeline = lay(passage);
    expect(timeline.steps[0]).toMatchObject({ bar: 0, atTicks: ticksOf("7/8"), ms: 0 });
    expect(timeline.steps[1]).toMatchObject({ bar: 1, atTicks: 0, ms: 250 });
  });
});

describe("swing", () => {
  it("at 2:1 puts the offbeat on the last triplet: 333 of 500 ms", () => {
    const passage = passageOf(line(8, ["5/3", "5/3", "5/3", "5/3", "5/3", "5/3", "5/3", "5/3"]), { tempo: 120 });
    passage.feel = { swing: "eighth", ratio: 2 };
    const { steps } = lay(passage);
    expect(steps[1]!.ms).toBeCloseTo(333.333, 2);
    expect(steps[2]!.ms).toBeCloseTo(500, 6);
    expect(steps[1]!.atTicks).toBe(ticksOf("1/8"));
  });
});

describe("swing over bar lines", () => {
  const swung = (bars: Parameters<typeof passageOf>[0], ratio: number, setting: Parameters<typeof passageOf>[1] = {}) => {
    const passage = passageOf(bars, { tempo: 120, ...setting });
    passage.feel = { swing: "eighth", ratio };
    return passage;
  };
  it.each([1.5, 2, 3, 4])("in 7/8 at %s:1 the last eighth, which has no partner, stays straight and the bar as long as it is written", (ratio) => {
    const eighths = line(8, ["5/3", "5/3", "5/3", "5/3", "5/3", "5/3", "5/3"]);
    const last = [...eighths.slice(0, 6), stroke("6/8", "1/16", "5/3"), stroke("13/16", "1/16", "5/5")];
    const { steps, bars } = lay(swung([last, last], ratio, { meter: [7, 8] }));
    // Seven eighths at 120 quarters a minute.
    expect(bars[1]!.startMs).toBeCloseTo(1750, 6);
    expect(steps.filter((s) => s.bar === 0).at(-1)!.ms).toBeCloseTo(1500 + 125, 3);
    for (const step of steps) expect(step.lengthMs).toBeGreaterThan(0);
  });
  it.each([
    [2, 1 / 3],
    [3, 1 / 4],
  ])("a swung pick-up on 4 & at %s:1 is the short half of its beat", (ratio, share) => {
    const passage = swung([[stroke("7/8", "1/8", "5/3")], [stroke("0", "1/4", "5/5")]], ratio);
    passage.bars[0]!.pickup = true;
    // A beat at 120 is 500 ms.
    expect(lay(passage).steps[1]!.ms).toBeCloseTo(500 * share, 2);
  });
});

describe("the pendulum (common practice)", () => {
  const kinds = (unit: number, words: string[], player = {}) =>
    lay(passageOf(line(unit, words), { player }))
      .strokes.map((s) => s.kind[0])
      .join("");
  it("eighths go down on the numbers and up on the &", () => {
    expect(kinds(8, ["5/3", "5/3", "-", "5/3", "5/3", "-", "5/3", "5/3"])).toBe("duudd" + "u");
  });
  it("sixteenths go D U D U on 1 e & a, and rests keep the hand moving", () => {
    expect(kinds(16, ["5/3", "5/3", "5/3", "5/3", "-", "5/3", "-", "5/3"])).toBe("dudu" + "uu");
  });
  it("all down is all down; a free pattern goes D D U U", () => {
    expect(kinds(8, ["5/3", "5/3", "5/3", "5/3"], { strokes: "down" })).toBe("dddd");
    expect(kinds(8, ["5/3", "5/3", "5/3", "5/3"], { strokes: "free" })).toBe("dduu");
  });
  it("economy goes on in the same direction over a string change", () => {
    expect(kinds(8, ["5/3", "4/5", "3/5", "4/5"], { strokes: "economy" })).toBe("dddu");
  });
});

it("a pick cannot jump a string: what lies between is struck", () => {
  const timeline = lay(passageOf([stroke("0", "1/4", "5/3 3/5")]));
  expect(timeline.strokes[0]!.crossed).toEqual([5, 4, 3]);
  const plucked = lay(passageOf([stroke("0", "1/4", "5/3 3/5")], { player: { playsWith: "fingers" } }));
  expect([...plucked.strokes[0]!.crossed].sort()).toEqual([3, 5]);
});

it("counts are said as players say them", () => {
  const four = { meter: [4, 4] as [number, 4] };
  expect(["0", "1/16", "1/8", "3/16", "1/4", "7/8"].map((t) => countOf(ticksOf(t), four))).toEqual(["1", "1 e", "1 &", "1 a", "2", "4 &"]);
  expect(countOf(ticksOf("3/8"), { meter: [6, 8] })).toBe("4");
});

describe("music that cannot be", () => {
  it("two notes on one string and a fret beyond the neck are reported, not repaired in silence", () => {
    const timeline = lay(passageOf([stroke("0", "1/4", "5/3 5/5"), stroke("1/4", "1/4", "1/30")]));
    expect(timeline.issues.map((i) => [i.code, i.path])).toEqual([
      ["two-notes-one-string", "/bars/0/strokes/0/notes/1"],
      ["fret-beyond-neck", "/bars/0/strokes/1/notes/0"],
    ]);
  });
  it("six notes for four fingers: a pinch takes thumb and three, with the little finger where it is written; a brush takes any", () => {
    const codes = (words: string, more = {}, player: object = { playsWith: "fingers" }) =>
      lay(passageOf([stroke("0", "1/4", words, more)], { player })).issues.map((i) => i.code);
    expect(codes("6/0 4/2 3/0 2/1")).toEqual([]);
    expect(codes("6/0 5/2 4/2 3/0 2/0 1/0")).toEqual(["too-many-plucked"]);
    expect(codes("5/2 4/2 3/0 2/0 1/0")).toEqual(["too-many-plucked"]);
    const little = [5, 4, 3, 2, 1].map((string, k) => ({ string, fret: 0, by: (["p", "i", "m", "a", "c"] as const)[k]! }));
    expect(codes("", { notes: little })).toEqual([]);
    expect(codes("6/0 5/2 4/2 3/0 2/0 1/0", { stroke: "p" })).toEqual([]);
    expect(codes("6/0 5/2 4/2 3/0 2/0 1/0", {}, { playsWith: "pick" })).toEqual([]);
  });
  it("a capo takes its frets off the neck: notes are counted from it", () => {
    const passage = passageOf([stroke("0", "1/4", "1/20"), stroke("1/4", "1/4", "1/21")]);
    expect(lay(passage).issues).toEqual([]);
    passage.instrument.capo = 2;
    expect(lay(passage).issues.map((i) => [i.path, i.says])).toEqual([["/bars/0/strokes/1/notes/0", expect.stringContaining("20 frets")]]);
  });
});

describe("counts of a beat", () => {
  const counts = (places: readonly string[], meter: [number, 4 | 8] = [4, 4]) => places.map((at) => countOf(ticksOf(at), { meter }));
  it("sixteenths are e, & and a, triplets trip and let (common practice)", () => {
    expect(counts(["0", "1/16", "1/8", "3/16", "1/4"])).toEqual(["1", "1 e", "1 &", "1 a", "2"]);
    expect(counts(["0", "1/12", "1/6", "1/4", "1/3"])).toEqual(["1", "1 trip", "1 let", "2", "2 trip"]);
  });
  it("finer parts are numbered, what they share with coarser ones keeps its name", () => {
    expect(counts(["1/24", "1/12", "1/8", "1/6", "5/24"])).toEqual(["1, 2nd of 6", "1 trip", "1 &", "1 let", "1, 6th of 6"]);
    expect(counts(["1/20", "1/10", "3/20", "1/5"])).toEqual(["1, 2nd of 5", "1, 3rd of 5", "1, 4th of 5", "1, 5th of 5"]);
    expect(counts(["1/28", "5/28"])).toEqual(["1, 2nd of 7", "1, 6th of 7"]);
  });
  it("in eighths a beat has its half", () => {
    expect(counts(["0", "1/16", "1/8", "7/16"], [6, 8])).toEqual(["1", "1 &", "2", "4 &"]);
  });
});
