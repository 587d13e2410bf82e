import { describe, expect, it } from "vitest";
import { StringSet } from "../acoustics/modal.ts";
import { applyEdit } from "../edit/edit.ts";
import { excerptOf } from "../edit/excerpt.ts";
import { gripEnd, gripHolding, shownGripAt } from "../edit/grips.ts";
import { figureOf } from "../edit/range.ts";
import { planPassage, planStages } from "../engine.ts";
import { readBytes, writeBytes } from "../formats/files.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Passage, WrittenGrip } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { scoreOf } from "../sound/score.ts";
import { at, line, notes, passageOf, type Setting, type StrokeInput } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { outcomesOf } from "../verdict/verdict.ts";
import { harmonyOf } from "../writer/harmony.ts";

/* Common practice: a chord's shape stays down, whatever part of it is struck; it changes with the harmony, not with the stroke. */

const grip = (text: string, place = "0", chord?: string): WrittenGrip => ({
  at: place,
  ...(chord ? { chord } : {}),
  notes: text === "" ? [] : notes(text).map(({ string, fret, finger }) => ({ string, fret, ...(finger === undefined ? {} : { finger }) })),
});
const G = "6/3~2 5/2~1 1/3~3";
/** With the open strings that belong to it. */
const OPEN_G = `${G} 4/0 3/0 2/0`;
const holding = (bars: StrokeInput[][], grips: (WrittenGrip[] | undefined)[], setting: Setting = {}): Passage => {
  const passage = passageOf(bars, { on: "acoustic", ...setting });
  grips.forEach((own, b) => {
    if (own) passage.bars[b]!.grips = own;
  });
  return passage;
};
const presses = (passage: Passage) =>
  planPassage(passage, { why: "nothing" }).steps.map((step) =>
    step.strings.flatMap((s) => (s.touchedBy.some((t) => t.hand === "fretting" && t.part === "press") ? [s.string] : [])),
  );

describe("a grip", () => {
  const boom = line(8, ["6/3", "4/0+3/0+2/0+1/3", "6/3", "4/0+3/0+2/0+1/3", "5/2", "4/0+3/0+2/0+1/3"]);

  it("of bass and brush stays down through all of it: nothing is pressed again and nothing rings astray", () => {
    const passage = holding([boom], [[grip(OPEN_G)]]);
    for (const pressed of presses(passage).slice(0, 6)) expect(pressed).toEqual([1, 5, 6]);
    const plan = planPassage(passage);
    expect(plan.strays).toEqual([]);
    expect(plan.steps.slice(1, 6).map((step) => step.fretting)).toEqual(["", "", "", "", ""]);
  });

  it("that nobody wrote is seen in the music: one shape of a bar stays down, with the open strings that are strummed in it", () => {
    const plan = planPassage(holding([boom], []));
    for (const pressed of presses(holding([boom], [])).slice(0, 6)) expect(pressed).toEqual([1, 5, 6]);
    expect(plan.steps.slice(1, 6).map((step) => step.fretting)).toEqual(["", "", "", "", ""]);
    for (const place of ["1/8", "3/8"]) for (const s of [5, 6]) expect(at(plan, 1, place, s).intent, `string ${s} at ${place}`).toBe("free");
    // A written grip wins: here the hand lets go.
    expect(presses(holding([boom], [[grip("")]]))[1]).toEqual([1]);
  });

  it("is none where the notes are a line: one by one with a pick, palm-muted, or two frets of one string", () => {
    const pressed = (words: string[], setting: Setting = {}) => presses(holding([line(8, words)], [], setting));
    expect(pressed(["6/3", "5/5", "4/5", "6/3"], { on: "electric" })[1]).toEqual([5]);
    expect(pressed(["6/3+5/5+4/5", "6/3", "6/3+5/5+4/5"], { on: "electric" })[1]).toEqual([4, 5, 6]);
    expect(pressed(["6/3p+5/5p+4/5p", "6/3p", "6/3p+5/5p+4/5p"], { on: "electric" })[1]).toEqual([6]);
    expect(pressed(["6/3+5/5+4/5", "6/0", "6/3+5/5+4/5"], { on: "electric" })[1]).toEqual([]);
    // Fingers that pluck a guitar break a chord; a bass has lines.
    expect(pressed(["5/3", "4/2", "2/1", "5/3"], { on: "nylon" })[1]).toEqual([2, 4, 5]);
    expect(pressed(["4/3", "3/5", "2/5", "4/3"], { on: "bass" })[1]).toEqual([3]);
  });

  describe("of an arpeggio with a pick, over four strings and back", () => {
    const Am = ["5/0", "4/2", "3/2", "2/1", "1/0", "2/1", "3/2", "4/2"];
    const handsOver = (words: string[], setting: Setting) => {
      const plan = planPassage(holding([line(8, words)], [], { tempo: 84, ...setting }), { why: "nothing" });
      return plan.steps.map((step) =>
        step.strings.flatMap((s) => s.touchedBy.filter((t) => t.hand === "fretting" && t.part === "press").map((t) => `${t.finger} on ${s.string}`)),
      );
    };
    it.each([
      ["acoustic", 84],
      ["acoustic", 120],
      ["electric", 70],
    ] as const)("%s, clean, at %i: it stays down from the first note to the last", (on, tempo) => {
      for (const pressed of handsOver(Am, { on, tempo, gain: "clean" })) expect(pressed).toEqual(["1 on 2", "3 on 3", "2 on 4"]);
      // So does one finger among open strings.
      for (const pressed of handsOver(["6/0", "4/2", "3/0", "2/0", "1/0", "2/0", "3/0", "4/2"], { on, tempo, gain: "clean" })) expect(pressed).toHaveLength(1);
    });
    it("under gain each note is let go, with the fingers of the shape", () => {
      const pressed = handsOver(Am, { gain: "high" });
      expect(pressed.map((now) => now.length)).toEqual([0, 1, 1, 1, 0, 1, 1, 1]);
      expect(new Set(pressed.flat())).toEqual(new Set(["2 on 4", "3 on 3", "1 on 2"]));
    });
    it("none where a string has two places, or nothing comes back", () => {
      const run = handsOver(["6/5", "6/8", "5/5", "5/7", "4/5", "5/7", "5/5", "6/8"], { gain: "clean" });
      expect(run.every((now) => now.length <= 1)).toBe(true);
      expect(handsOver(["5/3", "4/2", "3/0", "2/1"], { gain: "clean" })[1]).toEqual(["2 on 4"]);
    });
  });

  it("has in it what a chuck is written with: nothing comes down for the chuck alone", () => {
    const struck = (place: string, text: string): StrokeInput => ({ at: place, length: "1/8", notes: notes(text) });
    const brush = "3/2~2 2/2~3 1/0";
    const chuck: StrokeInput = { at: "1/4", length: "1/8", as: "chuck", strings: [6, 5, 4, 3, 2, 1], notes: notes("5/0 4/2~1 3/2~2 2/2~3 1/0") };
    const passage = holding([[struck("0", "5/0"), struck("1/8", brush), chuck, struck("3/8", brush)]], [], { tempo: 110 });
    for (const pressed of presses(passage).slice(0, 4)) expect(pressed).toEqual([2, 3, 4]);
  });

  it("lets what it holds ring over what is struck next, and answer: it belongs to the harmony", () => {
    const plan = planPassage(holding([boom], [[grip(G)]], { gain: "high" }));
    expect(at(plan, 1, "1/8", 6)).toMatchObject({ intent: "free", state: "free" });
    expect(at(plan, 1, "0", 5).intent).toBe("free");
    for (const step of plan.steps.slice(0, 6)) for (const s of [1, 5, 6]) expect(step.strings[s - 1]!.touchedBy.filter((t) => t.part !== "press")).toEqual([]);
  });

  it("a held string that a stroke goes over sounds as it is held, and has to be stopped when the grip goes", () => {
    const strum = [{ ...line(4, ["6/3"])[0]!, strings: [6, 5, 4, 3, 2, 1] }];
    const plan = planPassage(holding([strum, []], [[grip(OPEN_G), grip("", "1/4")]], { gain: "high" }));
    const after = plan.steps.find((step) => step.at === "1/4")!;
    for (const s of [1, 2, 3, 4, 5]) expect(after.strings[s - 1]!.causes).toContain("carry-over");
    expect(after.strings.slice(0, 5).every((s) => s.state !== "still" || (s.undampedDb ?? 0) < 3)).toBe(true);
  });

  it("sounds at the pitch it is held at when a stroke goes over it", () => {
    const strum = [{ ...line(1, ["6/3"])[0]!, strings: [6, 5, 4, 3, 2, 1] }];
    const passage = holding([strum], [[grip(OPEN_G)]]);
    const planned = planStages(passage);
    const score = scoreOf(planned, outcomesOf(planned), new StringSet(passage.instrument), settingsOf(passage), "planned");
    const plucked = score.map((events) => events.flatMap((event) => (event.kind === "pluck" ? [event.fret] : [])));
    expect(plucked).toEqual([[3], [0], [0], [0], [2], [3]]);
  });

  it("rests in a rest: nothing is pressed, and what rang is held", () => {
    const plan = planPassage(holding([line(4, ["6/3+5/2+1/3", "-", "6/3+5/2+1/3", "-"])], [[grip(G)]], { gain: "edge" }));
    for (const s of [1, 5, 6]) expect(at(plan, 1, "1/4", s)).toMatchObject({ intent: "quiet", state: "damped" });
    expect(presses(holding([line(4, ["6/3+5/2+1/3", "-", "6/3"])], [[grip(G)]]))[1]).toEqual([]);
  });

  it("holds over bar lines until the next one, and lets go where that says so", () => {
    const arpeggio = line(4, ["5/2", "4/0", "3/0", "1/3"]);
    const passage = holding([arpeggio, arpeggio, arpeggio], [[grip(G)], undefined, [grip("", "1/2")]]);
    const pressed = presses(passage);
    expect(pressed.slice(0, 10).every((strings) => strings.join() === "1,5,6")).toBe(true);
    expect(pressed.slice(10)).toEqual([[], [1]]);
  });

  it("a higher fret on a held string sounds before the finger that stays behind it; a lower one cannot, and is reported", () => {
    const passage = holding([line(4, ["5/2", "5/4~4", "5/2", "5/1"])], [[grip(G)]]);
    const plan = planPassage(passage);
    expect(plan.issues.filter((i) => i.code === "grip-clash")).toEqual([expect.objectContaining({ path: "/bars/0/strokes/3/notes/0", bar: 1, at: "3/4" })]);
    expect(at(plan, 1, "1/4", 5).state).toBe("ring");
  });

  it("counts its frets from the capo: one beyond the neck is reported and left out", () => {
    const passage = holding([line(4, ["6/3"])], [[grip("6/3~1 1/6~4")]]);
    passage.bars[0]!.grips![0]!.notes[1]!.fret = 18;
    const beyond = () => planPassage(passage).issues.filter((issue) => issue.code === "fret-beyond-neck");
    expect(beyond()).toEqual([]);
    passage.instrument.capo = 5;
    expect(beyond()).toEqual([expect.objectContaining({ code: "fret-beyond-neck", path: "/bars/0/grips/0/notes/1" })]);
  });

  it("of a pick-up is taken with its first stroke", () => {
    const passage = holding([[{ at: "7/8", length: "1/8", notes: [{ string: 6, fret: 3 }] }], line(4, ["1/3"])], [[grip(G)]]);
    passage.bars[0]!.pickup = true;
    expect(presses(passage)[0]).toEqual([1, 5, 6]);
  });
});

describe("edits of grips", () => {
  const passage = () => holding([line(4, ["6/3"]), line(4, ["6/3"]), line(4, ["6/3"])], [[grip(G, "0", "G")], [grip("5/3~3 4/2~2 2/1~1", "1/2", "C")]]);
  const names = (p: Passage) => p.bars.map((bar) => bar.grips?.map((g) => `${g.at} ${g.chord ?? "-"}`) ?? []);

  it("one is set, replaced and taken away at its place", () => {
    const p = passage();
    const place = { bar: 0, tick: 0 };
    expect(applyEdit(p, { kind: "set-grip", place, grip: grip("1/0", "0", "E") })).toBe(true);
    expect(names(p)[0]).toEqual(["0 E"]);
    expect(applyEdit(p, { kind: "set-grip", place: { bar: 0, tick: ticksOf("1/4") }, grip: grip("", "1/4") })).toBe(true);
    expect(gripHolding(p, { bar: 1, tick: 0 })).toBeUndefined();
    expect(applyEdit(p, { kind: "set-grip", place, grip: null })).toBe(true);
    expect(applyEdit(p, { kind: "set-grip", place, grip: null })).toBe(false);
    expect(applyEdit(p, { kind: "set-grip", place, grip: grip("6/23") })).toBe(false);
    expect(names(p)[0]).toEqual(["1/4 -"]);
  });
  it("a bar that is taken away hands on what it held to its end; a shorter meter cuts off grips behind its end", () => {
    const p = passage();
    applyEdit(p, { kind: "remove-bar", bar: 1 });
    expect(names(p)).toEqual([["0 G"], ["0 C"]]);
    const short = passage();
    applyEdit(short, { kind: "set-meter", bar: 1, meter: [2, 4] });
    expect(names(short)).toEqual([["0 G"], [], []]);
  });
  it("one is moved between its neighbours, and not past them", () => {
    const p = passage();
    expect(applyEdit(p, { kind: "move-grip", from: ticksOf("3/2"), to: ticksOf("5/4") })).toBe(true);
    expect(names(p)).toEqual([["0 G"], ["1/4 C"], []]);
    expect(applyEdit(p, { kind: "move-grip", from: ticksOf("5/4"), to: 0 })).toBe(false);
    expect(applyEdit(p, { kind: "move-grip", from: 0, to: ticksOf("2") })).toBe(false);
    expect(applyEdit(p, { kind: "move-grip", from: ticksOf("5/4"), to: ticksOf("3") })).toBe(false);
  });
  it("one is held shorter, and the hand lets go; longer, and the next one waits or gives way", () => {
    const p = passage();
    expect(gripEnd(p, 0)).toBe(ticksOf("3/2"));
    expect(applyEdit(p, { kind: "end-grip", from: 0, to: ticksOf("1") })).toBe(true);
    expect(names(p)).toEqual([["0 G"], ["0 -", "1/2 C"], []]);
    expect(applyEdit(p, { kind: "end-grip", from: 0, to: ticksOf("1/2") })).toBe(true);
    expect(names(p)).toEqual([["0 G", "1/2 -"], ["1/2 C"], []]);
    expect(applyEdit(p, { kind: "end-grip", from: 0, to: ticksOf("2") })).toBe(true);
    expect(names(p)).toEqual([["0 G"], [], ["0 C"]]);
    expect(applyEdit(p, { kind: "end-grip", from: 0, to: ticksOf("3") })).toBe(true);
    expect(names(p)).toEqual([["0 G"], [], []]);
    expect(applyEdit(p, { kind: "end-grip", from: 0, to: ticksOf("4") })).toBe(false);
    expect(applyEdit(p, { kind: "end-grip", from: ticksOf("1/4"), to: ticksOf("1") })).toBe(false);
  });
  it("what the music shows is taken over where it is asked for, by its chord's name, and the hands stay as they were", () => {
    const arpeggio = line(8, ["5/3", "4/2", "3/0", "2/1", "5/3", "4/2", "3/0", "2/1"]);
    const shown = passageOf([arpeggio, arpeggio.map((s) => ({ ...s, chord: "C" }))], { on: "nylon" });
    expect(shownGripAt(shown, 0)).toMatchObject({ from: 0, grip: { notes: expect.arrayContaining([{ string: 5, fret: 3 }]) } });
    const taken = structuredClone(shown);
    expect(applyEdit(taken, { kind: "take-over-grips", from: 0 })).toBe(true);
    expect(taken.bars[0]!.grips![0]!.notes.map(({ string, fret }) => `${string}/${fret}`).sort()).toEqual(["2/1", "3/0", "4/2", "5/3"]);
    expect(shownGripAt(taken, 0)).toBe(null);
    const states = (p: Passage) =>
      planPassage(p).steps.map((step) => step.strings.map(({ state, touchedBy }) => [state, touchedBy.map(({ part, finger }) => `${part} ${finger}`)]));
    expect(states(taken)).toEqual(states(shown));
  });
  it("over every demo, taking over the grips leaves sound and touches as they were", () => {
    for (const demo of demoPassages()) {
      const taken = structuredClone(demo);
      if (!applyEdit(taken, { kind: "take-over-grips", from: 0 })) continue;
      const states = (p: Passage) => planPassage(p, { why: "nothing" }).steps.map((step) => step.strings.map(({ state }) => state).join(" "));
      expect(states(taken)).toEqual(states(demo));
      expect(planPassage(taken, { why: "nothing" }).strays).toEqual(planPassage(demo, { why: "nothing" }).strays);
    }
  });
  it("a stroke's notes that are held: up to where the music needs another grip, with nothing unplayable and the hands as they were", () => {
    for (const demo of demoPassages()) {
      const place = { bar: 0, tick: ticksOf(demo.bars[0]!.strokes[0]!.at) };
      const held = structuredClone(demo);
      if (!applyEdit(held, { kind: "hold-stroke", place })) continue;
      expect(held.bars[0]!.grips![0]!.notes.length).toBe(demo.bars[0]!.strokes[0]!.notes.length);
      const [was, is] = [planPassage(demo, { why: "nothing" }), planPassage(held, { why: "nothing" })];
      expect(is.issues, demo.title).toEqual(was.issues);
      expect(is.strays.length, demo.title).toBeLessThanOrEqual(was.strays.length);
    }
    const two = passageOf([line(4, ["6/3+5/5", "6/3+5/5", "6/5+5/7", "6/5+5/7"])]);
    expect(applyEdit(two, { kind: "hold-stroke", place: { bar: 0, tick: 0 } })).toBe(true);
    expect(names(two)[0]![0]).toBe("0 -");
    expect(names(two)[0]![1]!.startsWith("1/2")).toBe(true);
    expect(applyEdit(two, { kind: "hold-stroke", place: { bar: 0, tick: 1 } })).toBe(false);
    // A string that stands twice in a stroke is held once.
    const twice = passageOf([line(4, ["6/3+6/5+5/5"])]);
    expect(applyEdit(twice, { kind: "hold-stroke", place: { bar: 0, tick: 0 } })).toBe(true);
    expect(twice.bars[0]!.grips![0]!.notes.map(({ string }) => string)).toEqual([6, 5]);
  });
  it("bars taken out by themselves keep the grip that holds there, and their tempo", () => {
    const p = passage();
    p.bars[0]!.tempo = 77;
    const out = excerptOf(p, 1, 1);
    expect(names(out)).toEqual([["0 G", "1/2 C"]]);
    expect(out.tempo).toBe(77);
    expect(names(excerptOf(p, 2, 2))).toEqual([["0 C"]]);
  });
  it("a chord that is set where a grip begins is what the hand holds from there", () => {
    const p = passage();
    expect(applyEdit(p, { kind: "set-chord", from: 0, to: 1, length: ticksOf("1/4"), name: "G", shape: [3, 3, 4, 5, 5, 3] })).toBe(true);
    expect(p.bars[0]!.grips).toEqual([{ at: "0", chord: "G", notes: [3, 5, 5, 4, 3, 3].map((fret, i) => ({ string: 6 - i, fret })) }]);
  });
  it("a copied bar brings its grips along", () => {
    const p = passage();
    applyEdit(p, { kind: "paste", at: ticksOf("3"), figure: figureOf(p, ticksOf("1"), ticksOf("2")) });
    expect(names(p)[3]).toEqual(["1/2 C"]);
  });
  it("for the writer it is the chord that is held, whatever of it is struck", () => {
    expect(harmonyOf(passage().bars).map(({ name, notes }) => `${name} ${notes.map((n) => `${n.string}/${n.fret}`).join(" ")}`)).toEqual([
      "G 6/3 5/2 1/3",
      "C 5/3 4/2 2/1",
    ]);
  });
});

it("goes through a score as a chord frame, names, fingers, letting go and all", () => {
  const passage = holding([line(4, ["6/3", "4/0"]), line(4, ["5/3"])], [[grip(G, "0", "G"), grip("5/3~3 4/2~2", "1/2")], [grip("", "1/4")]]);
  const read = readBytes(writeBytes(passage, "musicxml").bytes);
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  expect(read.value.passage.bars.map((bar) => bar.grips)).toEqual(passage.bars.map((bar) => bar.grips));
  expect(read.value.passage.bars[0]!.strokes.map((s) => s.chord)).toEqual([undefined, undefined]);
});

it("a chord frame of another program, which counts its frets from the first one shown, is read as a grip at its moment", () => {
  const xml = new TextDecoder().decode(writeBytes(passageOf([line(4, ["6/5"])]), "musicxml").bytes);
  const frame = `<harmony><root><root-step>A</root-step></root><kind>minor</kind><frame><frame-strings>6</frame-strings><frame-frets>4</frame-frets><first-fret>5</first-fret>
    <frame-note><string>6</string><fret>1</fret><fingering>1</fingering></frame-note><frame-note><string>5</string><fret>3</fret><fingering>3</fingering></frame-note></frame></harmony>`;
  const read = readBytes(new TextEncoder().encode(xml.replace("<note>", `${frame}<note>`)));
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  expect(read.value.passage.bars[0]!.grips).toEqual([
    {
      at: "0",
      chord: "Am",
      notes: [
        { string: 6, fret: 5, finger: 1 },
        { string: 5, fret: 7, finger: 3 },
      ],
    },
  ]);
});
