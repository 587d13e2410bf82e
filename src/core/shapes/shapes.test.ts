import { expect, it } from "vitest";
import { StringSet } from "../acoustics/modal.ts";
import { planStages } from "../engine.ts";
import { FREE_FRETTING, palmFrom } from "../hands/postures.ts";
import type { Passage } from "../passage/schema.ts";
import { line, passageOf, type Setting, type StrokeInput, stroke } from "../test/build.ts";
import { randomPassage } from "../test/random-passages.ts";
import { makeShape } from "./assemble.ts";
import { touched } from "./gate.ts";
import type { StepShapes } from "./shapes.ts";
import { bit, type Contact, type Shape } from "./types.ts";

/* What either hand can and cannot do in one step, whatever the plan makes of it. Common practice where nothing else is said. */

const shapesOf = (passage: Passage): readonly StepShapes[] => planStages(passage).shapes;
const shapes = (strokes: StrokeInput[], setting: Setting = {}) => shapesOf(passageOf(strokes, setting));
const contactsOf = (list: readonly Shape[], part: string): Contact[] => list.flatMap((s) => s.contacts.filter((c) => c.part === part));
const stringsOf = (list: readonly Shape[], part: string) => [...new Set(contactsOf(list, part).map((c) => c.string))].sort();
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

it("beside an anchored thumb the ring finger parks on a string between; a floating thumb has no need of it", () => {
  const parked = (bassThumb: "anchored" | "floating") =>
    stringsOf(shapes(line(4, ["1/5"]), { on: "bass", player: { playsWith: "fingers", bassThumb } })[0]!.picking.shapes, "park");
  expect(parked("anchored")).toEqual([3]);
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
  const strings = new StringSet(passageOf(line(4, ["6/0"])).instrument);
  const context = { strings, count: 6, intents: new Array(6).fill("quiet"), pressedFrets: new Array(6).fill(0) };
  const deadened = (...frets: number[]) => {
    const contacts = frets.flatMap((fret, k) => touched(context, { hand: "fretting", part: "ease" }, [2], { finger: (k + 1) as 1 | 2, fret }));
    return (makeShape(context, contacts, FREE_FRETTING, { hold: 0, perStroke: 0 }).deadens & bit(2)) !== 0;
  };
  // Partial 4 has nodes over frets 5 and 12; no partial up to the fifth has them over 7 and 12, or 5 and 9.
  expect(deadened(12)).toBe(false);
  expect(deadened(5, 12)).toBe(false);
  expect(deadened(7, 12)).toBe(true);
  expect(deadened(5, 9)).toBe(true);
  expect(deadened(3, 6)).toBe(true);
});

it("a palm of the palm school that stops short of the neighbour it could take is dearer than one that takes it", () => {
  const { shapes: all } = shapes(line(4, ["2/7"]), { player: { neighbour: "palm" } })[0]!.picking;
  const hold = (reach: number) => Math.min(...all.filter((s) => palmFrom(s.posture) === reach).map((s) => s.hold));
  expect(hold(3)).toBeLessThan(hold(4));
});

it("a ghost is dear for the picking hand, which leaves it to the fretting hand; a chuck is its own", () => {
  const heel = (as: "ghost" | "chuck") =>
    shapes([stroke("0", "1/8", "", { as, strings: [4, 3, 2] })])[0]!
      .picking.shapes.filter((s) => s.posture.at.kind === "heel")
      .map((s) => s.perStroke);
  expect(Math.min(...heel("ghost"))).toBeGreaterThan(Math.max(...heel("chuck")));
});

it("a spare finger that reaches over to the bass side costs every stroke; on the treble side it does not", () => {
  const { shapes: all } = shapes(line(4, ["3/5~1"]), { player: { index: "arched" } })[0]!.fretting;
  const spare = (test: (string: number) => boolean) => all.filter((s) => s.contacts.some((c) => c.part === "spare" && test(c.string))).map((s) => s.perStroke);
  expect(Math.min(...spare((s) => s > 3))).toBeGreaterThan(Math.max(...spare((s) => s < 3)));
});
