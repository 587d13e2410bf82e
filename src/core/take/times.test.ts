import { describe, expect, it } from "vitest";
import { finished, planStages } from "../engine.ts";
import { parsePassage } from "../passage/parse.ts";
import { repeated } from "../passage/repeated.ts";
import type { Passage, Pin } from "../passage/schema.ts";
import { atTempo } from "../passage/tempo.ts";
import { NO_MISTAKES } from "../perform/mistakes.ts";
import { perform } from "../perform/perform.ts";
import { demoPassages } from "../test/demos.ts";
import { saidOf } from "./said.ts";
import { RATE } from "./spectrum.ts";
import { judgingWhole, timesIn } from "./times.ts";

const DEMOS = demoPassages();

describe("a passage over and over", () => {
  it("is one passage with its bars, grips and pins as often as that", () => {
    const pin: Pin = { want: "demand", string: 6, contact: { hand: "picking", part: "palm" }, from: { bar: 1, at: "0" }, to: { bar: 2, at: "0" } };
    const one: Passage = { ...DEMOS[0]!, pins: [pin] };
    const thrice = repeated(one, 3);
    expect(parsePassage(JSON.parse(JSON.stringify(thrice))).ok).toBe(true);
    expect(thrice.bars).toHaveLength(3 * one.bars.length);
    expect(thrice.pins!.map(({ from }) => from.bar)).toEqual([1, 1 + one.bars.length, 1 + 2 * one.bars.length]);
    expect(repeated(one, 1)).toBe(one);
  });

  it("is told from one time, from one that is slow, and from another passage before it", () => {
    for (const passage of [DEMOS[1]!, DEMOS[3]!, DEMOS[5]!]) {
      const planned = planStages(passage);
      const played = (of: typeof passage, times: number) => {
        const whole = repeated(of, times);
        return perform(whole, planStages(whole), { ...NO_MISTAKES, jitter: 8 }, 1, RATE).samples;
      };
      for (const times of [1, 2, 3]) expect(timesIn(played(passage, times), RATE, passage, planned), `${passage.title} ${times}`).toBe(times);
      expect(timesIn(played(atTempo(passage, passage.tempo * 0.55), 1), RATE, passage, planned), `${passage.title} slow`).toBe(1);
      const other = played(DEMOS[6]!, 2);
      const both = new Float32Array(other.length + played(passage, 1).length);
      both.set(other);
      both.set(played(passage, 1), other.length);
      expect(timesIn(both, RATE, passage, planned), `${passage.title} after another`).toBe(1);
    }
  });

  it("a string that rings in one of its times is named in that one, at its place in the passage", () => {
    const passage = DEMOS[1]!;
    const whole = repeated(passage, 2);
    const { samples, labels } = perform(whole, planStages(whole), { ...NO_MISTAKES, stray: 1 }, 2, RATE);
    const { of, planned, times, result } = finished(judgingWhole(samples, RATE, passage, planStages));
    if (result.kind !== "judged") throw new Error(result.kind);
    expect(times).toBe(2);
    const { wrong } = saidOf(of, planned, result, times);
    const bar = planned.timeline.steps[labels[0]!.step]!.bar;
    expect(wrong).toHaveLength(1);
    expect(wrong[0]).toMatchObject({ bar: 1 + (bar % passage.bars.length), finding: { kind: "stray", string: labels[0]!.string } });
    expect(wrong[0]!.place).toContain(bar < passage.bars.length ? "the 1st time" : "the 2nd time");
  });
});
