import { describe, expect, it } from "vitest";
import { StringSet } from "../acoustics/modal.ts";
import { SharedLists } from "../caching/shared-lists.ts";
import { planStages } from "../engine.ts";
import { frettingPosture, palmFrom } from "../hands/postures.ts";
import type { Passage } from "../passage/schema.ts";
import { instrument, line, passageOf, type Setting, type StrokeInput, stroke } from "../test/build.ts";
import { randomPassage } from "../test/random-passages.ts";
import { makeShape } from "./assemble.ts";
import { touched } from "./gate.ts";
import type { StepShapes } from "./shapes.ts";
import { bit, type Contact, type HandShape } from "./types.ts";

/* What either hand can and cannot do in one step, whatever the plan makes of it. Common practice where nothing else is said. */

const shapesOf = (passage: Passage): readonly StepShapes[] => planStages(passage).shapes;
const shapes = (strokes: StrokeInput[] | StrokeInput[][], setting: Setting = {}) => shapesOf(passageOf(strokes, setting));
const contactsOf = (list: readonly HandShape[], part: string): Contact[] => list.flatMap((s) => s.contacts.filter((c) => c.part === part));
const stringsOf = (list: readonly HandShape[], part: string) => [...new Set(contactsOf(list, part).map((c) => c.string))].sort();
const FINGERS: Setting = { on: "bass", player: { playsWith: "fingers" } };

it("a barre may press some of the strings it covers and merely touch those between", () => {
  const [first] = shapes(line(2, ["3/5~1+1/5~1"]));
  expect(stringsOf(first!.fretting.shapes, "underside")).toContain(2);
});

it("a barre that eases lies on every string it covers, those that others pressed among them", () => {
  const [, rest] = shapes(line(4, ["6/3~1+5/5~3+4/5~4+3/4~2+2/3~1+1/3~1", "-", "6/3~1"]));
  const byIndex = contactsOf(rest!.fretting.shapes, "ease").filter((c) => c.finger === 1);
  expect([...new Set(byIndex.map((c) => c.string))].sort()).toEqual([1, 2, 3, 4, 5, 6]);
});

it("a pick may be set back on the string it plays next, to end its note", () => {
  const [, rest] = shapes(line(4, ["3/0", "-", "3/0"]));
  expect(stringsOf(rest!.picking.shapes, "replant")).toEqual([3]);
});

it("a finger's rest stroke ends on the bass-side neighbour, a thumb's on the treble-side one", () => {
  const rests = (kind: "i" | "p", on: Setting, string: number) =>
    contactsOf(shapes([stroke("0", "1/4", `${string}/3`, { stroke: kind })], on)[0]!.picking.shapes, "rest-stroke");
  const nylon: Setting = { on: "nylon" };
  for (const [kind, on, played, rest] of [
    ["i", FINGERS, 2, 3],
    ["p", FINGERS, 3, 2],
    ["i", nylon, 3, 4],
    ["p", nylon, 5, 4],
  ] as const) {
    const found = rests(kind, on, played);
    expect(found.length, `${kind} on ${played}`).toBeGreaterThan(0);
    for (const c of found) expect([c.string, c.finger]).toEqual([rest, kind]);
  }
});

it("beside an anchored thumb ring and little finger park on strings between, each on its own; a floating thumb has no need of them", () => {
  const parked = (bassThumb: "anchored" | "floating") =>
    stringsOf(shapes(line(4, ["1/5"]), { on: "bass", player: { playsWith: "fingers", bassThumb } })[0]!.picking.shapes, "park");
  expect(parked("anchored")).toEqual([2, 3]);
  expect(parked("floating")).toEqual([]);
});

it("a thumb that plucks does not lie back on another string, only its back touches the next one", () => {
  const [plucking] = shapes([stroke("0", "1/4", "5/3", { stroke: "p" })], { on: "nylon" });
  expect(stringsOf(plucking!.picking.shapes, "thumb-return")).toEqual([]);
  expect(stringsOf(plucking!.picking.shapes, "thumb")).toEqual([6]);
});

it("never lies on the live part of a string that rings, may ring or is palm-muted", () => {
  for (let seed = 0; seed < 150; seed++) {
    const passage = randomPassage(seed, 5);
    const planned = planStages(passage);
    const strings = new StringSet(passage.instrument);
    planned.shapes.forEach(({ fretting }, i) => {
      const hand = planned.fingering.hands[i]!;
      for (const c of fretting.shapes.flatMap((s) => s.contacts)) {
        const intent = planned.intent[i]![c.string - 1]!;
        if (!["ring", "free", "muffled"].includes(intent)) continue;
        // Two to four together on the muffled string nearer the bridge: the bass player's muted tone.
        if (intent === "muffled" && passage.instrument.kind === "electric-bass" && c.part === "spare") continue;
        const fret = Math.max(0, ...hand.presses.filter((p) => p.strings.includes(c.string)).map((p) => p.fret));
        expect(c.touch.toMm, `${passage.title}, step ${i}, ${c.part} on ${c.string}, ${intent}`).toBeLessThanOrEqual(strings.live(c.string, fret).fromNutMm);
      }
    });
  }
});

it("two narrow contacts let a struck string chime only when both lie on nodes of one partial", () => {
  const deadenedOn = (on: "electric" | "bass", string: number) => {
    const own = instrument(on);
    const count = own.tuning.length;
    const context = {
      strings: new StringSet(own),
      count,
      intents: new Array(count).fill("quiet"),
      pressedFrets: new Array(count).fill(0),
      lists: new SharedLists(),
      settings: { gain: "high" as const, damps: "both" as const },
    };
    return (...frets: number[]) => {
      const contacts = frets.flatMap((fret, k) => touched(context, { hand: "fretting", part: "ease" }, [string], { finger: (k + 1) as 1 | 2, fret }));
      return (makeShape(context, contacts, frettingPosture({}), { hold: 0, perStroke: 0 }).deadens & bit(string)) !== 0;
    };
  };
  const deadened = deadenedOn("electric", 2);
  // No partial up to the fifth has nodes over 7 and 12, or 5 and 9.
  expect(deadened(12)).toBe(false);
  expect(deadened(7, 12)).toBe(true);
  expect(deadened(5, 9)).toBe(true);
  expect(deadened(3, 6)).toBe(true);
  // Partial n rests at every n-th part of its string: the fourth at 12 and 5, the third at 7 and 19. On a long, heavy string they are heard.
  const low = deadenedOn("bass", 4);
  expect([low(12, 5), low(7, 19)]).toEqual([false, false]);
  expect([low(7, 12), low(5, 9), low(3, 6)]).toEqual([true, true, true]);
});

it("a palm of the palm school that stops short of the neighbour it could take is dearer than one that takes it", () => {
  const { shapes: all } = shapes(line(4, ["2/7"]), { player: { neighbour: "palm" } })[0]!.picking;
  const stroke = (reach: number) => Math.min(...all.filter((s) => s.posture.at.kind === "follow" && palmFrom(s.posture) === reach).map((s) => s.perStroke));
  expect(stroke(3)).toBeLessThan(stroke(4));
});

it("a ghost is the fretting hand's, unless that hand only presses; a chuck is the picking hand's", () => {
  const heels = (as: "ghost" | "chuck", damps: "both" | "picking") =>
    shapes([stroke("0", "1/8", "", { as, strings: [4, 3, 2] })], { player: { damps } })[0]!.picking.shapes.filter((s) => s.posture.at.kind === "heel").length;
  expect(heels("ghost", "both")).toBe(0);
  expect(heels("ghost", "picking")).toBeGreaterThan(0);
  expect(heels("chuck", "both")).toBeGreaterThan(0);
});

it("the edge of the picking thumb has the string just left, on a down-stroke alone", () => {
  const edge = (kind: "down" | "up") => stringsOf(shapes([stroke("0", "1/4", "3/5", { stroke: kind })])[0]!.picking.shapes, "thumb-edge");
  expect(edge("down")).toEqual([4]);
  expect(edge("up")).toEqual([]);
});

it("curled fingers of the picking hand reach the treble strings while the pick is two strings away", () => {
  const curled = (word: string) => stringsOf(shapes(line(4, [word]))[0]!.picking.shapes, "spare");
  expect(curled("5/3")).toEqual([1, 2, 3]);
  expect(curled("3/5")).toEqual([1]);
  expect(curled("2/5")).toEqual([]);
});

describe("contortions", () => {
  it.each(["laid", "arched"] as const)("no idle finger reaches past the grip to the bass side, or across a string that sounds (%s)", (index) => {
    const { fretting } = shapes([stroke("0", "1/2", "4/5~1 3/7~3 2/0")], { player: { index } })[0]!;
    expect(stringsOf(fretting.shapes, "spare").filter((s) => s > 4 || s === 1)).toEqual([]);
    expect(fretting.refusals).toContainEqual(expect.objectContaining({ part: "spare", string: 6, code: "contortion" }));
    expect(fretting.refusals).toContainEqual(expect.objectContaining({ part: "spare", string: 1, code: "contortion" }));
  });
  it("the finger that bends does nothing else", () => {
    const { fretting } = shapes([stroke("0", "1/2", "", { notes: [{ string: 3, fret: 7, finger: 3, bend: 2 }] })])[0]!;
    for (const c of fretting.shapes.flatMap((s) => s.contacts)) expect(c.finger).not.toBe(3);
    expect(fretting.refusals).toContainEqual(expect.objectContaining({ part: "flat", finger: 3, code: "contortion" }));
  });
  it("a finger that must press elsewhere before it could come back does not lie down first", () => {
    // In the next bar, so that it is in no shape with what comes before.
    const next = (tempo: number) => shapes([[stroke("15/16", "1/16", "6/3~1 5/5~3 4/4~2")], [stroke("0", "1/16", "1/6~4")]], { tempo })[0]!.fretting;
    expect(stringsOf(next(150).shapes, "spare")).toEqual([]);
    expect(next(150).refusals).toContainEqual(expect.objectContaining({ part: "spare", code: "no-time" }));
    expect(stringsOf(next(40).shapes, "spare")).not.toEqual([]);
  });
  it("one spare finger covers two strings at most, and only as many lie there as are idle", () => {
    for (const { shapes: list, presses } of [
      { ...shapes(line(2, ["6/5~1+5/7~3+4/7~4"]))[0]!.fretting, presses: [1, 3, 4] },
      { ...shapes(line(2, ["6/5~3"]), { player: { index: "arched" } })[0]!.fretting, presses: [3] },
    ]) {
      const most = Math.max(0, ...list.map((s) => s.contacts.filter((c) => c.part === "spare").length));
      expect(most).toBeGreaterThan(0);
      expect(most).toBeLessThanOrEqual(2 * (4 - presses.length));
    }
  });
});

it("the palm lies on a muted note as firmly as it is written, on an accent lightly", () => {
  const { palm } = new StringSet(instrument("electric")).rig;
  const rateOf = (note: object, accent = false) => {
    const { picking } = shapes([stroke("0", "1/4", "", { accent, notes: [{ string: 6, fret: 3, tone: "palm", ...note }] })])[0]!;
    return picking.shapes.flatMap(({ contacts }) => contacts).find((c) => c.part === "palm" && c.string === 6)!.touch.rate;
  };
  for (const mute of ["light", "medium", "choked"] as const) expect(rateOf({ mute })).toBe(palm[mute].rate);
  expect(rateOf({})).toBe(palm.medium.rate);
  expect(rateOf({}, true)).toBe(palm.light.rate);
});
