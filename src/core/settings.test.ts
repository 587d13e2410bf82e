import { describe, expect, it } from "vitest";
import type { PlanDocument } from "./document/plan.ts";
import { planStages, wholePlan } from "./engine.ts";
import { type Kind, SIDE } from "./hands/parts.ts";
import type { Passage, PassageInput } from "./passage/schema.ts";
import { line, passageOf, type Setting, type StrokeInput, stroke } from "./test/build.ts";

/*
 * Every key of `player`, `gain` and `ring` changes the plan of some passage in the way its question says (common practice):
 * what changes nothing would not be a key.
 */

interface PlannedPassage extends PlanDocument {
  passage: Passage;
}

/** How often a kind of contact is taken, on these strings or on any. */
function taken({ steps }: PlanDocument, hand: Kind["hand"], part: Kind["part"], ...strings: number[]): number {
  const all = steps.flatMap((step) => step.strings.filter((s) => strings.length === 0 || strings.includes(s.string)));
  return all.filter((s) => s.touchedBy.some((t) => t.hand === hand && t.part === part)).length;
}

/** The contact is taken before and not after, or the other way round. */
const goes =
  (hand: Kind["hand"], part: Kind["part"], ...strings: number[]) =>
  (before: PlannedPassage, after: PlannedPassage) => {
    expect(taken(before, hand, part, ...strings)).toBeGreaterThan(0);
    expect(taken(after, hand, part, ...strings)).toBe(0);
  };
const comes =
  (hand: Kind["hand"], part: Kind["part"], ...strings: number[]) =>
  (before: PlannedPassage, after: PlannedPassage) =>
    goes(hand, part, ...strings)(after, before);
/** A slower move lowers the tempo up to which the hands manage. */
const slows = (before: PlannedPassage, after: PlannedPassage) => {
  expect(before.ceilingTempo).not.toBeNull();
  expect(after.ceilingTempo ?? 0).toBeLessThan(before.ceilingTempo!);
};
const rushes = (move: string) => (before: PlannedPassage, after: PlannedPassage) => {
  slows(before, after);
  expect(before.bottlenecks).toEqual([]);
  expect(new Set(after.bottlenecks.map((b) => b.move))).toEqual(new Set([move]));
};
/** What there is no time for any more is left out, and something rings for it. */
const isLeftOut = (hand: Kind["hand"], part: Kind["part"]) => (before: PlannedPassage, after: PlannedPassage) => {
  slows(before, after);
  expect(taken(after, hand, part)).toBeLessThan(taken(before, hand, part));
  expect(after.cost.stray).toBeGreaterThan(before.cost.stray);
};
/** What there is no time for any more is done in another, dearer way. */
const isDearer = (hand: Kind["hand"], part: Kind["part"]) => (before: PlannedPassage, after: PlannedPassage) => {
  expect(taken(after, hand, part)).toBeLessThan(taken(before, hand, part));
  expect(after.cost.effort).toBeGreaterThan(before.cost.effort);
};
const strokesAre = (was: string, is: string) => (before: PlannedPassage, after: PlannedPassage) => {
  const ways = ({ passage }: PlannedPassage) =>
    planStages(passage)
      .timeline.strokes.map(({ kind }) => kind[0])
      .join("");
  expect([ways(before), ways(after)]).toEqual([was, is]);
};
const reports = (code: string) => (before: PlannedPassage, after: PlannedPassage) => {
  expect(before.issues).toEqual([]);
  expect(new Set(after.issues.map((issue) => issue.code))).toEqual(new Set([code]));
};

type Player = NonNullable<PassageInput["player"]>;
const rich = "6/3 5/2 4/0 3/0 2/0 1/3";
const chucks = [stroke("0", "1/4", rich), stroke("1/4", "1/8", rich, { as: "chuck", strings: [6, 5, 4, 3, 2, 1] }), stroke("1/2", "1/4", rich)];
const muted = line(8, ["6/0p+5/2p", "6/0p+5/2p", "4/5+3/7", "6/0p+5/2p", "6/0p", "5/2", "6/0p", "5/2"]);
const melody = line(8, ["5/3", "4/5", "3/5", "2/8", "3/7", "4/7", "5/5", "6/3"]);
const openChord = line(4, ["6/3", "6/5", "5/3~3+4/2~2+2/1~1", "4/0+3/2~1+2/3~3"]);
const ghosts = Array.from({ length: 16 }, (_, i) => stroke(`${i}/16`, "1/16", "4/3~2 3/2~1 2/3~3", i % 2 === 1 ? { as: "ghost", strings: [4, 3, 2] } : {}));
const flatAndArched = line(8, ["2/3~1+1/0", "2/3~1", "2/3~1+1/0", "2/3~1", "2/3~1+1/0", "2/3~1"]);
const mutedAndOpen = line(8, ["6/0p", "6/0", "6/0p", "6/0"]);
/** The fretting hand slaps all strings between two chords. */
const slapped = [
  stroke("0", "1/8", "5/3~1 4/5~3"),
  { at: "1/8", length: "1/8", as: "ghost" as const, stroke: "none" as const, strings: [6, 5, 4, 3, 2, 1] },
  stroke("1/4", "1/8", "5/3~1 4/5~3"),
];
/** A root and a popped string two over, in turn: only the thumb over the edge can hold the root's string. */
const popped = Array.from({ length: 8 }, (_, i) => stroke(`${i}/8`, "1/8", i % 2 === 0 ? "4/3~1" : "2/3~1", { stroke: i % 2 === 0 ? "slap" : "pop" }));
const bassLine = line(8, ["4/3", "3/5", "2/5", "1/5", "2/7", "3/7", "4/5", "4/3"]);

type Case = [string, StrokeInput[], Setting, Player, (before: PlannedPassage, after: PlannedPassage) => void];

const CASES: Case[] = [
  [
    "playsWith: plucking fingers keep the palm off and come to rest on the next string",
    melody,
    { gain: "high" },
    { playsWith: "fingers" },
    (before, after) => {
      goes("picking", "palm")(before, after);
      comes("picking", "rest-stroke")(before, after);
    },
  ],
  [
    "playsWith: with thumb and nails the fingers come back to their strings",
    [stroke("0", "1/8", "6/0", { stroke: "p" }), stroke("1/8", "1/8", "1/3", { stroke: "a" }), stroke("1/4", "1/4", "1/5", { stroke: "a" })],
    { on: "nylon", player: { playsWith: "pick", damps: "picking" } },
    { playsWith: "thumb" },
    comes("picking", "plant"),
  ],
  [
    "playsWith: a slapping hand damps nothing",
    bassLine,
    { on: "bass" },
    { playsWith: "slap" },
    (before, after) => {
      const byPicking = ({ steps }: PlannedPassage) =>
        steps.flatMap((s) => s.strings.flatMap((x) => x.touchedBy.filter((t) => SIDE[t.hand] === "picking"))).length;
      expect(byPicking(before)).toBeGreaterThan(0);
      expect(byPicking(after)).toBe(0);
    },
  ],
  ["index: arched, its underside is off the strings", melody, { gain: "high" }, { index: "arched" }, goes("fretting", "underside")],
  [
    "neighbour: the palm comes right up to the note",
    openChord,
    { gain: "high" },
    { neighbour: "palm" },
    (before, after) => {
      expect(taken(after, "picking", "palm", 6)).toBeGreaterThan(taken(before, "picking", "palm", 6));
      expect(after.cost.effort).toBeLessThan(before.cost.effort);
    },
  ],
  [
    "pickHand: the thumb rests on the strings instead of the palm",
    melody,
    { gain: "high" },
    { pickHand: "thumb" },
    (before, after) => {
      goes("picking", "palm", 4)(before, after);
      comes("picking", "thumb", 4)(before, after);
    },
  ],
  ["chuck: by release, the picking hand stays out of it", chucks, { on: "acoustic" }, { chuck: "release" }, goes("picking", "heel")],
  [
    "chuck: the edge of the hand lies on the first four strings",
    chucks,
    { on: "acoustic" },
    { chuck: "edge" },
    (before, after) => {
      goes("picking", "heel", 1, 2)(before, after);
      for (const string of [3, 4, 5, 6]) expect(taken(after, "picking", "heel", string)).toBeGreaterThan(0);
    },
  ],
  ["strumPalmMute: landing with the down-stroke leaves up-strokes bare", muted, {}, { strumPalmMute: "percussive" }, reports("palm-cannot-cover")],
  ["strokes: all down", melody, { gain: "high" }, { strokes: "down" }, strokesAre("dudududu", "dddddddd")],
  ["strokes: on over a change of string", melody, { gain: "high" }, { strokes: "economy" }, strokesAre("dudududu", "dddduuuu")],
  ["strokes: free", melody, { gain: "high" }, { strokes: "free" }, strokesAre("dudududu", "dduudduu")],
  [
    "thumbOver: onto the lowest string",
    line(16, new Array(8).fill("5/0+4/2~1+3/2~2+2/5~4")),
    { gain: "high" },
    { thumbOver: "yes" },
    comes("fretting", "thumb", 6),
  ],
  ["bassThumb: anchored, it leaves the lowest string for none", bassLine, { on: "bass" }, { bassThumb: "anchored" }, goes("picking", "thumb", 2, 3)],
  ["fretWrap", line(4, ["4/5", "3/5"]), { gain: "high" }, { fretWrap: "on" }, comes("aid", "fret-wrap")],
  [
    "pullOff: lifted off, the string left behind is softer",
    [stroke("0", "1/4", "3/7p~3"), stroke("1/4", "1/4", "5/5~1")],
    { gain: "high" },
    { pullOff: "lift" },
    (before, after) => expect(after.steps[1]!.strings[2]!.undampedDb!).toBeLessThan(before.steps[1]!.strings[2]!.undampedDb! - 6),
  ],
  ["reachMm: a small hand does not reach over five frets", [stroke("0", "1/4", "6/1~1 5/5~4")], {}, { reachMm: 70 }, reports("span-too-wide")],
  ["moveMs.palmLand", mutedAndOpen, { tempo: 120 }, { moveMs: { palmLand: 160 } }, slows],
  ["moveMs.palmLift", mutedAndOpen, { tempo: 120 }, { moveMs: { palmLift: 160 } }, slows],
  ["moveMs.palmShift", line(8, ["4/5p", "5/0+6/0p", "4/5p"]), { tempo: 120 }, { moveMs: { palmShift: 400 } }, rushes("palm shift")],
  ["moveMs.release", ghosts, { tempo: 110, player: { chuck: "release" } }, { moveMs: { release: 200 } }, rushes("release")],
  ["moveMs.repress", ghosts, { tempo: 110, player: { chuck: "release" } }, { moveMs: { repress: 200 } }, rushes("re-press")],
  ["moveMs.indexFlatten", flatAndArched, { gain: "high", tempo: 100 }, { moveMs: { indexFlatten: 600 } }, isDearer("fretting", "underside")],
  ["moveMs.indexArch", flatAndArched, { gain: "high", tempo: 100 }, { moveMs: { indexArch: 600 } }, isDearer("fretting", "underside")],
  ["moveMs.lay", slapped, { tempo: 80 }, { moveMs: { lay: 900 } }, rushes("laying the hand across")],
  ["moveMs.restore", slapped, { tempo: 80 }, { moveMs: { restore: 900 } }, rushes("restoring the chord")],
  [
    "moveMs.spare: the thumb comes over the edge with it",
    popped,
    { on: "bass", tempo: 100, player: { playsWith: "slap" } },
    { moveMs: { spare: 600 } },
    isLeftOut("fretting", "thumb"),
  ],
];

const said = (passage: Passage): PlannedPassage => ({ ...wholePlan(passage), passage });

it.each(CASES)("%s", (_key, strokes, setting, player, changes) => {
  const base = passageOf(strokes, setting);
  const changed = passageOf(strokes, { ...setting, player: { ...setting.player, ...player } });
  changes(said(base), said(changed));
});

it("gain: the more of it, the more of what nobody holds is heard; ring: in bloom a chord rings on where written notes end", () => {
  const music = [...chucks.slice(0, 1), stroke("1/2", "1/4", "4/2 3/0 2/0")];
  const of = (setting: Setting) => wholePlan(passageOf(music, { on: "acoustic", ...setting }));
  const single = (setting: Setting) => wholePlan(passageOf(line(4, ["3/5", "3/5"]), { on: "acoustic", ...setting }));
  const heard = (setting: Setting) => single(setting).steps.flatMap((s) => s.strings.filter((x) => (x.undampedDb ?? -1) > 0)).length;
  const [clean, edge, high] = [heard({}), heard({ gain: "edge" }), heard({ gain: "high" })];
  expect(clean).toBeLessThanOrEqual(edge);
  expect(edge).toBeLessThan(high);
  const afterTheChord = (ring: "written" | "bloom") =>
    of({ ring })
      .steps.find((s) => s.at === "1/4")!
      .strings.map((s) => s.intent);
  expect(new Set(afterTheChord("written"))).toEqual(new Set(["quiet"]));
  expect(afterTheChord("bloom")).toContain("free");
});

it.each(["thumbTravel", "thumbTravelNext"] as const)("moveMs.%s: a thumb sent from one bass string to another two away", (key) => {
  const passage = passageOf(line(8, ["1/5", "1/7", "1/5", "1/7"]), { on: "nylon", tempo: 120 });
  const thumbOn = (string: number, from: string, to: string) => ({
    want: "demand" as const,
    string,
    from: { bar: 1, at: from },
    to: { bar: 1, at: to },
    contact: { hand: "picking" as const, part: "thumb-return" as const },
  });
  passage.pins = [thumbOn(6, "0", "1/8"), { ...thumbOn(5, "0", "1/8"), want: "ban" }, thumbOn(4, "1/8", "1/4")];
  const slow = { ...passage, player: { moveMs: { [key]: 300 } } };
  expect(wholePlan(passage).bottlenecks).toEqual([]);
  expect(wholePlan(slow).bottlenecks.map((b) => b.move)).toContain("thumb travel");
});

describe("damps: the hand that does not damp only plays", () => {
  // A run, and a ghost behind it.
  const music = [...melody.slice(0, 6), { at: "3/4", length: "1/8", as: "ghost" as const, strings: [5, 4] }];
  const hands = (damps: "both" | "fretting" | "picking") => {
    const plan = wholePlan(passageOf(music, { gain: "high", player: { damps } }));
    const used = plan.steps.flatMap((s) => s.strings.flatMap((x) => x.touchedBy.filter((t) => t.part !== "press").map((t) => t.hand)));
    return { plan, used: new Set(used) };
  };
  it("both hands share the work; each alone does all of it, ghosts too", () => {
    expect(hands("both").used).toEqual(new Set(["fretting", "picking"]));
    for (const alone of ["fretting", "picking"] as const) {
      const { plan, used } = hands(alone);
      expect(used).toEqual(new Set([alone]));
      expect(plan.cost.stray).toBeGreaterThanOrEqual(hands("both").plan.cost.stray);
    }
    const ghost = hands("picking").plan.steps.find((s) => s.at === "3/4")!.strings[4]!;
    expect(ghost.touchedBy).toContainEqual(expect.objectContaining({ hand: "picking", part: "heel" }));
  });
  it("a palm-muted tone, a chuck and what a barre covers are no damping", () => {
    const muted = wholePlan(passageOf(line(4, ["6/3p", "6/3p"]), { player: { damps: "fretting" } }));
    expect(muted.steps[0]!.strings[5]).toMatchObject({ state: "muffled", touchedBy: expect.arrayContaining([{ hand: "picking", part: "palm" }]) });
    const barre = wholePlan(passageOf(line(4, ["3/5~1+1/5~1"]), { player: { damps: "picking" } }));
    expect(barre.steps[0]!.strings[1]!.touchedBy).toEqual([{ hand: "fretting", part: "underside", finger: 1, fret: 5 }]);
  });
});

it("bassThumb on the pickup: it holds no string, ring and little finger lie on the two lowest, each on its own", () => {
  const plan = wholePlan(passageOf(line(4, ["1/5", "1/7"]), { on: "bass", player: { bassThumb: "pickup" } }));
  expect(taken(plan, "picking", "thumb")).toBe(0);
  const parked = plan.steps[1]!.strings.flatMap((s) => s.touchedBy.filter((t) => t.part === "park").map((t) => `${t.finger}${s.string}`));
  expect(parked).toEqual(["a3", "c4"]);
});
