import { describe, expect, it } from "vitest";
import { TICKS_PER_WHOLE, ticksOf } from "../../music/ticks.ts";
import { isStraight, spelled, TYPES, typesOf } from "./values.ts";

/** Names of note values and how they halve: W3C MusicXML 4.0, `note-type-value`. */
const named = (text: string) =>
  typesOf(ticksOf(text), 0).map(({ type, dots, tuplet }) => `${type}${".".repeat(dots.length)}${tuplet ? ` ${tuplet.actual}:${tuplet.normal}` : ""}`);

describe("lengths as note values", () => {
  it.each([
    ["1", ["whole"]],
    ["1/4", ["quarter"]],
    ["3/8", ["quarter."]],
    ["1/16", ["16th"]],
    ["1/12", ["eighth 3:2"]],
    ["1/6", ["quarter 3:2"]],
    ["1/24", ["16th 3:2"]],
    ["1/20", ["16th 5:4"]],
    ["1/10", ["eighth 5:4"]],
    ["1/28", ["16th 7:4"]],
    ["5/16", ["quarter", "16th"]],
    ["5/8", ["half", "eighth"]],
    ["7/8", ["half.", "eighth"]],
  ])("%s is %j", (text, expected) => {
    expect(named(text)).toEqual(expected);
  });
  it("tied together they last as long as what is written, whatever that is", () => {
    for (let ticks = 105; ticks <= 2 * TICKS_PER_WHOLE; ticks += 105) {
      const parts = typesOf(ticks, 0);
      expect(
        parts.reduce((sum, part) => sum + part.ticks, 0),
        String(ticks),
      ).toBe(ticks);
    }
  });
  it("a tuplet's notes in the time of its normal ones fill a straight value", () => {
    for (const [text, actual] of [
      ["1/12", 3],
      ["1/20", 5],
      ["1/28", 7],
    ] as const) {
      const [value] = typesOf(ticksOf(text), 0);
      expect(value!.tuplet?.actual).toBe(actual);
      expect(isStraight(value!.ticks * actual)).toBe(true);
      for (let n = 1; n < actual; n++) expect(isStraight(value!.ticks * n)).toBe(false);
    }
  });
  it("what begins inside a tuplet goes to its end first", () => {
    const rest = ticksOf("1/6") + ticksOf("1/4");
    expect(typesOf(rest, 0).map(({ type }) => type)).toEqual(["quarter", "quarter"]);
    expect(typesOf(rest, 0).map(({ tuplet }) => tuplet !== null)).toEqual([false, true]);
    expect(typesOf(rest, ticksOf("1/12")).map(({ tuplet }) => tuplet !== null)).toEqual([true, false]);
  });
  it("each value is half of the one before", () => {
    // A 256th falls between the ticks.
    const whole = TYPES.slice(0, -1);
    expect(whole.map((_, i) => named(i === 0 ? "2" : `1/${2 ** (i - 1)}`)[0])).toEqual(whole);
  });
});

it("pitches are spelled as MIDI counts them: 60 is middle C, and A4 is 69", () => {
  expect(spelled(60)).toEqual({ step: "C", alter: 0, octave: 4 });
  expect(spelled(69)).toEqual({ step: "A", alter: 0, octave: 4 });
  // The lowest strings of guitar and bass (common practice): E2 and E1.
  expect([40, 28].map(spelled)).toEqual([2, 1].map((octave) => ({ step: "E", alter: 0, octave })));
  const BASE: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
  for (let midi = 12; midi < 128; midi++) {
    const { step, alter, octave } = spelled(midi);
    expect((octave + 1) * 12 + BASE[step]! + alter).toBe(midi);
  }
});
