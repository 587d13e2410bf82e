import { expect, it } from "vitest";
import { drillsOf } from "../../core/drills/drills.ts";
import { planPassage } from "../../core/engine.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { Backings, type Render } from "./backings.ts";

const passage = demoPassages()[1]!;
const { drills } = drillsOf(planPassage(passage, { why: "nothing" }), passage, [], 20);
const played = drills.find(({ strokes, kind }) => strokes === "play" && kind === "whole")!;
const made = () => {
  const asked: { tempo: number; damping: string; string: number | null }[] = [];
  const render: Render = async ({ tempo }, { damping, string }) => {
    asked.push({ tempo, damping, string });
    return { samples: new Float32Array([tempo]), sampleRate: 44_100 };
  };
  return { asked, render };
};

it("is made once for each tempo, and there the next time", async () => {
  const { asked, render } = made();
  const backings = new Backings(
    render,
    ({ samples }) => samples[0]!,
    "picking",
    () => {},
  );
  expect(backings.under(played, { round: 0, tempo: 70 })).toBeNull();
  await Promise.resolve();
  expect(backings.under(played, { round: 1, tempo: 70 })).toBe(70);
  expect(backings.under(played, { round: 2, tempo: 73 })).toBeNull();
  expect(asked).toEqual([70, 73].map((tempo) => ({ tempo, damping: "picking", string: null })));
});
it("strings apart: one after the other, the lowest first, each made while the one before is heard", async () => {
  const { asked, render } = made();
  const backings = new Backings(
    render,
    ({ samples }) => samples[0]!,
    "apart",
    () => {},
  );
  backings.prepare(played, 70, 0);
  for (let round = 0; round < 4; round++) {
    await Promise.resolve();
    expect(backings.under(played, { round, tempo: 70 })).toBe(70);
  }
  const strings = asked.map(({ string }) => string!);
  expect(strings.length).toBeGreaterThan(2);
  expect(strings).toEqual([...strings].sort((a, b) => b - a));
});
it("nothing is made where nothing is asked for, or for a drill without strokes; what cannot be made is said", async () => {
  const { asked, render } = made();
  expect(
    new Backings(
      render,
      () => 1,
      "none",
      () => {},
    ).under(played, { round: 0, tempo: 70 }),
  ).toBeNull();
  expect(
    new Backings(
      render,
      () => 1,
      "planned",
      () => {},
    ).under({ ...played, strokes: "silent" }, { round: 0, tempo: 70 }),
  ).toBeNull();
  expect(asked).toEqual([]);
  const said = new Promise<string>((resolve) => {
    new Backings(
      () => Promise.reject(new Error("no room")),
      () => 1,
      "planned",
      resolve,
    ).prepare(played, 70, 0);
  });
  expect(await said).toBe("no room");
});
