import { describe, expect, it } from "vitest";
import { ASSUMED, type Assumptions, byLadder, byRepetition, Learner } from "../test/learner.ts";

const LEARNERS = 200;
const GOAL = 120;

const outcomes = (assumed: Assumptions) =>
  Array.from({ length: LEARNERS }, (_, seed) => {
    const gestures = 4 + (seed % 5);
    const ladder = byLadder(new Learner(seed, gestures, GOAL, assumed), gestures, GOAL);
    return { ...ladder, repeated: byRepetition(new Learner(seed, gestures, GOAL, assumed), gestures, GOAL) };
  });

describe("the ladder, judged by a simulated learner", () => {
  const moved: [string, Assumptions][] = [
    ["as assumed", ASSUMED],
    ...(Object.keys(ASSUMED) as (keyof Assumptions)[]).flatMap((key) =>
      [0.5, 1.5].map((by): [string, Assumptions] => {
        const value = ASSUMED[key] * by;
        // Shares stay shares.
        return [`${key} ${by}`, { ...ASSUMED, [key]: key === "easy" ? Math.min(0.98, value) : value }];
      }),
    ),
  ];
  it.each(moved)("reaches the goal sooner than repeating the whole in nine of ten, %s, and holds nobody for ever", (_, assumed) => {
    const all = outcomes(assumed);
    const sooner = all.filter(({ tries, repeated }) => tries <= repeated).length;
    expect(sooner / LEARNERS).toBeGreaterThanOrEqual(0.9);
    expect(Math.max(...all.map(({ longestStay }) => longestStay))).toBeLessThan(300);
    expect(all.every(({ tries }) => tries < 6000)).toBe(true);
  });
});
