import fc from "fast-check";
import { produce } from "immer";
import { describe, expect, it } from "vitest";
import { applyEdit } from "../../edit/edit.ts";
import { planPassage } from "../../engine.ts";
import { parsePassage } from "../../passage/parse.ts";
import type { Conditions, Passage, WrittenGrip } from "../../passage/schema.ts";
import { lastFret, openPitches, settingsOf } from "../../passage/settings.ts";
import { anyPassage } from "../../test/any-passage.ts";
import { instrument, passageOf, stroke, notes as written } from "../../test/build.ts";
import { demoPassages } from "../../test/demos.ts";
import { differences } from "../differences.ts";
import { harmonyOf } from "../harmony.ts";
import { treated } from "../treated.ts";
import { isChord } from "./revoice.ts";

const under = (passage: Passage, conditions: Conditions) => treated(passage, { conditions, rules: [], overrides: {} });
const shapes = ({ bars }: Passage) =>
  bars.flatMap((bar) =>
    bar.strokes.map(({ notes }) =>
      [...notes]
        .sort((a, b) => b.string - a.string)
        .map(({ string, fret }) => `${string}/${fret}`)
        .join(" "),
    ),
  );
const pitchesOf = (passage: Passage) => {
  const open = openPitches(passage.instrument);
  return passage.bars.map((bar) => bar.strokes.map(({ notes }) => notes.map(({ string, fret }) => open[string - 1]! + fret).sort((a, b) => a - b)));
};
const classesOf = (passage: Passage) => pitchesOf(passage).map((bar) => bar.map((pitches) => [...new Set(pitches.map((pitch) => pitch % 12))].sort()));

describe("open and closed voicings", () => {
  const G = { ...stroke("0", "1/2", "6/3 5/2 4/0 3/0 2/0 1/3"), chord: "G" };
  const C = { ...stroke("1/2", "1/2", "5/3 4/2 3/0 2/1 1/0"), chord: "C" };
  const verse = passageOf([[G, C]], { on: "acoustic" });
  it("closed: the same chords, nothing open; open again: in the first position", () => {
    const closed = under(verse, { voicing: "closed" }).passage;
    expect(classesOf(closed)).toEqual(classesOf(verse));
    expect(closed.bars[0]!.strokes.flatMap(({ notes }) => notes).every(({ fret }) => fret > 0)).toBe(true);
    const open = under(closed, { voicing: "open" }).passage;
    expect(open.bars[0]!.strokes.every(({ notes }) => notes.some(({ fret }) => fret === 0) && notes.every(({ fret }) => fret <= 4))).toBe(true);
    expect(classesOf(open)).toEqual(classesOf(verse));
  });
  it("the bass stays the bass, and closed chords lie near each other", () => {
    const closed = under(verse, { voicing: "closed" }).passage;
    const bass = (passage: Passage) => pitchesOf(passage)[0]!.map((pitches) => pitches[0]! % 12);
    expect(bass(closed)).toEqual(bass(verse));
    const lowest = closed.bars[0]!.strokes.map(({ notes }) => Math.min(...notes.map(({ fret }) => fret)));
    expect(Math.abs(lowest[0]! - lowest[1]!)).toBeLessThanOrEqual(3);
  });
  it("a bass note and a brush play the same part of the other chord; what is beside the chord stays and is told", () => {
    const groove = passageOf([
      [
        { ...stroke("0", "1/4", "6/3"), chord: "G" },
        { ...stroke("1/4", "1/4", "3/0 2/0 1/3"), chord: "G" },
        { ...stroke("1/2", "1/4", "5/2 4/0 3/0"), chord: "G" },
        stroke("3/4", "1/4", "4/2"),
      ],
    ]);
    const { passage, under: told } = under(groove, { voicing: "closed" });
    const [bass, brush] = passage.bars[0]!.strokes;
    expect(bass!.notes).toHaveLength(1);
    expect(Math.max(...bass!.notes.map(({ string }) => string))).toBeGreaterThan(Math.max(...brush!.notes.map(({ string }) => string)));
    expect(shapes(passage)[3]).toBe("4/2");
    expect(told[0]!.says).toContain("closed voicings");
  });
  it("a written grip goes along with what is plucked out of it", () => {
    const arpeggio = passageOf([stroke("0", "1/4", "5/3"), stroke("1/4", "1/4", "3/0"), stroke("1/2", "1/4", "2/1")]);
    arpeggio.bars[0]!.grips = [{ at: "0", chord: "C", notes: written("5/3 4/2 3/0 2/1") as WrittenGrip["notes"] }];
    const { passage } = under(arpeggio, { voicing: "closed" });
    const places = new Set(passage.bars[0]!.grips![0]!.notes.map(({ string, fret }) => `${string}/${fret}`));
    expect([...places].some((place) => place.endsWith("/0"))).toBe(false);
    for (const shape of shapes(passage)) expect(places.has(shape)).toBe(true);
  });
  it("scratched, a closed chord is let go and that is all; an open one needs a finger laid over its open strings as well (common practice)", () => {
    const scratch = passageOf([[0, 1, 2, 3, 4, 5, 6, 7].map((k) => ({ ...G, at: `${k}/8`, length: "1/16" }))], { tempo: 90 });
    const [open, closed] = [scratch, under(scratch, { voicing: "closed" }).passage].map((passage) => {
      const { steps } = planPassage(passage);
      const letsGo = steps.some(({ actions }) => actions.some(({ does }) => does === "let-go"));
      // Rests in which something lies over a string that has just rung and that no finger rests on where it pressed it.
      const leans = steps.filter((step, i) =>
        step.strings.some(({ touchedBy }, s) => {
          const rang = step.struck === undefined && steps[i - 1]?.strings[s]?.state === "ring";
          return rang && touchedBy.some(({ part }) => part === "underside" || part === "lay") && !touchedBy.some(({ part }) => part === "ease");
        }),
      );
      return { letsGo, leans: leans.length };
    });
    expect(closed!.letsGo).toBe(true);
    // Never, against at every release.
    expect(closed!.leans).toBe(0);
    expect(open!.leans).toBeGreaterThanOrEqual(7);
  });
  it("a chord that has none is told and stays: none of F minor's tones is an open string; two notes are no chord", () => {
    const minor = "6/1 5/3 4/3 3/1 2/1 1/1";
    const passage = passageOf([[stroke("0", "1/2", "6/5 5/7"), { ...stroke("1/2", "1/2", minor), chord: "Fm" }]]);
    const { passage: made, under: told } = under(passage, { voicing: "open" });
    expect(shapes(made)).toEqual(["6/5 5/7", minor]);
    expect(told.map(({ says }) => says)).toEqual(["No open voicing here for Fm: as written."]);
  });
});

describe("another place on the neck, another instrument", () => {
  const riff = passageOf([[stroke("0", "1/4", "5/3"), stroke("1/4", "1/4", "5/5"), stroke("1/2", "1/4", "4/2"), stroke("3/4", "1/4", "4/5")]]);
  it("about a fret: the same pitches, the index there", () => {
    for (const near of [7, 8, 9]) {
      const { passage } = under(riff, { near });
      expect(pitchesOf(passage)).toEqual(pitchesOf(riff));
      for (const { notes } of passage.bars[0]!.strokes) for (const { fret } of notes) expect(fret).toBeGreaterThanOrEqual(near - 2);
    }
  });
  it("about a fret: chords are voiced there, with the same tones over the same bass", () => {
    const verse = passageOf([
      { ...stroke("0", "1/2", "5/3 4/2 3/0 2/1 1/0"), chord: "C" },
      { ...stroke("1/2", "1/2", "5/0 4/2 3/2 2/1 1/0"), chord: "Am" },
    ]);
    const { passage } = under(verse, { near: 7 });
    expect(classesOf(passage)).toEqual(classesOf(verse));
    for (const { notes } of passage.bars[0]!.strokes) expect(Math.abs(Math.min(...notes.map(({ fret }) => fret)) - 7)).toBeLessThanOrEqual(2);
  });
  it("a slurred note stays on its string", () => {
    const slurred = passageOf([[stroke("0", "1/4", "5/3"), { ...stroke("1/4", "1/4", "5/5"), notes: [{ string: 5, fret: 5, from: "hammer" as const }] }]]);
    const { passage } = under(slurred, { near: 8 });
    const [first, second] = passage.bars[0]!.strokes;
    expect(second!.notes[0]!.string).toBe(first!.notes[0]!.string);
    expect(pitchesOf(passage)).toEqual(pitchesOf(slurred));
  });
  it("a lower sixth string: the pitches stay, its frets go up by two, the other strings stay", () => {
    const power = passageOf([[stroke("0", "1/2", "6/3 5/5"), stroke("1/2", "1/2", "6/0")]]);
    const { passage } = under(power, { instrument: { ...power.instrument, tuning: [...power.instrument.tuning.slice(0, 5), "D2"] } });
    expect(shapes(passage)).toEqual(["6/5 5/5", "6/2"]);
  });
  it("what is not on an instrument is told and stays as written", () => {
    const high = passageOf([stroke("0", "1/2", "5/3"), stroke("1/2", "1/2", "1/12")]);
    const { passage, under: told } = under(high, { instrument: { ...instrument("bass"), frets: 12 } });
    expect(passage.instrument).toEqual(high.instrument);
    expect(told[0]!.says).toMatch(/^Not every pitch/);
  });
});

it("another player and another gain are taken, and a rule goes by them", () => {
  const riff = passageOf([[stroke("0", "1/2", "5/3"), stroke("1/2", "1/2", "5/5")]]);
  const made = treated(riff, { conditions: { player: { playsWith: "fingers", damps: "picking" }, gain: "high" }, rules: [], overrides: {} }).passage;
  expect(made).toMatchObject({ gain: "high", player: { playsWith: "fingers", damps: "picking" } });
});

it("making it the main one writes the conditions, and the way back is a treatment, or undo where other places cannot be named", () => {
  const base = passageOf([[stroke("0", "1/2", "5/3"), stroke("1/2", "1/2", "5/5")]]);
  for (const [conditions, isKept] of [
    [{ gain: "high" }, true],
    [{ player: { playsWith: "fingers" } }, true],
    [{ near: 8 }, false],
  ] as const) {
    const passage: Passage = { ...base, treatments: [{ id: "t", name: "other", rules: [], overrides: {}, conditions }] };
    const promoted = produce(passage, (draft) => void applyEdit(draft as Passage, { kind: "promote-treatment", id: "t" }));
    expect(promoted.player.playsWith).toBe("player" in conditions ? "fingers" : base.player.playsWith);
    if ("near" in conditions) expect(promoted.bars[0]!.strokes[0]!.notes[0]!.string).toBe(6);
    const again = treated(promoted, promoted.treatments![0]!).passage;
    if (isKept) expect([again.player, settingsOf(again).gain]).toEqual([base.player, settingsOf(base).gain]);
    else expect(promoted.treatments![0]!.conditions).toEqual(conditions);
  }
});

it("differences say where a chord lies now", () => {
  const verse = passageOf([[{ ...stroke("0", "1", "5/3 4/2 3/0 2/1 1/0"), chord: "C" }]]);
  const [found] = differences(verse, under(verse, { voicing: "closed" }).passage);
  expect(found!.says).toMatch(/^frets .* on strings .* instead of frets 3 2 0 1 0 on strings 5 4 3 2 1$/);
});

it("a stroke that has one of its strings twice is part of its chord, not all of it", () => {
  const verse = passageOf([
    [
      { ...stroke("0", "1/2", "3/0 2/1 1/0"), chord: "C" },
      { ...stroke("1/2", "1/2", "3/0 2/1"), chord: "C" },
    ],
  ]);
  const [again] = verse.bars[0]!.strokes[1]!.notes;
  verse.bars[0]!.strokes[1]!.notes.push({ ...again! });
  const { passage } = under(verse, { voicing: "closed" });
  expect(passage.bars[0]!.strokes[1]!.notes.every(({ fret }) => fret > 0)).toBe(true);
});

it("over any passage: pitches stay on the neck and the same, a document comes out, and the passage given is as it was", () => {
  const conditions: fc.Arbitrary<Conditions> = fc.oneof(
    fc.constant<Conditions>({ voicing: "open" }),
    fc.constant<Conditions>({ voicing: "closed" }),
    fc.integer({ min: 1, max: 15 }).map((near): Conditions => ({ near })),
  );
  fc.assert(
    fc.property(anyPassage(), conditions, (passage, own) => {
      const before = JSON.stringify(passage);
      const made = under(passage, own).passage;
      expect(JSON.stringify(passage)).toBe(before);
      const parsed = parsePassage(JSON.parse(JSON.stringify(made)));
      expect(parsed.ok ? [] : parsed.faults).toEqual([]);
      const highest = ({ bars }: Passage) => Math.max(0, ...bars.flatMap(({ strokes }) => strokes.flatMap(({ notes }) => notes.map(({ fret }) => fret))));
      expect(highest(made)).toBeLessThanOrEqual(Math.max(lastFret(made.instrument), highest(passage)));
      if (own.near !== undefined && !harmonyOf(passage.bars).some(isChord)) expect(pitchesOf(made)).toEqual(pitchesOf(passage));
    }),
    { numRuns: 60 },
  );
});

it("every demo, open and closed, asks for nothing that no hand can hold", () => {
  for (const passage of demoPassages())
    for (const voicing of ["open", "closed"] as const) {
      const [was, is] = [passage, under(passage, { voicing }).passage].map((one) => planPassage(one, { why: "nothing" }).issues.length);
      expect(is, `${passage.title}, ${voicing}`).toBeLessThanOrEqual(was!);
    }
});
