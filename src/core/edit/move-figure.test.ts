import fc from "fast-check";
import { produce } from "immer";
import { describe, expect, it } from "vitest";
import { planPassage } from "../engine.ts";
import { barLength } from "../music/beats.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { openPitches } from "../passage/settings.ts";
import { line, passageOf, stroke } from "../test/build.ts";
import { randomPassage } from "../test/random-passages.ts";
import { applyEdit } from "./edit.ts";
import { type MoveBy, movedFigure, transposedName } from "./move-figure.ts";

const endOf = ({ bars }: Passage) => bars.reduce((sum, bar) => sum + barLength(bar.meter), 0);
const moved = (passage: Passage, by: MoveBy) => movedFigure(passage, 0, endOf(passage), by);
const places = (passage: Pick<Passage, "bars">, bar = 0) => passage.bars[bar]!.strokes.map((s) => s.notes.map((n) => `${n.string}/${n.fret}`).join(" "));

const pitchesOf = ({ bars, instrument }: Passage) =>
  bars.flatMap((bar) => bar.strokes.flatMap((s) => s.notes.map((n) => openPitches(instrument)[n.string - 1]! + n.fret)));

const riff = () => passageOf(line(8, ["6/3", "5/5", "4/5", "6/3"]), { on: "electric" });

describe("a figure moved", () => {
  it("along the neck keeps its shape; fingers stay", () => {
    const power = passageOf([[{ ...stroke("0", "1", "6/3 5/5 4/5"), chord: "G5" }]], { on: "electric" });
    const { notes } = power.bars[0]!.strokes[0]!;
    for (const [i, finger] of ([1, 3, 4] as const).entries()) notes[i]!.finger = finger;
    const result = moved(power, { frets: 2 });
    if (!result.ok) expect.fail(result.says);
    expect(places(result)).toEqual(["6/5 5/7 4/7"]);
    expect(result.bars[0]!.strokes[0]!.notes.map((note) => note.finger)).toEqual([1, 3, 4]);
    expect(result.bars[0]!.strokes[0]!.chord).toBe("A5");
    expect(result.told).toEqual([]);
  });

  it("tells of open strings that stay, and of notes that become open; what leaves the neck is refused with its place", () => {
    const open = passageOf(line(8, ["6/0", "5/2", "6/0", "4/2"]), { on: "electric" });
    const up = moved(open, { frets: 3 });
    expect(up).toMatchObject({ ok: true, told: ["2 open strings stay open and sound as before: the nut does not move along."] });
    expect(up.ok && places(up)).toEqual(["6/0", "5/5", "6/0", "4/5"]);
    expect(moved(open, { frets: -2 })).toMatchObject({
      ok: true,
      told: [expect.stringContaining("2 open strings stay"), expect.stringContaining("2 fretted notes become open strings")],
    });
    expect(moved(open, { frets: -3 })).toEqual({ ok: false, says: "string 5, fret 2 has no place there: the neck has 6 strings and 22 frets" });
  });

  it("to other strings keeps its frets, and tells how it sounds: a fourth lower a string over; across G and B it is another interval (standard tuning)", () => {
    const over = moved(riff(), { strings: -1 });
    expect(over.ok && places(over)).toEqual(["5/3", "4/5", "3/5", "5/3"]);
    expect(over).toMatchObject({ told: ["It sounds 5 semitones higher."] });
    expect(moved(riff(), { strings: -2 })).toMatchObject({
      told: ["It sounds 10 semitones higher.", "One note does not: these strings are tuned otherwise to each other."],
    });
    expect(moved(riff(), { strings: 1 })).toMatchObject({ ok: false });
  });

  it("by an octave, or to another pitch, sounds the same higher or lower wherever it lies best", () => {
    for (const semitones of [12, 7, 5, -2]) {
      const result = moved(riff(), { semitones });
      if (!result.ok) expect.fail(result.says);
      expect(pitchesOf({ ...riff(), bars: result.bars })).toEqual(pitchesOf(riff()).map((pitch) => pitch + semitones));
    }
    // A fourth higher is the same shape one string over: no hand would go up five frets for it.
    const fourth = moved(riff(), { semitones: 5 });
    expect(fourth.ok && places(fourth)).toEqual(["5/3", "4/5", "3/5", "5/3"]);
  });

  it("takes dead strokes' strings and grips along; through all strings stays so", () => {
    const passage = riff();
    passage.bars[0]!.strokes[1]!.as = "ghost";
    passage.bars[0]!.strokes[1]!.strings = [6, 5];
    passage.bars[0]!.strokes[3]!.strings = [6, 5, 4, 3, 2, 1];
    passage.bars[0]!.grips = [
      {
        at: "0",
        notes: [
          { string: 6, fret: 3 },
          { string: 5, fret: 5 },
        ],
      },
    ];
    const result = moved(passage, { strings: -1 });
    if (!result.ok) expect.fail(result.says);
    expect(result.bars[0]!.strokes.map((s) => s.strings)).toEqual([undefined, [5, 4], undefined, [6, 5, 4, 3, 2, 1]]);
    expect(result.bars[0]!.grips![0]!.notes).toEqual([
      { string: 5, fret: 3 },
      { string: 4, fret: 5 },
    ]);
  });

  it("there and back is the same passage, and a valid one (1000 random ones)", () => {
    const by = fc.oneof(
      fc.integer({ min: -7, max: 7 }).map((frets) => ({ there: { frets }, back: { frets: -frets } })),
      fc.integer({ min: -3, max: 3 }).map((strings) => ({ there: { strings }, back: { strings: -strings } })),
    );
    let movedOnes = 0;
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 5000 }), by, (seed, { there: way, back: home }) => {
        const passage = randomPassage(seed, 3);
        for (const bar of passage.bars) for (const holder of [...bar.strokes, ...(bar.grips ?? [])]) if (holder.chord) delete holder.chord;
        const there = moved(passage, way);
        if (!there.ok || there.told.some((says) => says.includes("become"))) return;
        const over = "strings" in way ? passage.bars.some((bar) => bar.strokes.some((s) => (s.strings ?? s.click ?? []).length > 0)) : false;
        // The strings of a dead stroke end at the edge of the neck.
        if (over) return;
        movedOnes++;
        const parsed = parsePassage(JSON.parse(JSON.stringify({ ...passage, bars: there.bars })));
        if (!parsed.ok) expect.fail(`${parsed.faults[0]!.place}: ${parsed.faults[0]!.says}`);
        const back = movedFigure({ ...passage, bars: there.bars }, 0, endOf(passage), home);
        expect(back.ok && back.bars).toEqual(passage.bars);
      }),
      { seed: 3, numRuns: 1000 },
    );
    expect(movedOnes).toBeGreaterThan(100);
  });

  it("the plan moves along: two frets higher the hands do the same", () => {
    const low = riff();
    const high = { ...low, bars: (moved(low, { frets: 2 }) as { bars: Passage["bars"] }).bars };
    const [a, b] = [planPassage(low), planPassage(high)];
    expect(b.steps.map((step) => step.position)).toEqual(a.steps.map((step) => step.position + 2));
    expect(b.steps.map((step) => step.strings.map(({ state }) => state))).toEqual(a.steps.map((step) => step.strings.map(({ state }) => state)));
  });

  it("is one edit, of a part of the passage alone, in the store's drafts too", () => {
    const passage = riff();
    const now = produce(passage, (draft) => void applyEdit(draft, { kind: "move-figure", from: 0, to: barLength([4, 4]) / 4, by: { frets: 2 } }));
    expect(places(now)).toEqual(["6/5", "5/7", "4/5", "6/3"]);
  });
});

describe("a figure over a row of chords", () => {
  it("one bar over I IV V: the same shape on the next strings where it lies there", () => {
    const passage = passageOf([[stroke("0", "1/2", "6/5"), stroke("1/2", "1/2", "5/7")]], { on: "electric" });
    expect(applyEdit(passage, { kind: "repeat-figure", from: 0, to: barLength([4, 4]), over: [5, 7] })).toBe(true);
    expect([0, 1, 2].map((b) => places(passage, b))).toEqual([
      ["6/5", "5/7"],
      ["5/5", "4/7"],
      ["5/7", "4/9"],
    ]);
  });
  it("is laid out as a whole or not at all", () => {
    const top = passageOf([[stroke("0", "1", "1/22")]], { on: "electric" });
    const before = structuredClone(top);
    expect(applyEdit(top, { kind: "repeat-figure", from: 0, to: 10, over: [] })).toBe(false);
    expect(top).toEqual(before);
  });
});

it.each([
  ["G", 2, "A"],
  ["Am7", 3, "Cm7"],
  ["D9/F#", -2, "C9/E"],
  ["Bbmaj7", -1, "Amaj7"],
  ["320003", 2, null],
  ["C6/9", 7, "G6/9"],
])("%s moved by %i is %s", (name, semitones, now) => {
  expect(transposedName(name, semitones)).toBe(now);
});
