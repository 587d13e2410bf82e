import fc from "fast-check";
import { produce } from "immer";
import { describe, expect, it } from "vitest";
import { parseSequence } from "../chords/sequence.ts";
import { applyEdit } from "../edit/edit.ts";
import { planPassage } from "../engine.ts";
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
  const SILENT: readonly PatternSign[] = ["air", "tie", "rest"];
  const DEAD: readonly PatternSign[] = ["chuck", "ghost", "dead-bass", "click"];
  const SOUNDING: readonly PatternSign[] = ["strum", "muted", "bass", "walk", "treble", "strings", "through", "fingers"];
  const place = fc
    .record({
      sign: fc.constantFrom(...SILENT, ...DEAD, ...SOUNDING),
      accent: fc.boolean(),
      stroke: fc.constantFrom("down" as const, "up" as const, null),
      strings: fc.subarray([8, 7, 6, 5, 4, 3, 2, 1], { minLength: 1 }),
      fingers: fc.subarray(["p", "i", "m", "a"] as const, { minLength: 1 }),
    })
    .map(({ sign, accent, stroke, strings, fingers }) => ({
      sign,
      accent: accent && SOUNDING.includes(sign),
      stroke: SILENT.includes(sign) || sign === "fingers" ? null : stroke,
      ...(sign === "strings" || sign === "through" ? { strings } : {}),
      ...(sign === "fingers" ? { fingers } : {}),
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
    // Two ways to write the same.
    for (const [one, other] of [
      ["s!", "S"],
      ["{pima}!", "(p)!(i)!(m)!(a)!"],
      ["(234)", "(432)"],
      ["(5)", "5"],
      ["(amp)", "(pma)"],
    ] as const)
      expect(parsePattern(one), one).toEqual(parsePattern(other));
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
    ["s 9", 2, '"9"'],
    ["5! k!", 4, "accented"],
    ["(43", 0, "not closed"],
    ["s () s", 2, "nothing between"],
    ["(433)", 3, "twice"],
    ["(4p)", 2, '"p"'],
    ["[pm]", 1, '"p"'],
    ["{32}", 1, '"3"'],
    [">(pm)", 0, "pluck"],
    ["{pimapimap}", 0, "more than 8"],
  ])("%j: the fault is at character %i", (text, at, says) => {
    const read = parsePattern(text);
    if (read.ok) expect.fail("was read");
    expect(read.at).toBe(at);
    expect(read.says).toContain(says);
  });

  it("any text is read or refused with a place in it", () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(..."sSmMbBwWtTkgxc.,_|<>!([{135pima}]) ") }), (text) => {
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

  const notesOf = (passage: Passage, bar = 0) =>
    passage.bars[bar]!.strokes.map(({ at, length, notes }) => notes.map((n) => `${n.string}${n.by ?? ""} ${at} ${n.length ?? length}`).join(" + "));

  it("an arpeggio is played out of a grip that stays down: each note rings until its string is struck again", () => {
    const { passage, clashes } = under(chords(), { kind: "pattern", pattern: "6432 1234 6432 1234" });
    expect(passage.bars[0]!.grips).toEqual([{ at: "0", chord: "G", notes: G.notes!.map(({ string, fret }) => ({ string, fret })) }]);
    expect(notesOf(passage).slice(0, 5)).toEqual(["6 0 1/2", "4 1/16 3/8", "3 1/8 1/4", "2 3/16 1/8", "1 1/4 1/2"]);
    expect(clashes).toEqual([]);
  });

  it("fingers pluck the strings that are theirs: the thumb the bass, index, middle and ring 3, 2 and 1", () => {
    const { passage } = under(chords(1, { player: { playsWith: "fingers" } }), { kind: "pattern", pattern: "(pma) {im} {pima} ," });
    expect(passage.bars[0]!.strokes.map(({ notes }) => notes.map((n) => `${n.by}${n.string}`).join(" "))).toEqual([
      "p6 m2 a1",
      "i3",
      "m2",
      "p6",
      "i3",
      "m2",
      "a1",
    ]);
    // The rest ends the last of them, and with it what it would have rung.
    expect(notesOf(passage).at(-1)).toBe("1a 11/16 1/16");
  });

  it("the bass walks: each time the next of the chord's bass notes, from the lowest on; at a chord change anew", () => {
    const two = passageOf(
      [
        [
          { ...G, length: "1/2", chord: "G" },
          { ...stroke("1/2", "1/2", "5/3 4/2 3/0 2/1 1/0"), chord: "C" },
        ],
      ],
      { on: "acoustic" },
    );
    expect(said(under(two, { kind: "pattern", pattern: "wt wt wt wt" }).passage)).toEqual([
      "0 6",
      "0.5 54321",
      "1 5",
      "1.5 54321",
      "2 5",
      "2.5 4321",
      "3 4",
      "3.5 4321",
    ]);
  });

  it("through all strings only some sound; a set is struck at once; a bass note can be dead", () => {
    const { passage } = under(chords(), { kind: "pattern", pattern: "[3] (432) x. s" });
    const strokes = passage.bars[0]!.strokes;
    expect(said(passage)).toEqual(["0 3", "1 432", "2 ghost", "3 654321"]);
    expect(strokes.map((s) => s.strings)).toEqual([[6, 5, 4, 3, 2, 1], undefined, [6], undefined]);
  });

  it("what a chord does not hold is told and not struck", () => {
    const low = passageOf([{ ...stroke("0", "1", "4/0 3/2 2/3 1/2"), chord: "D" }], { on: "acoustic" });
    const { passage, clashes } = under(low, { kind: "pattern", pattern: "6. (54) . s" });
    expect(said(passage)).toEqual(["1 4", "3 4321"]);
    expect(clashes.map((clash) => `${clash.code} ${clash.at}: ${clash.says}`)).toEqual([
      "no-string 0: Bar 1, 1: D has no string 6.",
      "no-string 1/4: Bar 1, 2: D has no string 5.",
    ]);
  });

  it("a tie holds what sounds over the bar line", () => {
    const { passage } = under(chords(2), { kind: "pattern", pattern: "s . . s | _ s . ." });
    expect(passage.bars.map((bar) => bar.strokes.map((s) => `${s.at} ${s.length}`))).toEqual([["0 3/4", "3/4 1/2"], ["1/4 3/4"]]);
  });

  it("eighths, triplets, sixteenths and sextuplets stand in one line; in 7/8 eighths are grouped as their author likes", () => {
    expect(said(under(chords(), { kind: "pattern", pattern: "ss sss ssss ssssss" }).passage)).toHaveLength(15);
    const seven = chords(1, { meter: [7, 8] });
    seven.bars[0]!.strokes[0]!.length = "7/8";
    const { passage, clashes } = under(seven, { kind: "pattern", pattern: "b. ss b.s" });
    expect(clashes).toEqual([]);
    expect(said(passage)).toEqual(["0 6", "1 654321", "1.5 654321", "2 6", "3 654321"]);
    expect(said(under(seven, { kind: "pattern", pattern: "sssss" }).passage)).toEqual(["0 654321"]);
  });

  it("where the pattern ends the hand lets its grip go", () => {
    const { passage } = under(chords(3), { kind: "pattern", pattern: "5 4 3 2", bars: { from: 1, to: 2 } });
    expect(passage.bars.map((bar) => bar.grips?.map((grip) => grip.notes.length))).toEqual([[6], undefined, [0]]);
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

  it("roots are muted by string, or below a note, and what is left open is said", () => {
    const riff = passageOf(line(8, ["6/0", "5/2", "6/3", "3/2"]), { on: "electric" });
    expect(under(riff, { kind: "muted-roots" }).reports[0]!.says).toBe("3 notes under the palm, 1 open");
    const low = passageOf(line(8, ["6/0", "5/2", "6/3"]), { on: "electric" });
    expect(under(low, { kind: "muted-roots" }).reports[0]!.says).toMatch(/^All 3 notes under the palm, none is left open/);
    expect(said(under(riff, { kind: "muted-roots", strings: [6] }).passage)).toEqual(["0 6p", "0.5 5", "1 6p", "1.5 3"]);
    // G2 is fret 3 of the low string: the E below it is muted, G itself is not.
    expect(said(under(riff, { kind: "muted-roots", below: "G2" }).passage)).toEqual(["0 6p", "0.5 5", "1 6", "1.5 3"]);
    const within = { from: { bar: 1, at: "1/8" }, to: { bar: 1, at: "1/4" } };
    expect(said(under(riff, { kind: "muted-roots", within }).passage)).toEqual(["0 6", "0.5 5p", "1 6p", "1.5 3"]);
    expect(under(riff, { kind: "muted-roots", within }).reports[0]!.says).toBe("2 notes under the palm, 2 open");
    expect(under(riff, { kind: "muted-roots", strings: [1] }).reports[0]!).toMatchObject({ changed: 0, says: "None of 4 notes is meant: all stay open." });
  });

  it("an order of strokes begins anew in each bar, after each rest, or never", () => {
    const two = chords(2);
    const ways = (restart: "bar" | "motif" | "never", pattern: string) =>
      under(two, { kind: "pattern", pattern }, { kind: "strokes", school: "free", order: "ddu", restart }).passage.bars.map((bar) =>
        bar.strokes.map((s) => s.stroke![0]).join(""),
      );
    expect(ways("never", "s s s s")).toEqual(["ddud", "dudd"]);
    expect(ways("bar", "s s s s")).toEqual(["ddud", "ddud"]);
    expect(ways("motif", "s s , s")).toEqual(["ddd", "dud"]);
    expect(ways("motif", ", s s s")).toEqual(["ddu", "ddu"]);
  });

  it("the hand swings through triplets D U D U D U, and begins every other beat with a down-stroke", () => {
    const ways = (pattern: string) =>
      under(chords(), { kind: "pattern", pattern }, { kind: "strokes", school: "pendulum" })
        .passage.bars[0]!.strokes.map((s) => s.stroke![0])
        .join("");
    expect(ways("sss sss ss s")).toBe("dududu" + "du" + "d");
    expect(ways("ss sss s s")).toBe("du" + "dud" + "d" + "d");
    expect(ways("ssssss ss sss ssss")).toBe("dududu" + "du" + "dud" + "dudu");
  });

  it("a chuck by the edge of the hand goes through the first four strings the pick comes to", () => {
    const edge = under(chords(1, { player: { chuck: "edge" } }), { kind: "backbeat", as: "chuck" });
    expect(edge.passage.bars[0]!.strokes.find((s) => s.as === "chuck")!.strings).toEqual([6, 5, 4, 3]);
    expect(edge.reports[0]!.says).toContain("first 4 strings");
  });

  it("boom-brush may overlap: the bass rings through its beat, the grip stays down", () => {
    const { passage } = under(chords(), { kind: "boom-brush", overlap: true });
    expect(notesOf(passage)[0]).toBe("6 0 1/4");
    expect(passage.bars[0]!.grips).toHaveLength(1);
    expect(notesOf(under(chords(), { kind: "boom-brush" }).passage)[0]).toBe("6 0 1/8");
  });

  it("thumb-swing keeps a written line: the nail comes down beside it, where strings are free", () => {
    const tune = passageOf(line(4, ["6/0", "1/3", "6/0", "3/2"]), { on: "acoustic", player: { playsWith: "thumb" } });
    const { passage, reports } = under(tune, { kind: "thumb-swing", keep: true });
    expect(said(passage).map((s) => s.split(" ")[1])).toEqual(["6", "1", "6", "3"]);
    expect(passage.bars[0]!.strokes.map((s) => s.click)).toEqual([undefined, [4, 3, 2], undefined, [4, 2]]);
    expect(reports[0]!.changed).toBe(2);
  });

  it("a rake is dragged through the strings on the bass side into its note; what has none before it is told", () => {
    const tune = passageOf(line(4, ["6/3", "2/3", "6/3", "3/2"]), { on: "electric" });
    for (const s of [0, 1, 3]) tune.bars[0]!.strokes[s]!.accent = true;
    const { passage, reports } = under(tune, { kind: "rake", into: "accents" });
    const rakes = passage.bars[0]!.strokes.filter((s) => s.as === "rake");
    expect(rakes.map((s) => [s.at, s.length, s.strings])).toEqual([
      ["7/32", "1/32", [5, 4, 3]],
      ["23/32", "1/32", [6, 5, 4]],
    ]);
    expect(reports[0]!.says).toBe("2 rakes into the accents; 1 note without: nothing lies before it");
  });

  it("single notes are struck through all strings; fingers cannot", () => {
    const tune = passageOf(line(4, ["3/2"]), { on: "electric" });
    expect(under(tune, { kind: "through-all" }).passage.bars[0]!.strokes[0]!.strings).toEqual([6, 5, 4, 3, 2, 1]);
    expect(under(chords(), { kind: "through-all" }).reports[0]!.changed).toBe(0);
    expect(under(passageOf(line(4, ["3/2"]), { on: "nylon" }), { kind: "through-all" }).reports[0]!.says).toMatch(/^Fingers pluck/);
  });

  it("one hand damps, whatever the player says otherwise", () => {
    const { passage } = under(chords(), { kind: "one-hand-damps", hand: "fretting" });
    expect(passage.player.damps).toBe("fretting");
    expect(under(passage, { kind: "one-hand-damps", hand: "fretting" }).reports[0]!.changed).toBe(0);
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

const OPEN_CHORDS = ["6/3 5/2 4/0 3/0 2/0 1/3", "5/3 4/2 3/0 2/1 1/0", "5/0 4/2 3/2 2/1 1/0", "6/1 5/3 4/3 3/2 2/1 1/1"];

it.each(STARTERS.flatMap((starter) => starter.playsWith.map((playsWith) => ({ ...starter, playsWith }))))(
  "$name, with $playsWith: music that this hand can play, of four bars of chords",
  ({ rules, playsWith }) => {
    const passage = passageOf(
      OPEN_CHORDS.map((notes, i) => [{ ...stroke("0", "1", notes), chord: `chord ${i}` }]),
      { on: "acoustic", tempo: 80, player: { playsWith } },
    );
    const made = treated(passage, { rules, overrides: {} });
    expect(made.passage.bars.every((bar) => bar.strokes.length > 1)).toBe(true);
    expect(made.clashes).toEqual([]);
    for (const [i, said] of made.reports.entries())
      if (rules[i]!.kind !== "plain" && rules[i]!.kind !== "pressed-accents") expect(said!.changed, rules[i]!.kind).toBeGreaterThan(0);
    // Not a pinch of more notes than fingers, nor anything else that no hand plays.
    expect(planPassage(made.passage).issues.map(({ code, says }) => `${code}: ${says}`)).toEqual([]);
  },
);

describe("differences between two versions", () => {
  const strummed = (pattern: string, ...rules: Rule[]) => under(chords(), { kind: "pattern", pattern }, ...rules).passage;
  const said = (a: Passage, b: Passage) => differences(a, b).map(({ tick, says }) => `${tick / ticksOf("1/4")}: ${says}`);

  it("are said at their stroke", () => {
    expect(said(strummed("ss ss s. s."), strummed("sS k. m. b."))).toEqual([
      "0.5: accented",
      "1: chuck instead of strum",
      "1.5: strum left out",
      "2: palm instead of open",
      "3: note instead of strum, string 6 at 3 instead of frets 3 2 0 0 0 3 on strings 6 5 4 3 2 1",
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
