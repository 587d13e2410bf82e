import { expect, it } from "vitest";
import { wholePlan } from "./engine.ts";
import type { Passage, PassageInput } from "./passage/schema.ts";
import { line, passageOf, type Setting, type StrokeInput, stroke } from "./test/build.ts";

/*
 * Every key of `player`, `gain` and `ring` changes the plan of some passage: what changes nothing
 * would not be a key.
 */

type Player = NonNullable<PassageInput["player"]>;
const rich = "6/3 5/2 4/0 3/0 2/0 1/3";
const chucks = [stroke("0", "1/4", rich), stroke("1/4", "1/8", rich, { as: "chuck", strings: [6, 5, 4, 3, 2, 1] }), stroke("1/2", "1/4", rich)];
const muted = line(8, ["6/0p+5/2p", "6/0p+5/2p", "4/5+3/7", "6/0p+5/2p", "6/0p", "5/2", "6/0p", "5/2"]);
const melody = line(8, ["5/3", "4/5", "3/5", "2/8", "3/7", "4/7", "5/5", "6/3"]);
const openChord = line(4, ["5/0+4/2~1+3/2~2+2/5~4", "6/3", "5/0+4/2~1+3/2~2+2/5~4", "6/3"]);
const ghosts = Array.from({ length: 16 }, (_, i) => stroke(`${i}/16`, "1/16", "4/3~2 3/2~1 2/3~3", i % 2 === 1 ? { as: "ghost", strings: [4, 3, 2] } : {}));
const flatAndArched = line(8, ["5/3~1+1/0", "5/3~1", "5/3~1+1/0", "5/3~1", "5/3~1+1/0", "5/3~1"]);
const laidGhost = [
  stroke("0", "1/8", "6/0 5/0 4/0"),
  { at: "1/8", length: "1/8", as: "ghost" as const, strings: [6, 5, 4] },
  stroke("1/4", "1/8", "6/3~2 5/2~1"),
];
const bassLine = line(8, ["4/3", "3/5", "2/5", "1/5", "2/7", "3/7", "4/5", "4/3"]);
const bassJumps = line(8, ["4/0", "1/5", "4/0", "1/7", "4/0", "2/5", "4/0", "1/4"]);

const CASES: [string, StrokeInput[], Setting, Player][] = [
  ["playsWith", melody, { gain: "high" }, { playsWith: "fingers" }],
  ["playsWith thumb", melody, { gain: "high" }, { playsWith: "thumb" }],
  ["playsWith slap", bassLine, { on: "bass" }, { playsWith: "slap" }],
  ["index", melody, { gain: "high" }, { index: "arched" }],
  ["neighbour", openChord, { gain: "high" }, { neighbour: "palm" }],
  ["pickHand", melody, { gain: "high" }, { pickHand: "thumb" }],
  ["chuck release", chucks, { on: "acoustic" }, { chuck: "release" }],
  ["chuck edge", chucks, { on: "acoustic" }, { chuck: "edge" }],
  ["strumPalmMute", muted, {}, { strumPalmMute: "percussive" }],
  ["strokes down", melody, { gain: "high" }, { strokes: "down" }],
  ["strokes economy", melody, { gain: "high" }, { strokes: "economy" }],
  ["strokes free", melody, { gain: "high" }, { strokes: "free" }],
  ["thumbOver", openChord, { gain: "high" }, { thumbOver: "yes" }],
  ["bassThumb", bassLine, { on: "bass" }, { bassThumb: "anchored" }],
  ["fretWrap", openChord, { gain: "high" }, { fretWrap: "on" }],
  ["pullOff", [stroke("0", "1/2", "3/7~3"), stroke("3/4", "1/8", "1/0")], { gain: "high", tempo: 40 }, { pullOff: "lift" }],
  ["reachMm", [stroke("0", "1/4", "6/1~1 5/5~4")], {}, { reachMm: 70 }],
  ["moveMs.palmLand", muted, { tempo: 120 }, { moveMs: { palmLand: 160 } }],
  ["moveMs.palmLift", muted, { tempo: 120 }, { moveMs: { palmLift: 160 } }],
  ["moveMs.palmShift", [...chucks.slice(0, 2), stroke("1/2", "1/4", "6/0p")], { tempo: 200 }, { moveMs: { palmShift: 400 } }],
  [
    "moveMs.release",
    line(8, ["5/5~1", "4/7~3", "5/7~1", "4/9~3", "5/5~1", "4/7~3"]),
    { tempo: 140, gain: "high", player: { index: "arched" } },
    { moveMs: { release: 200 } },
  ],
  ["moveMs.repress", ghosts, { tempo: 110, player: { chuck: "release" } }, { moveMs: { repress: 200 } }],
  ["moveMs.indexFlatten", flatAndArched, { gain: "high", tempo: 100 }, { moveMs: { indexFlatten: 600 } }],
  ["moveMs.indexArch", flatAndArched, { gain: "high", tempo: 100 }, { moveMs: { indexArch: 600 } }],
  ["moveMs.lay", laidGhost, { tempo: 80, player: { chuck: "release" } }, { moveMs: { lay: 900 } }],
  ["moveMs.restore", laidGhost, { tempo: 80, player: { chuck: "release" } }, { moveMs: { restore: 900 } }],
  [
    "moveMs.spare",
    line(8, ["1/0", "4/5~1", "1/0", "4/5~1", "1/0", "4/5~1"]),
    { on: "bass", gain: "high", tempo: 100, player: { index: "arched", playsWith: "slap" } },
    { moveMs: { spare: 600 } },
  ],
  ["moveMs.thumbTravel", bassJumps, { on: "bass", tempo: 120 }, { moveMs: { thumbTravel: 400 } }],
];

/** The plan itself and its ceiling: remedies speak of the settings anyway. */
const told = (passage: Passage) => JSON.stringify({ ...wholePlan(passage), remedies: null });

it.each(CASES)("%s", (_key, strokes, setting, player) => {
  const base = passageOf(strokes, setting);
  const changed = passageOf(strokes, { ...setting, player: { ...setting.player, ...player } });
  expect(told(changed)).not.toBe(told(base));
});

it("gain and ring", () => {
  const json = (setting: Setting) => told(passageOf([...chucks.slice(0, 1), stroke("1/2", "1/4", "4/2 3/0 2/0")], { on: "acoustic", ...setting }));
  expect(new Set([json({}), json({ gain: "edge" }), json({ gain: "high" }), json({ ring: "bloom" })]).size).toBe(4);
});

it("moveMs.thumbTravelNext: a thumb sent two strings further takes longer", () => {
  const passage = passageOf(line(8, ["4/5", "1/7", "4/5", "1/7"]), { on: "bass5", tempo: 120 });
  const thumbOn = (string: number, from: string, to: string) => ({
    want: "demand" as const,
    string,
    from: { bar: 1, at: from },
    to: { bar: 1, at: to },
    contact: { hand: "picking" as const, part: "thumb" as const },
  });
  passage.pins = [thumbOn(5, "0", "1/8"), thumbOn(3, "1/8", "1/4")];
  const slow = { ...passage, player: { moveMs: { thumbTravelNext: 300 } } };
  expect(wholePlan(passage).bottlenecks).toEqual([]);
  expect(wholePlan(slow).bottlenecks.map((b) => b.move)).toContain("thumb travel");
});
