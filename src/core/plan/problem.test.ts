import { describe, expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { somePassages } from "../test/any-passage.ts";
import { line, passageOf } from "../test/build.ts";
import { randomPassage } from "../test/random-passages.ts";
import { SPEAK_MS } from "./problem.ts";

/** Places are rounded to thousandths of a ms, and so is all that lies between them. */
const ROUNDED_MS = 0.02;

describe("what time the hands have", () => {
  it("is what the clock says between the places at which they are asked for something", () => {
    const passages = [...Array.from({ length: 40 }, (_, i) => randomPassage(i + 1, 8)), ...somePassages(11, 40, { bars: 3, strokes: 5, notes: 3, extras: 2 })];
    let compared = 0;
    for (const passage of passages) {
      const { problem, timeline, fingering } = planStages(passage);
      const firstOf = problem.steps.map((_, k) => problem.stepOf.indexOf(k));
      const presses = fingering.hands.map((hand) => hand.presses.length > 0);
      for (const [k, step] of problem.steps.entries()) {
        if (k === 0) continue;
        const [was, is] = [firstOf[k - 1]!, firstOf[k]!];
        const near = (what: string, value: number, by: number) => {
          if (value === by) return;
          expect(Math.abs(value - by), `${passage.title}: ${what} at step ${is}: ${value}, by the clock ${by}`).toBeLessThan(ROUNDED_MS);
        };
        const begins = timeline.steps[is]!.ms;
        const began = timeline.steps[was]!.ms;
        near("time for a move", step.haveMs, Math.max(1, begins - began - (timeline.steps[was]!.stroke ? SPEAK_MS : 0)));
        const pressed = presses.lastIndexOf(true, is - 1);
        const letGo = pressed < 0 ? 0 : timeline.steps[pressed]!.ms + timeline.steps[pressed]!.lengthMs;
        near("idle fretting hand", step.frettingIdleMs, Math.max(0, began - letGo));
        const struck = timeline.steps.slice(0, is).findLastIndex(({ stroke }) => stroke !== null);
        near("idle picking hand", step.pickingIdleMs, Math.max(0, began - (struck < 0 ? 0 : timeline.steps[struck]!.ms + SPEAK_MS)));
        const next = presses.indexOf(true, is);
        near("until a finger presses", step.untilPressMs, next < 0 ? Number.POSITIVE_INFINITY : timeline.steps[next]!.ms - begins);
        compared++;
      }
    }
    expect(compared).toBeGreaterThan(300);
  });
  it("is the same at every step of a steady line", () => {
    const bar = line(
      16,
      Array.from({ length: 16 }, (_, i) => `6/${3 + (i % 2)}`),
    );
    const { problem } = planStages(passageOf([bar, bar, bar], { tempo: 92 }));
    expect(new Set(problem.steps.slice(1).map(({ haveMs }) => haveMs))).toEqual(new Set([113.043]));
  });
});
