import { describe, expect, it } from "vitest";
import type { Stray } from "./document/plan.ts";
import { finished, planStages, refinger } from "./engine.ts";
import { moveEffort } from "./plan/moves.ts";
import { candidatesFor } from "./remedies/candidates.ts";
import { at, line, parts, passageOf, plan, type Setting, stroke } from "./test/build.ts";
import { outcomesOf, straysOf } from "./verdict/verdict.ts";

/*
 * Plans that are optimal on paper and silly in the hands (common practice): each with a passage in
 * which a walk that only looks at the moment, or a cost without the rule, falls into it.
 */
describe("silly plans the engine must not make", () => {
  it("killing the bloom of an acoustic chord", () => {
    const p = plan([stroke("0", "1/4", "6/3 5/2 4/0 3/0 2/0 1/3"), stroke("1/4", "1/8", "1/3"), stroke("3/8", "1/8", "2/0"), stroke("1/2", "1/4", "1/3")], {
      on: "acoustic",
      ring: "bloom",
    });
    for (const place of ["1/4", "3/8", "1/2"]) for (const s of [3, 4, 5, 6]) expect(parts(at(p, 1, place, s)), `string ${s} at ${place}`).toBe("");
  });

  it("the palm fluttering off for a single eighth and back where a fingertip will do", () => {
    const music = line(8, ["6/0p", "6/0p", "4/5", "6/0p", "6/0p", "4/7", "6/0p", "6/0p"]);
    const p = plan(music, { gain: "high", tempo: 110 });
    expect(p.counts.palmLiftsPerBar).toBe(0);
    for (const place of ["1/4", "5/8"]) expect(parts(at(p, 1, place, 5))).toContain("tip");
    // Whoever looks at the open note alone finds the hand in the air cheapest to hold.
    const passage = passageOf(music, { gain: "high", tempo: 110 });
    const open = planStages(passage).problem.steps[2]!.picking;
    const cheapest = open.reduce((best, shape) => (shape.hold < best.hold ? shape : best));
    expect(cheapest.posture.at.kind).not.toBe("palm");
  });

  it("identical bars planned differently", () => {
    const bar = line(8, ["6/0p", "5/2", "6/0p", "4/2", "6/3", "5/5", "6/0p", "5/2"]);
    const p = plan([bar, bar, bar, bar, bar], { gain: "high", tempo: 120 });
    const inBar = (n: number) => p.steps.filter((s) => s.bar === n).map((s) => s.strings.map((x) => `${x.state}${parts(x)}`));
    expect(inBar(3)).toEqual(inBar(2));
    expect(inBar(4)).toEqual(inBar(2));
  });

  it("refingering that loses the open strings: some ring is rather left than an open string's sound given up", () => {
    const setting: Setting = { gain: "high", tempo: 80 };
    const written = passageOf(line(8, ["4/3", "5/4", "2/2", "5/2", "6/5", "2/4", "6/4", "2/0"]), setting);
    // The open B on string 3 at fret 4 instead: less would ring.
    const fretted = passageOf(line(8, ["4/3", "5/4", "2/2", "5/2", "6/5", "2/4", "6/4", "3/4"]), setting);
    expect(planStages(written).path.cost.stray).toBeGreaterThan(planStages(fretted).path.cost.stray);
    expect(finished(refinger(written)).passage.bars[0]!.strokes[7]!.notes).toMatchObject([{ string: 2, fret: 0 }]);
  });

  it("flipping the direction a groove lives on for a few dB: tried last, and only for what is as loud as the notes", () => {
    const passage = passageOf(line(8, ["6/0p", "4/0", "6/0", "2/0", "3/0", "1/0", "5/0", "2/0"]), { gain: "high", tempo: 170, player: { damps: "picking" } });
    const planned = planStages(passage);
    const strays = straysOf(planned, outcomesOf(planned));
    const tried = strays.flatMap((stray) => candidatesFor(passage, planned, stray));
    const turned = tried.filter((c) => c.patch.some((op) => op.path.endsWith("/stroke")));
    expect(turned.length).toBeGreaterThan(0);
    for (const { price } of turned)
      expect(price).toBeGreaterThan(Math.max(...tried.filter((c) => c.kind === "finger" || c.kind === "barre").map((c) => c.price), 8));
  });

  it("shortening the melody or the bass to save an inner voice: a ms of them costs twice what one of an inner voice does", () => {
    const passage = passageOf([stroke("0", "1/2", "5/3~3 3/0 2/1~1"), stroke("1/2", "1/2", "6/3~4")], { gain: "high", player: { index: "arched" } });
    const ring: Stray = { string: 5, fromBar: 1, fromAt: "1/2", toBar: 1, toAt: "1", cause: "carry-over", db: 20 };
    // A thirty-second against a sixty-fourth: as many ms more on every string.
    const more = (string: number) => {
      const found = candidatesFor(passage, planStages(passage), ring).filter((c) => c.kind === "shorten" && c.what.includes(`on string ${string} `));
      expect(found.slice(0, 2).map(({ choice }) => choice)).toEqual(["a sixty-fourth", "a thirty-second"]);
      return found[1]!.price - found[0]!.price;
    };
    expect(more(5)).toBeCloseTo(2 * more(3), 6);
    expect(more(2)).toBeCloseTo(2 * more(3), 6);
  });

  it("every move at the edge of its time: above 70% of it a move gets dearer and dearer", () => {
    const move = [{ kind: "palmLand" as const, takesMs: 70, more: null, needMs: 70, effort: 12 }];
    const easy = moveEffort(move, 200);
    expect(moveEffort(move, 100)).toBe(easy);
    const tight = moveEffort(move, 85);
    const tighter = moveEffort(move, 72);
    expect(tight).toBeGreaterThan(easy);
    expect(tighter - tight).toBeGreaterThan(0);
    expect(tighter).toBeGreaterThan(1.9 * easy);
  });

  it("a contortion to win 1 dB: under 3 dB nobody stirs", () => {
    // A popped string shakes the others by little under clean gain: over what is heard, by less than 3 dB.
    const popped = plan([stroke("0", "1/2", "1/12", { stroke: "pop" })], { gain: "clean", player: { playsWith: "slap", index: "arched" } });
    const soft = popped.steps[0]!.strings.filter((s) => s.undampedDb !== null && s.undampedDb > 0 && s.undampedDb < 3);
    expect(soft.map((s) => [parts(s), s.state])).toEqual(soft.map(() => ["", "still"]));
    expect(soft.length).toBeGreaterThan(0);
  });

  it("damping the final chord", () => {
    const p = plan([stroke("0", "1/4", "6/3 5/5 4/5"), stroke("1/4", "1/4", "6/5 5/7 4/7")], { gain: "high" });
    for (const s of [4, 5, 6]) expect(at(p, 1, "1/2", s).state).toBe("free");
  });

  it("stripping a second contact that costs nothing: under the laid index an eased finger stays too", () => {
    const p = plan(line(4, ["4/7~3", "5/5~1", "4/7~3", "5/5~1"]), { gain: "high" });
    expect(
      parts(at(p, 1, "1/4", 4))
        .split("+")
        .sort(),
    ).toEqual(["ease", "underside"]);
  });
});

it("a groove in which all is dead: fingers lie across every string, it is said once, and no finger moves", () => {
  // A beginner's first scratch (common practice): the hand is put down flat, and only the other one moves.
  const all = "6/0x 5/0x 4/0x 3/0x 2/0x 1/0x";
  const { steps, strays } = plan(
    line(
      8,
      [all, all, all, all].map((word) => word.replaceAll(" ", "+")),
    ),
  );
  expect(strays).toEqual([]);
  expect(steps[0]!.fretting).toMatch(/^Idle fingers on 1 to 6\.$/);
  expect(steps[0]!.fretting).not.toMatch(/index/i);
  expect(steps[0]!.picking).toMatch(/^Dead down/);
  for (const { fretting, picking } of steps.slice(1)) {
    expect(fretting).toBe("");
    expect(picking).toMatch(/^((Up|Down)\.)?$/);
  }
});

it("splitting a step where nothing changes changes no cost", () => {
  // A ghost stroke's written end makes a step of its own; nothing is meant to change there.
  const cost = (length: string) => {
    const passage = passageOf([stroke("0", "1/8", "5/3~1 4/5~3"), { at: "1/8", length, as: "ghost", strings: [5, 4] }, stroke("1/2", "1/4", "5/3~1 4/5~3")], {
      gain: "high",
    });
    const { problem, path, timeline } = planStages(passage);
    return { cost: path.cost, steps: problem.steps.length, timeline: timeline.steps.length };
  };
  const whole = cost("3/8");
  const split = cost("1/8");
  expect(split.timeline).toBe(whole.timeline + 1);
  expect(split.cost).toEqual(whole.cost);
});
