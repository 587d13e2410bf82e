import { describe, expect, it } from "vitest";
import { YARDSTICK } from "../../benchmarks/yardstick/passages.ts";
import { documentOf, planPassage, planStages } from "../engine.ts";
import { EngineCache } from "../engine-cache.ts";
import { parsePassage } from "../passage/parse.ts";
import { line, passageOf, plan, type Setting, stroke } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { glanceOf } from "../words/actions.ts";
import { wordsIn } from "../words/figures.ts";

const CHORD = "5/3~3 4/2~2 3/0 2/1~1 1/0";
const says = (p: ReturnType<typeof plan>) => p.steps.map(({ fretting, picking }) => `${fretting} | ${picking}`);

/** What the fretting hand is told in the bars behind the first one, before and after the first is another. */
function toldBehind(first: string[], edited: string[], behind: string[][], setting: Setting): [before: string[], after: string[]] {
  const bars = (words: string[]) =>
    passageOf(
      [words, ...behind].map((bar) => line(8, bar)),
      setting,
    );
  const before = bars(first);
  const after = { ...before, bars: [bars(edited).bars[0]!, ...before.bars.slice(1)] };
  const cache = new EngineCache();
  const told = [before, after].map((passage) => documentOf(passage, planStages(passage, cache), { cache }).steps);
  expect(told[1]).toEqual(planPassage(structuredClone(after), { why: "nothing" }).steps);
  const [then, now] = told.map((steps) => steps.filter(({ bar }) => bar > 1).map(({ fretting }) => fretting));
  return [then!, now!];
}

describe("sentences", () => {
  it("call a shape the same only as long as it was played before, also when the bar that had it is edited", () => {
    const behind = [
      ["5/7~3", "5/5~1", "5/3~1+4/5~3", "5/7~3"],
      ["5/3~1+4/5~3", "3/0", "4/7~3+3/7~3+2/5~1", "3/0"],
    ];
    const [before, after] = toldBehind(["5/7~1+4/9~3", "3/0", "3/0", "5/5~1+4/7~3"], ["6/0", "5/5~1", "-", "-"], behind, { tempo: 80, gain: "clean" });
    expect(before).toContain("Same shape at 3.");
    expect(after).not.toContain("Same shape at 3.");
    expect(after).toContain("Index 5 at 3, ring 4 at 5.");
    // The shape of the bar before is forgotten on the way, over steps that have nothing to do with it.
    const later = [
      ["4/7~3", "6/0", "3/0", "3/0"],
      ["6/0", "5/3~1+4/5~3", "6/0", "3/0"],
    ];
    const moved = ["6/0", "5/5~1+4/7~3", "5/7~1+4/9~3", "5/7~1+4/9~3"];
    const [then, now] = toldBehind(moved, ["5/7~3", "5/7~3", "5/7~3", "6/0"], later, { tempo: 80, gain: "edge" });
    expect([then, now].map((told) => told.includes("Same shape at 3."))).toEqual([true, false]);
  });
  it("say how a hand lies that lets go where it lay otherwise the time before, also when that time was an edit ago", () => {
    const stop = "5/3~1+4/5~3";
    const chord = "4/7~3+3/7~3+2/5~1";
    const behind = [
      ["6/0", "6/0", stop, stop],
      ["6/0", "5/7~1+4/9~3", stop, "6/0"],
    ];
    const [before, after] = toldBehind([chord, stop, "6/0", stop], [chord, chord, chord, chord], behind, { tempo: 80, gain: "high" });
    expect(before.some((told, k) => /^Let go; index over/.test(told) && after[k] === "Let go.")).toBe(true);
  });
  it("say only what changes: a finger that stays and a stroke over the same string are not said again", () => {
    const p = plan(line(8, ["5/3~1", "5/3~1", "5/5~3", "5/5~3"]), { gain: "high" });
    expect(p.steps[0]!.fretting).toMatch(/^Index 5 at 3/);
    expect(p.steps[1]!.fretting).toBe("");
    expect(p.steps[2]!.fretting).toMatch(/^Ring 5 at 5/);
    expect(p.steps[1]!.picking).toBe("Up.");
  });
  it("say a scratch in a word or two: let go, press (common practice)", () => {
    const shape = "4/7~3 3/7~3 2/5~1";
    const p = plan(
      [0, 1, 2, 3].map((k) => stroke(`${k}/16`, "1/16", shape, k % 2 === 1 ? { as: "ghost", strings: [4, 3, 2] } : {})),
      { tempo: 90 },
    );
    expect(p.steps.slice(1, 4).map((step) => step.fretting)).toEqual(["Let go.", "Press.", "Let go."]);
    expect(p.steps.slice(1, 4).map((step) => step.picking)).toEqual(["Up.", "Down.", "Up."]);
  });
  it("name a chord's fingers once, then the chord alone", () => {
    const other = "6/3~3 5/2~2 4/0 3/0 2/0 1/3~4";
    const p = plan(
      [CHORD, other, CHORD, other].map((what, k) => stroke(`${k}/4`, "1/4", what, { chord: k % 2 === 0 ? "C" : "G" })),
      { on: "acoustic", tempo: 80 },
    );
    expect(p.steps.slice(0, 4).map((step) => step.fretting)).toEqual([
      "C: ring 5 at 3, middle 4 at 2, index 2 at 1.",
      "G: ring 6 at 3, middle 5 at 2, little 1 at 3.",
      "C.",
      "G.",
    ]);
  });
  it("the fretting hand that keeps its grip through a chuck needs no words", () => {
    const p = plan([stroke("0", "1/4", CHORD), stroke("1/4", "1/8", CHORD, { as: "chuck", strings: [6, 5, 4, 3, 2, 1] }), stroke("1/2", "1/4", CHORD)], {
      on: "acoustic",
    });
    expect(p.steps[1]!).toMatchObject({ fretting: "", picking: expect.stringMatching(/^Chuck down 6 to 1, hand flat/) });
  });
  it("say an open chord that is stopped and struck again in a word: press", () => {
    const chord = "6/0 5/2 4/2 3/0 2/0 1/0";
    const p = plan(
      [0, 1, 2].map((k) => stroke(`${k}/4`, "1/8", chord)),
      { on: "acoustic", tempo: 92 },
    );
    const words = p.steps.map((step) => step.fretting);
    expect(words[1]).toMatch(/^Let go/);
    expect([words[2]!.slice(0, 5), words[3], words[4]!.slice(0, 5)]).toEqual(["Press", "Let go.", "Press"]);
    expect(words[2]).not.toContain("Index up");
  });
  it("say nothing of a finger that rolled to the next string and stays, nor of dead strokes under a barre that rests", () => {
    const rolled = plan(line(8, ["4/3~1", "3/3~1", "3/3~1", "3/3~1"]), { on: "bass", tempo: 100 });
    expect(rolled.steps.slice(2, 4).map((step) => step.fretting)).toEqual(["", ""]);
    const shape = "5/7~1 4/9~3 3/7~1 2/8~2";
    const dead = { as: "ghost" as const, strings: [5, 4, 3, 2] };
    const scratch = plan(
      [0, 1, 2, 3, 4, 5].map((k) => stroke(`${k}/16`, "1/16", shape, k === 0 || k === 4 ? {} : dead)),
      { tempo: 100, gain: "clean" },
    );
    expect(scratch.steps.slice(1, 6).map((step) => step.fretting)).toEqual(["Let go.", "", "", "Press.", "Let go."]);
  });
  it("say once what is slurred on several strings, and nothing of a finger that its pull-off took away", () => {
    const slid = plan([
      stroke("0", "1/4", "3/5~1 2/5~1"),
      stroke("1/4", "1/4", "", {
        notes: [
          { string: 3, fret: 7, finger: 1, from: "slide" },
          { string: 2, fret: 7, finger: 1, from: "slide" },
        ],
      }),
    ]);
    expect(slid.steps[1]!.fretting).toBe("Slide index 2, 3 at 7.");
    const pulled = plan([stroke("0", "1/8", "5/3~1"), stroke("1/8", "1/8", "", { notes: [{ string: 5, fret: 0, from: "pull" }] })], { gain: "high" });
    expect(pulled.steps[1]!.fretting).toMatch(/^Pull off, index from 5/);
    expect(pulled.steps[1]!.fretting).not.toMatch(/let go|off;|off\./);
  });
  it("say of a finger that leaves the strings that it is off, not that it lets go as well; of an index, where it goes", () => {
    const two = [line(8, ["5/0", "4/2", "3/2", "2/1", "1/0", "2/1", "3/2", "4/2"]), line(8, ["6/3", "4/0", "3/0", "2/0", "1/3", "2/0", "3/0", "4/0"])];
    const change = plan(two, { on: "electric", gain: "clean", tempo: 70 }).steps.find(({ bar }) => bar === 2)!;
    expect(change.fretting).toMatch(/middle off/);
    expect(change.fretting).toMatch(/index now over 5/);
    expect(change.fretting).not.toMatch(/let go|index off/);
  });
  it("say nothing of fingertips through the chucks of a chord with an open bass string", () => {
    const Dm = "4/0 3/2~2 2/3~3 1/1~1";
    const chuck = { as: "chuck" as const, strings: [6, 5, 4, 3, 2, 1] };
    const bar = [
      stroke("0", "1/8", Dm),
      stroke("1/8", "1/8", Dm, chuck),
      stroke("1/4", "1/8", "3/2~2 2/3~3 1/1~1", { stroke: "up" }),
      stroke("3/8", "1/8", Dm),
    ];
    for (const { fretting } of plan(bar, { on: "acoustic", tempo: 92, player: { chuck: "flat-hand" } }).steps) expect(fretting).not.toMatch(/tip (on|off)/);
  });
  it("say once that a thumb on the bass strings goes along with the pick, over a line and over a chord that rings", () => {
    const run = line(8, ["5/5~1", "5/7~3", "4/5~1", "4/7~3", "3/5~1", "3/7~3", "2/5~1", "2/8~4"]);
    const chord = line(8, ["5/0", "4/2", "3/2", "2/1", "1/0", "2/1", "3/2", "4/2"]);
    for (const music of [run, chord]) {
      const said = plan(music, { gain: "clean", player: { pickHand: "thumb" } }).steps.map(({ picking }) => picking);
      expect(said.filter((text) => /thumb/i.test(text))).toEqual([expect.stringContaining("thumb follows close over 6")]);
      expect(said.join()).not.toMatch(/palm/i);
    }
  });
  it("take no palm off that nobody put on: until one is spoken of it follows lines, not chords nor the notes of one", () => {
    const strummed = [stroke("0", "1/4", CHORD), stroke("1/4", "1/4", "3/0 2/1~1 1/0", { stroke: "up" })];
    const broken = line(8, ["5/3", "4/2", "3/0", "2/1", "1/0", "2/1", "3/0", "4/2"]);
    for (const music of [strummed, broken])
      for (const { picking } of plan(music, { on: "acoustic", gain: "clean", tempo: 80 }).steps) expect(picking).not.toMatch(/palm off/i);
  });
  it("name plucking fingers with their strings, a pinch in full", () => {
    const p = plan([stroke("0", "1/4", "4/3", { stroke: "i" }), stroke("1/4", "1/4", "4/3", { stroke: "m" })], { on: "bass" });
    expect(p.steps.map((step) => step.picking.split(";")[0]!.replace(".", ""))).toEqual(expect.arrayContaining(["Index 4", "Middle 4"]));
    const pinch = plan([stroke("0", "1/2", "5/3 3/0 2/1 1/0")], { on: "nylon" });
    expect(pinch.steps[0]!.picking).toMatch(/^Thumb 5, index 3, middle 2, ring 1/);
  });
  it("a finger that waits behind one that lets go under a tap is not said to press: it never left (common practice)", () => {
    const slur = (k: number, fret: number, from: "tap" | "pull" | "hammer") => stroke(`${k}/16`, "1/16", "", { notes: [{ string: 2, fret, from }] });
    const p = plan([0, 3, 6].flatMap((k) => [slur(k, 12, "tap"), slur(k + 1, 5, "pull"), slur(k + 2, 8, "hammer")]));
    for (const k of [3, 6]) {
      expect(p.steps[k]!.fretting).toBe("Little lets go; tap middle 2 at 12.");
      expect(p.steps[k + 1]!.fretting).toBe("Pull off to index 2 at 5.");
      expect(p.steps[k + 2]!.fretting).toBe("Hammer little 2 at 8.");
    }
  });
  it("say bends, their way back, vibrato, slurs, taps and open pull-offs", () => {
    const p = plan([
      stroke("0", "1/4", "", { notes: [{ string: 3, fret: 7, finger: 3, bend: { by: 2, then: "release" } }] }),
      stroke("1/4", "1/4", "", { notes: [{ string: 2, fret: 8, finger: 3, bend: 1, vibrato: true }] }),
      stroke("1/2", "1/8", "3/5~1"),
      stroke("5/8", "1/8", "", { notes: [{ string: 3, fret: 7, finger: 3, from: "hammer" }] }),
      stroke("3/4", "1/8", "", { notes: [{ string: 3, fret: 0, from: "pull" }] }),
    ]);
    const all = says(p).join(" ");
    for (const what of [/bend up a tone/, /[Ll]et ring 3 at 7 back/, /bend up a semitone/, /vibrato/, /[Hh]ammer ring 3 at 7/, /[Pp]ull off, ring from 3/])
      expect(all).toMatch(what);
    const tapped = plan([stroke("0", "1/4", "", { stroke: "none", notes: [{ string: 2, fret: 12, from: "tap" }] })]);
    expect(tapped.steps[0]!.fretting).toMatch(/tap middle 2 at 12/i);
  });
  it("speak of no hand's side and of no codes", () => {
    for (const passage of demoPassages())
      for (const step of planPassage(passage).steps)
        expect(`${step.fretting} ${step.picking}`).not.toMatch(/\b(left|right|above|below \w|undefined|heel|underside|ease|spare)\b/);
  });
  it("use at most six words a step over the yardstick, on average", () => {
    const steps = YARDSTICK.flatMap((input) => {
      const read = parsePassage(input);
      if (!read.ok) throw new Error(read.faults[0]!.says);
      return planPassage(read.value, { why: "nothing" }).steps;
    });
    const words = steps.reduce((sum, { fretting, picking }) => sum + wordsIn(`${fretting} ${picking}`), 0);
    expect(words / steps.length).toBeLessThanOrEqual(6);
  });
  it("are six words or fewer a hand at a glance, for nine in ten steps of the demos", () => {
    const steps = demoPassages().flatMap((passage) => planPassage(passage, { why: "nothing" }).steps);
    const short = steps.filter(({ actions }) => (["fretting", "picking"] as const).every((hand) => wordsIn(glanceOf(actions, hand)) <= 6));
    expect(short.length / steps.length).toBeGreaterThanOrEqual(0.9);
  });
});
