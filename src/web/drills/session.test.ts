import { describe, expect, it } from "vitest";
import { drillsOf } from "../../core/drills/drills.ts";
import { wholePlan } from "../../core/engine.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { begun, drillOn, endOf, nextDrill, outcomesOf, outcomeWords, type Session, tried, wentOn } from "./session.ts";

const passage = demoPassages()[1]!;
const session = begun(drillsOf(wholePlan(passage, { why: "nothing" }), passage, [], 10));
const again = (from: Session, times: number, clean: boolean) => Array.from({ length: times }).reduce<Session>((now) => tried(now, clean, 1), from);

describe("a session", () => {
  it("begins with its first drill at its first tempo, and goes through all of them to the end", () => {
    expect(session.rung.tempo).toBe(session.drills[0]!.tempo.start);
    let now = session;
    for (const drill of session.drills) {
      expect(drillOn(now)).toBe(drill);
      now = nextDrill(now);
    }
    expect(drillOn(now)).toBeNull();
    expect(endOf(now)).toBeNull();
    expect(tried(now, true, 1)).toBe(now);
  });
  it("a drill ends when its goal is clean often enough, or its minutes are over", () => {
    expect(endOf(session)).toBeNull();
    expect(endOf(again(session, 300, true))).toBe("goal");
    expect(endOf(wentOn(session, 60 * session.drills[0]!.minutes - 1))).toBeNull();
    expect(endOf(wentOn(session, 60 * session.drills[0]!.minutes))).toBe("time");
  });
  it("says what came of each drill", () => {
    const now = again(again(session, 5, true), 2, false);
    const [first, second] = outcomesOf(now);
    expect(first).toMatchObject({ tries: 7, clean: 5 });
    expect(outcomeWords(first!)).toMatch(/^5 of 7 clean, up to \d+ of \d+$/);
    expect(outcomeWords(second!)).toBe("not tried");
    expect(outcomeWords(outcomesOf(again(session, 2, false))[0]!)).toBe("0 of 2 clean: slower next time");
  });
});
