import { describe, expect, it } from "vitest";
import { planStages } from "./engine.ts";
import { moveEffort } from "./plan/moves.ts";
import { at, line, parts, passageOf, plan, stroke } from "./test/build.ts";

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

  it("refingering that loses the open strings: what is written stays where it is written", () => {
    const p = plan(line(4, ["3/0", "2/0", "1/0", "2/0"]), { gain: "high" });
    for (const [i, string] of [3, 2, 1, 2].entries()) expect(p.steps[i]!.strings[string - 1]!.state).toBe("ring");
  });

  it("flipping the direction a groove lives on: the pendulum stays whatever would be easier to damp", () => {
    const passage = passageOf(line(16, ["6/3", "5/5", "4/5", "-", "6/3", "-", "4/5", "5/5"]), { gain: "high" });
    const { timeline } = planStages(passage);
    expect(timeline.strokes.map((s) => s.kind)).toEqual(["down", "up", "down", "down", "down", "up"]);
  });

  it("shortening the melody or the bass to save an inner voice: every written note sounds its length", () => {
    const p = plan([stroke("0", "1/2", "5/3~3"), stroke("1/8", "1/8", "3/0"), stroke("1/4", "1/8", "2/1~1"), stroke("3/8", "1/8", "3/0")], { gain: "high" });
    for (const place of ["0", "1/8", "1/4", "3/8"]) expect(at(p, 1, place, 5).state).toBe("ring");
    expect(p.cost.harm).toBe(0);
  });

  it("every move at the edge of its time: above 70% of it a move gets dearer and dearer", () => {
    const move = [{ kind: "palmLand" as const, needMs: 70, effort: 12 }];
    const easy = moveEffort(move, 200);
    expect(moveEffort(move, 100)).toBe(easy);
    const tight = moveEffort(move, 85);
    const tighter = moveEffort(move, 72);
    expect(tight).toBeGreaterThan(easy);
    expect(tighter - tight).toBeGreaterThan(0);
    expect(tighter).toBeGreaterThan(1.9 * easy);
  });

  it("a contortion to win 1 dB or 30 ms: what stays under 3 dB or 80 ms is nobody's work", () => {
    const p = plan(line(32, new Array(16).fill("6/5")), { gain: "edge", tempo: 240, player: { index: "arched" } });
    for (const step of p.steps.slice(0, 15))
      for (const s of step.strings) expect(s.state === "stray" && step.lengthMs < 40 && s.causes.every((c) => c === "jolt")).toBe(false);
    const clean = plan(line(4, new Array(4).fill("2/5")), { gain: "clean", player: { index: "arched" } });
    for (const s of clean.steps.flatMap((step) => step.strings)) if ((s.undampedDb ?? -99) < 3 && s.intent === "quiet") expect(s.state).not.toBe("stray");
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
