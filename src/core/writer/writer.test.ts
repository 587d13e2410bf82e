import fc from "fast-check";
import { produce } from "immer";
import { describe, expect, it } from "vitest";
import { parseSequence } from "../chords/sequence.ts";
import { applyEdit } from "../edit/edit.ts";
import { ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import { type Pattern, type PatternSign, parsePattern } from "../passage/pattern.ts";
import type { Passage, Rule } from "../passage/schema.ts";
import { instrument, line, passageOf, stroke } from "../test/build.ts";
import { patternText } from "../test/pattern-text.ts";
import { randomPassage } from "../test/random-passages.ts";
import { differences } from "./differences.ts";
import { STARTERS } from "./starters.ts";
import { noteKey, treated } from "./treated.ts";

const G = stroke("0", "1", "6/3 5/2 4/0 3/0 2/0 1/3");
/** One bar of G, as long as it lasts, on a steel-string acoustic. */
const chords = (bars = 1, options: Parameters<typeof passageOf>[1] = {}) =>
  passageOf(
    Array.from({ length: bars }, () => [{ ...G, chord: "G" }]),
    { on: "acoustic", ...options },
  );
const under = (passage: Passage, ...rules: Rule[]) => treated(passage, { rules, overrides: {} });
/** Strokes of a bar: "quarters-from-start what". */
const said = (passage: Passage, bar = 0) =>
  passage.bars[bar]!.strokes.map((s) => {
    const tones = new Set(s.notes.map((n) => n.tone ?? "open"));
    const what =
      s.as && s.as !== "play"
        ? s.as
        : `${s.notes.map((n) => n.string).join("")}${tones.has("palm") ? (tones.has("open") ? "(p)" : "p") : ""}${s.accent ? "!" : ""}`;
    return `${ticksOf(s.at) / ticksOf("1/4")} ${what}${s.stroke ? ` ${s.stroke}` : ""}`;
  });

describe("a pattern on one line", () => {
  const sign = fc.constantFrom<PatternSign>("strum", "muted", "bass", "treble", "chuck", "ghost", "click", "air", "rest");
  const place = fc.record({ sign, accent: fc.boolean(), stroke: fc.constantFrom("down" as const, "up" as const, null) }).map((p) => ({
    sign: p.sign,
    accent: p.accent && ["strum", "muted", "bass", "treble"].includes(p.sign),
    stroke: p.sign === "air" || p.sign === "rest" ? null : p.stroke,
  }));
  const beats = fc.array(fc.array(place, { minLength: 1, maxLength: 8 }), { minLength: 1, maxLength: 6 });

  it("reads back exactly", () => {
    fc.assert(
      fc.property(fc.array(beats, { minLength: 1, maxLength: 4 }), (pattern: Pattern) => {
        const text = patternText(pattern);
        expect(parsePattern(text)).toEqual({ ok: true, pattern });
      }),
    );
    expect(parsePattern("  S.   s |k ")).toMatchObject({ ok: true });
  });

  it.each([
    ["s. q", 3, '"q"'],
    ["s. K.", 3, "cannot be accented"],
    ["s> s", 1, "needs a stroke"],
    ["s. >.", 3, "needs a stroke"],
    ["s. >", 3, "needs a stroke"],
    ["sssssssss", 8, "more than 8"],
    ["s | | s", 4, "empty bar"],
    ["s |", 2, "empty bar"],
    ["", 0, "empty pattern"],
    ["s ><s", 2, "needs a stroke"],
  ])("%j: the fault is at character %i", (text, at, says) => {
    const read = parsePattern(text);
    if (read.ok) expect.fail("was read");
    expect(read.at).toBe(at);
    expect(read.says).toContain(says);
  });

  it("any text is read or refused with a place in it", () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(..."sSmMbBtTkgc.,|<> x") }), (text) => {
        const read = parsePattern(text);
        if (read.ok) expect(parsePattern(patternText(read.pattern))).toEqual(read);
        else expect(read.at).toBeLessThanOrEqual(text.length);
      }),
    );
  });
});

describe("chords in a row", () => {
  const on = instrument("acoustic");
  it("are written bar by bar, sharing the beats of a bar, and new bars come when needed", () => {
    const passage = chords();
    const read = parseSequence("Am7 | D9/F# G | x02210", on);
    if (!read.ok) expect.fail(read.says);
    expect(applyEdit(passage, { kind: "write-chords", bar: 0, chords: read.bars })).toBe(true);
    expect(passage.bars.map((bar) => bar.strokes.map((s) => `${s.chord} ${s.at} ${s.length}`))).toEqual([
      ["Am7 0 1"],
      ["D9/F# 0 1/2", "G 1/2 1/2"],
      ["x02210 0 1"],
    ]);
    expect(passage.bars[2]!.strokes[0]!.notes.map((n) => n.fret)).toEqual([0, 2, 2, 1, 0]);
  });

  it("take a shape of their own by =, with - between frets of two digits", () => {
    const read = parseSequence("Am=x-12-14-14-13-12", on);
    expect(read).toEqual({ ok: true, bars: [[{ name: "Am", shape: [12, 13, 14, 14, 12, null] }]] });
  });

  it.each([
    ["Am | Hm", 5],
    ["Am | | G", 5],
    ["Am=x022", 3],
    ["G x0221", 2],
    ["", 0],
    ["Am=x-12-14-14-23-12", 3],
  ])("%j is refused at character %i", (text, at) => {
    expect(parseSequence(text, on)).toMatchObject({ ok: false, at });
  });
});

describe("rules (common practice)", () => {
  it("a pattern strums the chord that is held; bass is its lowest note, treble the others, a rest ends what sounds", () => {
    const { passage } = under(chords(), { kind: "pattern", pattern: "b. t. S, >m" });
    expect(said(passage)).toEqual(["0 6", "1 54321", "2 654321!", "3 654321p down"]);
    expect(passage.bars[0]!.strokes.map((s) => s.length)).toEqual(["1/4", "1/4", "1/8", "1/4"]);
  });

  it("a strum over part of the chord that is held is the same chord; a single note is a line of its own", () => {
    const partly = passageOf([[stroke("0", "1/2", "6/3 5/2 4/0 3/0"), stroke("1/2", "1/4", "4/0 3/0"), stroke("3/4", "1/4", "3/0")]], { on: "acoustic" });
    expect(said(under(partly, { kind: "pattern", pattern: "s s s s" }).passage)).toEqual(["0 6543", "1 6543", "2 6543", "3 3"]);
  });

  it("a pattern of another number of beats leaves the bar and says so", () => {
    const { passage, clashes } = under(chords(1), { kind: "pattern", pattern: "s s s" });
    expect(said(passage)).toEqual(["0 654321"]);
    expect(clashes).toMatchObject([{ code: "pattern-meter", bar: 1 }]);
  });

  it("chucks fall on 2 and 4, through all strings, the chord kept under the hand", () => {
    const { passage, reports } = under(chords(), { kind: "pattern", pattern: "ss ss ss ss" }, { kind: "backbeat", as: "chuck" });
    expect(said(passage)).toEqual(["0 654321", "0.5 654321", "1 chuck", "1.5 654321", "2 654321", "2.5 654321", "3 chuck", "3.5 654321"]);
    expect(passage.bars[0]!.strokes[2]).toMatchObject({ strings: [6, 5, 4, 3, 2, 1], notes: [{ string: 6, fret: 3 }, {}, {}, {}, {}, {}] });
    expect(reports[1]).toMatchObject({ changed: 2, says: "2 chucks on the backbeat" });
  });

  it("in three, the backbeat is two and three; in six eighths the second half", () => {
    for (const [meter, at] of [
      [
        [3, 4],
        ["1 chuck", "2 chuck"],
      ],
      [[6, 8], ["1.5 chuck"]],
      [
        [5, 4],
        ["1 chuck", "3 chuck"],
      ],
    ] as const) {
      const passage = chords(1, { meter: [...meter] });
      passage.bars[0]!.strokes[0]!.length = "1/4";
      expect(said(under(passage, { kind: "backbeat", as: "chuck" }).passage).filter((s) => s.includes("chuck"))).toEqual(at);
    }
  });

  it("ghosts fill every empty sixteenth and touch no stroke that is there", () => {
    const { passage } = under(chords(), { kind: "pattern", pattern: "s..s ..s. s..s ..s." }, { kind: "ghosts", unit: "sixteenth" });
    expect(passage.bars[0]!.strokes).toHaveLength(16);
    expect(said(passage).filter((s) => s.includes("ghost"))).toHaveLength(10);
  });

  it("muted roots: the bass note under the palm, the tune open", () => {
    const melody = passageOf(line(8, ["6/0", "2/5", "6/0", "1/3"]), { on: "electric" });
    expect(said(under(melody, { kind: "muted-roots" }).passage)).toEqual(["0 6p", "0.5 2", "1 6p", "1.5 1"]);
    expect(said(under(chords(), { kind: "muted-roots" }).passage)).toEqual(["0 654321(p)"]);
  });

  it("accents are where the mute is not", () => {
    const { passage } = under(chords(), { kind: "pattern", pattern: "Ss sS" + " ss ss" }, { kind: "palm-but-accents" });
    expect(said(passage).slice(0, 4)).toEqual(["0 654321!", "0.5 654321p", "1 654321p", "1.5 654321!"]);
  });

  it("the limp: a dead up-stroke half a beat before each down-stroke, over the bar line too, and it says that it is swung", () => {
    const { passage, reports } = under(chords(2), { kind: "pattern", pattern: "s . s ." }, { kind: "shuffle-ups" });
    expect(said(passage, 0)).toEqual(["0 654321", "1.5 ghost up", "2 654321", "3.5 ghost up"]);
    expect(reports[1]!.says).toContain("swung");
  });

  it("boom-brush: the bass on the number, the brush on the &, all down; the brushed strings may be named by chord", () => {
    expect(said(under(chords(), { kind: "boom-brush" }).passage).slice(0, 4)).toEqual(["0 6 down", "0.5 54321 down", "1 6 down", "1.5 54321 down"]);
    expect(said(under(chords(), { kind: "boom-brush", brush: { G: [3, 2, 1] } }).passage)[1]).toBe("0.5 321 down");
  });

  it("a chord may be called anything: constructor and __proto__ are no brush of their own, and one called constructor can have one", () => {
    for (const name of ["constructor", "__proto__", "toString"]) {
      const passage = passageOf([{ ...G, chord: name }], { on: "acoustic" });
      expect(said(under(passage, { kind: "boom-brush", brush: { G: [3, 2, 1] } }).passage)[1], name).toBe("0.5 54321 down");
    }
    const passage = passageOf([{ ...G, chord: "constructor", id: "constructor" }], { on: "acoustic" });
    expect(said(under(passage, { kind: "boom-brush", brush: { constructor: [2, 1] } as never }).passage)[1]).toBe("0.5 21 down");
    expect(treated(passage, { rules: [], overrides: {} }).passage.bars).toEqual(passage.bars);
  });

  it("an override whose id has come to name another thing says nothing about it", () => {
    const passage = passageOf([{ ...G, id: "a" }], { on: "acoustic" });
    const { bars } = treated(passage, { rules: [], overrides: { a: { tone: "palm", letRing: true }, "a/6": { stroke: "up", as: "chuck" } } }).passage;
    expect(bars).toEqual(passage.bars);
  });

  it("thumb-swing: thumb on the low string, nail on the middle strings on the backbeat, one string on the way back", () => {
    const { passage } = under(chords(1, { player: { playsWith: "thumb" } }), { kind: "thumb-swing" });
    const strokes = passage.bars[0]!.strokes;
    expect(said(passage).slice(0, 4)).toEqual(["0 6 down", "0.5 2 up", "1 chuck down", "1.5 2 up"]);
    expect(strokes[2]!.strings).toEqual([4, 3, 2]);
    expect(under(chords(), { kind: "thumb-swing" }).reports[0]!.changed).toBe(0);
  });

  it("a rest after every bass note halves it and leaves the tune", () => {
    const { passage } = under(passageOf(line(4, ["6/3", "2/3"])), { kind: "rest-after-bass" });
    expect(passage.bars[0]!.strokes.map((s) => s.notes[0]!.length)).toEqual(["1/8", undefined]);
  });

  it("an accent is pressed where the palm cannot lift and land again: in sixteenths at 240 bpm, not in quarters at 240", () => {
    const riff = (unit: 4 | 16, tempo: number) => {
      const passage = passageOf(line(unit, ["6/0p", "6/0", "6/0p", "6/0p"]), { tempo });
      passage.bars[0]!.strokes[1]!.accent = true;
      return said(under(passage, { kind: "pressed-accents" }).passage)[1];
    };
    // A sixteenth at 240 bpm lasts 62.5 ms; a palm lands in 75.
    expect(riff(16, 240)).toBe("0.25 6p!");
    expect(riff(4, 240)).toBe("1 6!");
  });

  it.each([
    ["down", "down down down down"],
    ["pendulum", "down up down up"],
  ] as const)("strokes all %s", (school, ways) => {
    const { passage } = under(chords(), { kind: "pattern", pattern: "ss ss ss ss" }, { kind: "strokes", school });
    expect(
      passage.bars[0]!.strokes.slice(0, 4)
        .map((s) => s.stroke)
        .join(" "),
    ).toBe(ways);
  });

  it("a free order repeats over bar lines", () => {
    const { passage } = under(chords(1), { kind: "pattern", pattern: "ss ss ss ss" }, { kind: "strokes", school: "free", order: "ddu" });
    expect(passage.bars[0]!.strokes.map((s) => s.stroke![0]).join("")).toBe("dduddudd");
  });

  it("a stroke against the swing is said at its stroke, and not when the order was chosen", () => {
    const against: Rule = { kind: "pattern", pattern: "s<s ss ss ss" };
    expect(under(chords(), against).clashes).toEqual([]);
    expect(under(chords(), { kind: "pattern", pattern: "s>s ss ss ss" }).clashes).toMatchObject([{ code: "direction", bar: 1, at: "1/8" }]);
    expect(under(chords(), { kind: "pattern", pattern: "s>s ss ss ss" }, { kind: "strokes", school: "down" }).clashes).toEqual([]);
  });

  it("a palm that lands with the down-stroke alone does not mute an up-stroke (percussive school)", () => {
    const pattern: Rule = { kind: "pattern", pattern: "mm s. s. s." };
    expect(under(chords(1, { player: { strumPalmMute: "percussive" } }), pattern).clashes).toMatchObject([{ code: "palm-up", at: "1/8" }]);
    expect(under(chords(), pattern).clashes).toEqual([]);
  });

  it("switched off it does nothing; limited to bars it leaves the others", () => {
    const off = under(chords(3), { kind: "backbeat", as: "chuck", off: true });
    expect(off.reports).toEqual([null]);
    expect(off.passage.bars).toEqual(chords(3).bars);
    const second = under(chords(3), { kind: "backbeat", as: "chuck", bars: { from: 2, to: 2 } });
    expect([0, 1, 2].map((b) => said(second.passage, b).length)).toEqual([1, 3, 1]);
  });

  it("their order matters: plain notes last takes all back", () => {
    const { passage } = under(chords(), { kind: "backbeat", as: "chuck" }, { kind: "palm-but-accents" }, { kind: "plain" });
    expect(said(passage)).toEqual(["0 654321", "1 654321", "3 654321"]);
  });
});

describe("treatments", () => {
  const riff = () => {
    const passage = passageOf(line(8, ["6/3p", "6/3p", "6/3", "5/5"]));
    passage.bars[0]!.strokes[2]!.accent = true;
    return passage;
  };

  it("leave the passage alone; a change of its notes shows in them", () => {
    const passage = riff();
    const before = structuredClone(passage);
    const rules: Rule[] = [{ kind: "plain" }, { kind: "muted-roots" }];
    treated(passage, { rules, overrides: {} });
    expect(passage).toEqual(before);
    passage.bars[0]!.strokes[3]!.notes[0]!.fret = 7;
    expect(treated(passage, { rules, overrides: {} }).passage.bars[0]!.strokes[3]!.notes[0]!.fret).toBe(7);
  });

  it("overrides by stroke and note come after the rules", () => {
    const passage = riff();
    applyEdit(passage, { kind: "set-treatment", treatment: { id: "t", name: "T", rules: [], overrides: {} } });
    const [first, second] = passage.bars[0]!.strokes;
    const { passage: made } = treated(passage, {
      rules: [{ kind: "palm-but-accents" }],
      overrides: { [first!.id!]: { as: "ghost", strings: [6, 5] }, [noteKey(second!, second!.notes[0]!)]: { tone: "open" } },
    });
    expect(said(made)).toEqual(["0 ghost", "0.5 6", "1 6!", "1.5 5p"]);
  });

  it("one is promoted: what was written becomes a treatment that gives it back, and the others stay as they were", () => {
    const passage = riff();
    applyEdit(passage, { kind: "set-treatment", treatment: { id: "a", name: "muted", rules: [{ kind: "plain" }, { kind: "muted-roots" }], overrides: {} } });
    applyEdit(passage, {
      kind: "set-treatment",
      treatment: { id: "b", name: "chucks", rules: [{ kind: "plain" }, { kind: "backbeat", as: "chuck" }], overrides: {} },
    });
    const written = said(passage);
    const other = said(treated(passage, passage.treatments![1]!).passage);
    expect(applyEdit(passage, { kind: "promote-treatment", id: "a" })).toBe(true);
    expect(said(passage)).toEqual(["0 6p", "0.5 6p", "1 6p", "1.5 5p"]);
    expect(passage.treatments!.map((t) => t.name)).toEqual(["as it was", "chucks"]);
    expect(said(treated(passage, passage.treatments![0]!).passage)).toEqual(written);
    expect(said(treated(passage, passage.treatments![1]!).passage)).toEqual(other);
    expect(parsePassage(JSON.parse(JSON.stringify(passage))).ok).toBe(true);
  });

  it("is promoted in a draft of the store as well", () => {
    const passage = riff();
    applyEdit(passage, { kind: "set-treatment", treatment: { id: "a", name: "muted", rules: [{ kind: "plain" }, { kind: "muted-roots" }], overrides: {} } });
    const promoted = produce(passage, (draft) => void applyEdit(draft, { kind: "promote-treatment", id: "a" }));
    expect(said(promoted)).toEqual(["0 6p", "0.5 6p", "1 6p", "1.5 5p"]);
  });

  it("strummed anew, what was written cannot be had back by overrides: the treatment stays instead", () => {
    const passage = chords();
    applyEdit(passage, { kind: "set-treatment", treatment: { id: "a", name: "strum", rules: [{ kind: "pattern", pattern: "s s s s" }], overrides: {} } });
    applyEdit(passage, { kind: "promote-treatment", id: "a" });
    expect(passage.bars[0]!.strokes).toHaveLength(4);
    expect(passage.treatments!.map((t) => t.name)).toEqual(["strum"]);
  });

  it("of any passage are valid documents, and the same input gives the same music", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 400 }),
        fc.shuffledSubarray(
          STARTERS.flatMap((s) => s.rules),
          { maxLength: 6 },
        ),
        (seed, rules) => {
          const passage = randomPassage(seed, 4);
          const { passage: made } = treated(passage, { rules, overrides: {} });
          const parsed = parsePassage(JSON.parse(JSON.stringify(made)));
          if (!parsed.ok) expect.fail(`${parsed.faults[0]!.place}: ${parsed.faults[0]!.says}`);
          expect(treated(passage, { rules, overrides: {} }).passage).toEqual(made);
        },
      ),
      { seed: 6, numRuns: 200 },
    );
  });
});

it("every starter makes music of four bars of chords, for the hands it is for", () => {
  for (const { name, rules, playsWith } of STARTERS) {
    const passage = chords(4, playsWith ? { player: { playsWith } } : {});
    const made = treated(passage, { rules, overrides: {} });
    expect(
      made.passage.bars.every((bar) => bar.strokes.length > 1),
      name,
    ).toBe(true);
    expect(made.clashes, name).toEqual([]);
    for (const [i, said] of made.reports.entries())
      if (rules[i]!.kind !== "plain" && rules[i]!.kind !== "pressed-accents") expect(said!.changed, `${name} ${rules[i]!.kind}`).toBeGreaterThan(0);
  }
});

describe("differences between two versions", () => {
  const strummed = (pattern: string, ...rules: Rule[]) => under(chords(), { kind: "pattern", pattern }, ...rules).passage;
  const said = (a: Passage, b: Passage) => differences(a, b).map(({ tick, says }) => `${tick / ticksOf("1/4")}: ${says}`);

  it("are said at their stroke", () => {
    expect(said(strummed("ss ss s. s."), strummed("sS k. m. b."))).toEqual([
      "0.5: accented",
      "1: chuck instead of strum",
      "1.5: strum left out",
      "2: palm instead of open",
      "3: note instead of strum, strings 6 instead of 6 5 4 3 2 1",
    ]);
    expect(said(strummed("s s s s"), strummed("s s s ss"))).toEqual(["3: of another length", "3.5: strum added"]);
    expect(said(strummed("ss ss ss ss"), strummed("ss ss ss ss", { kind: "strokes", school: "down" }))).toEqual(
      ["0.5", "1.5", "2.5", "3.5"].map((at) => `${at}: down instead of up`),
    );
  });

  it("are none between a version and itself", () => {
    expect(differences(strummed("sk s. mS g."), strummed("sk s. mS g."))).toEqual([]);
  });
});
