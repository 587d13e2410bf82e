import { describe, expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { isDown } from "../hands/postures.ts";
import { silenced } from "../plan/costs.ts";
import { passageOf, stroke } from "../test/build.ts";

describe("what is heard is measured against something that sounds", () => {
  it("a muted high note has a level, and once it has died away the measure is the last one that was", () => {
    // A whole note under the palm on string 1 at fret 20, while a note on string 6 ends in the middle of it.
    const passage = passageOf(
      [
        stroke("0", "1", "1/20p", {
          notes: [
            { string: 1, fret: 20, tone: "palm" },
            { string: 6, fret: 0, length: "1/2" },
          ],
        }),
      ],
      {
        gain: "high",
        tempo: 40,
      },
    );
    const { hazards, timeline } = planStages(passage);
    const [onset, later] = hazards;
    expect(timeline.steps[1]!.ms).toBe(3000);
    for (const { thresholdDb } of hazards) expect(Number.isFinite(thresholdDb)).toBe(true);
    // Nothing that is meant sounds by then but what the open string 6 has left: no measure may fall by more than that.
    expect(onset!.thresholdDb - later!.thresholdDb).toBeLessThan(60);
  });
  it("a palm on a struck string ends a chime that a lone finger over a node would leave (a second contact off the node)", () => {
    const chord = "4/12~1 3/12~2 2/12~3";
    const music = [stroke("0", "1/8", chord), stroke("1/8", "1/8", chord, { as: "ghost", strings: [4, 3, 2] })];
    const { shapes, problem } = planStages(passageOf(music, { gain: "high", player: { chuck: "release", index: "arched" } }));
    const released = shapes[1]!.fretting.shapes.find((s) => s.chimes !== 0)!;
    const palm = shapes[1]!.picking.shapes.find((s) => isDown(s.posture) && (s.damps & released.chimes) === released.chimes)!;
    const bare = shapes[1]!.picking.shapes.find((s) => s.contacts.length === 0)!;
    const step = problem.steps[1]!;
    expect(silenced(step, released, bare) & released.chimes).toBe(0);
    expect(silenced(step, released, palm) & released.chimes).toBe(released.chimes);
  });
});
