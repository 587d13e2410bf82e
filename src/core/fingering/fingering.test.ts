import { expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { line, passageOf, type Setting, stroke } from "../test/build.ts";

/* Common practice: which finger presses what, where the document names none. */

/** Per step: "finger string/fret" of everything that is pressed. */
/** What is pressed at every word; after the last one it stays down. */
const pressed = (words: string[], setting: Setting = {}, unit = 8) =>
  planStages(passageOf([line(unit, words)], setting))
    .fingering.hands.slice(0, words.length)
    .map(({ presses }) => presses.flatMap(({ finger, fret, strings }) => strings.map((string) => `${finger} ${string}/${fret}`)).join(", "));

it.each([
  ["an E minor", "5/2+4/2+6/0+3/0+2/0+1/0", "2 5/2, 3 4/2"],
  ["an A seven", "5/0+4/2+3/0+2/2+1/0", "2 4/2, 3 2/2"],
  ["the bass and top of a G", "6/3+4/0+3/0+1/3", "2 6/3, 3 1/3"],
])("two notes at one fret beside open strings are for middle and ring finger: %s", (_, chord, fingers) => {
  expect(pressed([chord], { on: "acoustic" })[0]).toBe(fingers);
});

it.each([
  ["a D", "4/0+3/2+2/3+1/2", "1 3/2, 2 1/2, 3 2/3"],
  ["a power chord", "6/5+5/7", "1 6/5, 3 5/7"],
])("more notes, or none open beside them, keep the index: %s", (_, chord, fingers) => {
  expect(pressed([chord], { on: "acoustic" })[0]).toBe(fingers);
});

it("octaves that move up keep their shape: no finger jumps to another string and fret while another is there", () => {
  for (const tempo of [80, 120])
    for (const root of [3, 5, 8]) {
      const words = [`4/${root}`, `2/${root + 2}`, `4/${root}`, `2/${root + 2}`, `4/${root + 2}`, `2/${root + 4}`, `4/${root + 2}`];
      const fingers = pressed(words, { on: "bass", tempo, player: { playsWith: "slap" } }).map((one) => one[0]);
      expect(
        fingers.slice(0, 7).map((finger, i) => (finger === "1") === (i % 2 === 0)),
        `from ${root} at ${tempo}: ${fingers}`,
      ).toEqual(new Array(7).fill(true));
    }
});

it("after a rest or an open string a finger has had time to go anywhere", () => {
  const fingers = (between: string) => pressed(["3/5", "3/8", "3/5", between, "4/2"]).filter((one) => one !== "");
  for (const between of ["-", "5/0"]) expect(fingers(between)).toEqual(["1 3/5", "4 3/8", "1 3/5", "1 4/2"]);
});

it("an open A is three fingers, not a barre that arches back over the open first string, also after one", () => {
  const open = "5/0+4/2+3/2+2/2+1/0";
  for (const before of [[], ["5/2+4/4+3/4+2/3+1/2"]])
    expect(
      pressed([...before, open], { on: "acoustic" })
        [before.length]!.split(", ")
        .sort(),
    ).toEqual(["1 4/2", "2 3/2", "3 2/2"]);
});

it("a barre under a tune is put down once: what other fingers leave free of it was there before", () => {
  const music = ["6/5+1/8", "3/5", "2/6", "1/5", "5/7+1/5", "3/5", "2/5", "1/8", "1/5"];
  const { hands } = planStages(passageOf([line(8, music)], { on: "nylon", meter: [9, 8] })).fingering;
  for (const { placed, presses } of hands.slice(2)) {
    expect(presses.some(({ finger, strings }) => finger === 1 && strings.includes(3) && strings.includes(6))).toBe(true);
    expect(placed).not.toContain(1);
  }
});

it("a slide is one finger's, up and down, whatever else is near", () => {
  for (const on of ["electric", "bass"] as const)
    for (const [from, to] of [
      [5, 7],
      [5, 9],
      [3, 4],
      [7, 5],
      [9, 3],
    ] as const) {
      const passage = passageOf([stroke("0", "1/8", `3/${from}`), stroke("1/8", "1/8", "", { notes: [{ string: 3, fret: to, from: "slide" }] })], { on });
      const [one, other] = planStages(passage).fingering.hands.map(({ presses }) => presses[0]?.finger);
      expect(one, `${on} ${from} to ${to}`).toBeDefined();
      expect(other, `${on} ${from} to ${to}`).toBe(one);
    }
});

it.each([
  ["down from a position", ["2/7", "3/7", "4/5", "4/3"], "bass"],
  ["a fret below the index", ["1/7", "1/5", "1/4"], "bass"],
  ["two frets high up between chords", ["5/5+4/7", "6/0", "4/9", "4/7"], "electric"],
] as const)("no finger goes along a string for two notes where another is there: %s", (_, words, on) => {
  const fingers = pressed([...words], { on }).filter((one) => one !== "" && !one.includes(","));
  const [last, before] = [fingers.at(-1)!, fingers.at(-2)!];
  expect(last[0], `${before}, ${last}`).not.toBe(before[0]);
});
