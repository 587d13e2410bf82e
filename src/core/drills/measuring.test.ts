import { describe, expect, it } from "vitest";
import { MOVES } from "../hands/gestures.ts";
import { playerSchema } from "../passage/schema.ts";
import { EXERCISES, measuredTimes, type Press } from "./measuring.ts";

const exercise = (id: string) => EXERCISES.find((one) => one.id === id)!;
/** A key pressed again and again: so long until it is down, so long until it is up. */
const held = (times: number, downMs: number, upMs: number, at = 0): Press[] =>
  Array.from({ length: times }, (_, k) => k * (downMs + upMs) + at).flatMap((start) => [
    { at: start + downMs, key: " ", isDown: true },
    { at: start + downMs + upMs, key: " ", isDown: false },
  ]);
const alternated = (times: number, ms: number): Press[] =>
  Array.from({ length: times }, (_, k) => ({ at: k * ms, key: k % 2 === 0 ? "f" : "g", isDown: true }));

describe("ten seconds of a move", () => {
  it("there is one for every move of the catalogue, and what it gives is a player's time", () => {
    const found = EXERCISES.flatMap((one) => Object.keys(measuredTimes(one, one.kind === "hold" ? held(9, 80, 60) : alternated(9, 150), {})!));
    expect(new Set(found)).toEqual(new Set(MOVES));
    expect(found).toHaveLength(MOVES.length);
    for (const one of EXERCISES) {
      const moveMs = measuredTimes(one, one.kind === "hold" ? held(9, 80, 60) : alternated(9, 150), {});
      expect(playerSchema.safeParse({ moveMs }).success, one.id).toBe(true);
    }
  });
  it("going down is timed from letting go to pressing, going up while it is pressed; a stumble changes nothing", () => {
    expect(measuredTimes(exercise("palm"), held(12, 90, 70), {})).toEqual({ palmLand: 90, palmLift: 70 });
    const stumbled = [...held(6, 90, 70), ...held(6, 90, 70, 6 * 160 + 900)];
    expect(measuredTimes(exercise("palm"), stumbled, {})).toEqual({ palmLand: 90, palmLift: 70 });
  });
  it("from key to key it is timed from press to press; the same key twice is none; what is further takes the rest, string by string", () => {
    const twice = alternated(12, 120).flatMap((press) => [press, { ...press, at: press.at + 30 }]);
    expect(measuredTimes(exercise("thumb"), alternated(12, 120), {})).toEqual({ thumbTravel: 120 });
    expect(measuredTimes(exercise("thumb"), twice, {})).toEqual({ thumbTravel: 90 });
    expect(measuredTimes(exercise("thumb-far"), alternated(12, 160), { moveMs: { thumbTravel: 100 } })).toEqual({ thumbTravelNext: 30 });
  });
  it("too few are no measure", () => {
    expect(measuredTimes(exercise("palm"), held(4, 90, 70), {})).toBeNull();
    expect(measuredTimes(exercise("palm-shift"), alternated(5, 90), {})).toBeNull();
    expect(measuredTimes(exercise("chord"), [], {})).toBeNull();
  });
});
