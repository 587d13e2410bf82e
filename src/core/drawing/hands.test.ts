import { XMLValidator } from "fast-xml-parser";
import { describe, expect, it } from "vitest";
import { planPassage } from "../engine.ts";
import { KINDS } from "../hands/parts.ts";
import { somePassages } from "../test/any-passage.ts";
import { line, plan, stroke } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { drawHands, handsSvg } from "./hands.ts";
import { handsLabel } from "./label.ts";
import { type Mark, type Posture, postureOf } from "./marks.ts";

const EMPTY: Posture = { count: 6, marks: [], blows: [], bends: [], states: new Array(6).fill("still"), position: 5 };
const mark = (what: Partial<Mark> & Pick<Mark, "strings">) => ({ hand: "fretting", part: "press", finger: 1, fret: 5, ...what }) as Mark;

/** Places of the drawing's shapes: x, y, width and height of what is filled or outlined. */
function boxes(svg: string, tag: "circle" | "rect"): { x: number; y: number; width: number; height: number; text: string }[] {
  return [...svg.matchAll(new RegExp(`<${tag} ([^>]*)/>`, "g"))].map(([, text = ""]) => {
    const number = (name: string) => Number(new RegExp(`(?:^| )${name}="([\\d.-]+)"`).exec(text)?.[1]);
    if (tag === "circle") return { x: number("cx"), y: number("cy"), width: 2 * number("r"), height: 2 * number("r"), text };
    return { x: number("x") + number("width") / 2, y: number("y"), width: number("width"), height: number("height"), text };
  });
}

/** Where string s is drawn: the thin lines, from the top. */
function rows(svg: string): number[] {
  const all = [...svg.matchAll(/<path d="M([\d.]+) ([\d.]+)L([\d.]+) \2"[^>]*opacity="0.55"/g)].map((m) => Number(m[2]));
  return [...new Set(all)].sort((a, b) => a - b);
}

describe("the picture of both hands", () => {
  it("a finger that presses is a filled disc on its string, one string a row; a resting one is in outline", () => {
    const svg = drawHands({ ...EMPTY, marks: [mark({ strings: [3] }), mark({ part: "ease", finger: 3, fret: 7, strings: [2] })] });
    const [disc] = boxes(svg, "circle");
    expect(disc!.y).toBe(rows(svg)[2]);
    expect(disc!.text).toMatch(/fill="#000"/);
    expect(boxes(svg, "circle")).toHaveLength(1);
    const outline = boxes(svg, "rect").filter(({ text }) => text.includes("stroke"));
    expect(outline).toHaveLength(1);
    expect(outline[0]!.y).toBeLessThan(rows(svg)[1]!);
    expect(outline[0]!.y + outline[0]!.height).toBeGreaterThan(rows(svg)[1]!);
    // Two frets further along the neck.
    expect(outline[0]!.x).toBeGreaterThan(disc!.x);
  });
  it("a finger over several strings is one bar that covers them all and no others; the index lies in one piece with what it presses", () => {
    const svg = drawHands({ ...EMPTY, marks: [mark({ strings: [5] }), mark({ part: "underside", strings: [1, 2, 3, 4] })] });
    const [bar] = boxes(svg, "rect").filter(({ text }) => text.includes("stroke"));
    const y = rows(svg);
    expect(bar!.y).toBeLessThan(y[0]!);
    expect(bar!.y + bar!.height).toBeGreaterThan(y[4]!);
    expect(bar!.y + bar!.height).toBeLessThan(y[5]!);
  });
  it("left-handers see it the other way round, and with the lowest string on top it is upside down", () => {
    const posture = {
      ...EMPTY,
      marks: [mark({ strings: [5], fret: 6 }), { hand: "picking", part: "palm", strings: [6] } as Mark],
    };
    const [usual, left, low] = [drawHands(posture), drawHands(posture, { frets: "right" }), drawHands(posture, { top: "lowest" })];
    const width = Number(/viewBox="0 0 ([\d.]+)/.exec(usual)![1]);
    expect(boxes(left, "circle")[0]!.x).toBeCloseTo(width - boxes(usual, "circle")[0]!.x, 1);
    expect(boxes(left, "rect")[0]!.x).toBeCloseTo(width - boxes(usual, "rect")[0]!.x, 1);
    expect(boxes(usual, "circle")[0]!.y).toBe(rows(usual)[4]);
    expect(boxes(low, "circle")[0]!.y).toBe(rows(low)[1]);
    // Words are never turned over.
    expect(left).not.toContain("scale(");
  });
  it("every kind of contact is seen, large and small, black on white", () => {
    for (const kind of KINDS)
      for (const size of ["large", "small"] as const) {
        const bare = drawHands(EMPTY, { size });
        const drawn = drawHands({ ...EMPTY, marks: [mark({ ...kind, strings: [4] } as Mark)] }, { size });
        expect(drawn.length, `${kind.hand} ${kind.part}`).toBeGreaterThan(bare.length);
      }
  });
  it("is five frets wide around the grip and never leaves a finger out of view; near the nut it begins there", () => {
    const numbers = (p: Posture) => [...drawHands(p).matchAll(/<text[^>]*>(\d+)<\/text>/g)].map((m) => Number(m[1])).slice(0, 5);
    expect(numbers({ ...EMPTY, position: 1, marks: [] })).toEqual([1, 2, 3, 4, 5]);
    expect(numbers({ ...EMPTY, position: 7 })).toEqual([7, 8, 9, 10, 11]);
    for (const passage of [...demoPassages(), ...somePassages(5, 40)])
      for (const step of planPassage(passage, { why: "nothing" }).steps)
        for (const size of ["large", "small"] as const) {
          const svg = handsSvg(step, { size });
          expect(XMLValidator.validate(svg)).toBe(true);
          const [, width, height] = /viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(svg)!.map(Number) as [number, number, number];
          for (const { x, y } of [...boxes(svg, "circle"), ...boxes(svg, "rect")]) {
            expect(x).toBeGreaterThanOrEqual(0);
            expect(x).toBeLessThanOrEqual(width);
            expect(y).toBeGreaterThanOrEqual(-1);
            expect(y).toBeLessThanOrEqual(height);
          }
        }
  });
  it("shows of a plan what is pressed, what lies there and which way the stroke goes", () => {
    const p = plan(line(8, ["5/3~1", "5/3~1", "5/5~3"]), { gain: "high" });
    const { marks, blows } = postureOf(p.steps[0]!);
    expect(marks).toContainEqual({ hand: "fretting", part: "press", finger: 1, fret: 3, strings: [5] });
    expect(marks).toContainEqual({ hand: "fretting", part: "underside", finger: 1, fret: 3, strings: [1, 2, 3, 4] });
    expect(blows).toEqual([{ way: "through", strings: [5], direction: "down", fingers: [], dead: [] }]);
    expect(handsLabel(p.steps[0]!)).toMatch(/index on 5 at fret 3.*index over 1 to 4/);
    const pinch = postureOf(plan([stroke("0", "1/2", "5/3 3/0 2/1 1/0")], { on: "nylon" }).steps[0]!);
    expect(pinch.blows[0]).toMatchObject({ way: "plucked", fingers: [5, 3, 2, 1].map((string, k) => ({ string, finger: "pima"[k] })) });
    const bend = postureOf(plan([stroke("0", "1/2", "", { notes: [{ string: 2, fret: 8, finger: 3, bend: 2 }] })]).steps[0]!);
    expect(bend.bends).toEqual([{ string: 2, fret: 8, towardsTreble: false }]);
  });
});
