import { describe, expect, it } from "vitest";
import { drillsOf } from "../../core/drills/drills.ts";
import { wholePlan } from "../../core/engine.ts";
import { outcomeWords } from "../../core/practice/outcomes.ts";
import { practiceSessionSchema } from "../../core/practice/record.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { begun, cameOf, drillOn, endOf, hurt, hurtAt, isWorthKeeping, nextDrill, overruled, recordOf, type Session, tried, wentOn } from "./session.ts";

const NOW = new Date("2026-03-01T18:00:00.000Z");
const OF = { passage: null, figure: "palm", title: "Palm on and off" };
const ID = "00000000-0000-4000-9000-000000000001";
const later = (seconds: number) => new Date(NOW.getTime() + 1000 * seconds);
const passage = demoPassages()[1]!;
const session = begun(drillsOf(wholePlan(passage, { why: "nothing" }), passage, [], 10), OF, ID, NOW);
const again = (from: Session, times: number, clean: boolean) =>
  Array.from({ length: times }).reduce<Session>((now) => tried(now, clean, later(now.tries.length)), from);

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
    expect(tried(now, true, NOW)).toBe(now);
  });
  it("a drill ends when its goal is clean often enough, or its minutes are over", () => {
    expect(endOf(session)).toBeNull();
    expect(endOf(again(session, 300, true))).toBe("goal");
    expect(endOf(wentOn(session, 60 * session.drills[0]!.minutes - 1))).toBeNull();
    expect(endOf(wentOn(session, 60 * session.drills[0]!.minutes))).toBe("time");
  });
  it("says what came of each drill", () => {
    const now = again(again(session, 5, true), 2, false);
    const [first, second] = cameOf(now);
    expect(first).toMatchObject({ tries: 7, clean: 5 });
    expect(outcomeWords(first!)).toMatch(/^5 of 7 clean, up to \d+ of \d+$/);
    expect(outcomeWords(second!)).toBe("not tried");
    expect(outcomeWords(cameOf(again(session, 2, false))[0]!)).toBe("0 of 2 clean: slower next time");
  });
  it("what the microphone judged is turned round by the player, and the ladder stands as if it had been so at once", () => {
    const before = again(session, 1, true);
    const heard = tried(before, false, later(5), "microphone");
    expect(heard.tries.at(-1)).toMatchObject({ clean: false, by: "microphone" });
    const turned = overruled(heard, before.rung);
    expect(turned.tries.at(-1)).toEqual({ ...heard.tries.at(-1), clean: true, by: "player" });
    expect(turned.rung).toEqual(tried(before, true, later(5)).rung);
    expect(overruled(turned, before.rung).rung).toEqual(heard.rung);
    expect(overruled(session, session.rung)).toBe(session);
    // What was judged of the drill before stays as it is.
    const gone = nextDrill(heard);
    expect(overruled(gone, before.rung)).toBe(gone);
  });
  it("is a record that the log takes, with what was played, tried and noted of every drill", () => {
    const now = { ...wentOn(nextDrill(wentOn(again(session, 3, true), 70)), 20), note: "cold hands" };
    const record = recordOf(now, later(600));
    expect(practiceSessionSchema.parse(record)).toEqual(record);
    expect(record).toMatchObject({ ...OF, id: ID, note: "cold hands", startedAt: NOW.toISOString(), endedAt: later(600).toISOString() });
    expect(record.drills.slice(0, 2).map(({ seconds }) => seconds)).toEqual([70, 20]);
    expect(record.tries).toHaveLength(3);
    expect(isWorthKeeping(now)).toBe(true);
    expect(isWorthKeeping(wentOn(session, 5))).toBe(false);
  });
  it("pain is noted at once with the drill that was on, and where it was when that is said", () => {
    const drill = drillOn(session)!;
    const now = hurt(session, NOW);
    expect(now.discomforts).toEqual([{ at: NOW.toISOString(), where: null, drill: drill.id, contact: drill.focus.contact ?? null }]);
    expect(hurtAt(now, "forearm or elbow").discomforts[0]!.where).toBe("forearm or elbow");
    expect(hurtAt(session, "fingertips")).toBe(session);
    expect(isWorthKeeping(now)).toBe(true);
  });
});
