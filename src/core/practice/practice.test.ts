import fc from "fast-check";
import { createEmptyCard, forgetting_curve, fsrs, Rating } from "ts-fsrs";
import { describe, expect, it } from "vitest";
import { writePracticeCsv } from "../formats/practice-csv.ts";
import { practiceOf } from "../test/practice-sessions.ts";
import { outcomesOf } from "./outcomes.ts";
import { logOf, mergedSession, practiceLogSchema } from "./record.ts";
import { drillStatesOf, gradeOf } from "./schedule.ts";

const DAY = 86_400_000;
const day = (n: number) => new Date(Date.UTC(2026, 2, 1 + n, 18)).toISOString();
const of = { figure: "palm" };
const tries = (...tempos: number[]) => tempos.map((tempo) => ({ tempo: Math.abs(tempo), clean: tempo > 0 }));
const dueInDays = (sessions: Parameters<typeof drillStatesOf>[0], id: string) => {
  const state = drillStatesOf(sessions).find((one) => one.id === id)!;
  return Math.round((state.due - state.last) / DAY);
};

describe("the package that says when something is due", () => {
  it("gives the intervals that are published for FSRS-6", () => {
    // Test vector of the reference implementations of FSRS-6 (open-spaced-repetition, "test_review_card"), from memory.
    const scheduler = fsrs({ enable_fuzz: false });
    let card = createEmptyCard(new Date("2022-11-29T12:30:00Z"));
    const days: number[] = [];
    for (const good of [1, 1, 1, 1, 1, 1, 0, 0, 1, 1, 1, 1, 1]) {
      card = scheduler.next(card, card.due, good ? Rating.Good : Rating.Again).card;
      days.push(card.scheduled_days);
    }
    expect(days).toEqual([0, 2, 11, 46, 163, 498, 0, 0, 2, 4, 7, 12, 21]);
  });
  it("means by stability the days after which nine of ten are remembered: the definition of FSRS", () => {
    for (const stability of [1, 3, 14, 200]) expect(forgetting_curve(0.1542, stability, stability)).toBeCloseTo(0.9, 6);
  });
});

describe("when a drill is due again", () => {
  it("all clean is good, at the goal easy, some clean hard, none again; only the last tries count", () => {
    expect(gradeOf(tries(80, 83, 86), 100)).toBe(Rating.Good);
    expect(gradeOf(tries(100, 100), 100)).toBe(Rating.Easy);
    expect(gradeOf(tries(80, -83, 83), 100)).toBe(Rating.Hard);
    expect(gradeOf(tries(-80, -74), 100)).toBe(Rating.Again);
    expect(gradeOf(tries(-60, -60, 60, 60, 60, 62, 64, 66), 100)).toBe(Rating.Good);
    expect(gradeOf([], 100)).toBeNull();
  });
  it("never on the same day: what failed is due tomorrow, what went well later, what went easily last", () => {
    const restAfter = (...own: number[]) => dueInDays([practiceOf(1, of, day(0), { a: own })], "a");
    expect(restAfter(-60, -55)).toBe(1);
    expect(restAfter(60, -60, 60)).toBeGreaterThanOrEqual(1);
    expect(restAfter(60, 60, 60)).toBeGreaterThan(restAfter(60, -60, 60));
    expect(restAfter(100, 100)).toBeGreaterThan(restAfter(60, 60, 60));
  });
  it("each time that it goes well it rests longer, and after a failure it comes back soon", () => {
    const sessions = [practiceOf(1, of, day(0), { a: [60, 60] })];
    const rests: number[] = [];
    for (let n = 2; n < 7; n++) {
      rests.push(dueInDays(sessions, "a"));
      const { due } = drillStatesOf(sessions)[0]!;
      sessions.push(practiceOf(n, of, new Date(due).toISOString(), { a: [60, 60] }));
    }
    expect(rests).toEqual([...rests].sort((a, b) => a - b));
    expect(new Set(rests).size).toBe(rests.length);
    const { due } = drillStatesOf(sessions)[0]!;
    sessions.push(practiceOf(9, of, new Date(due).toISOString(), { a: [-60, -60] }));
    expect(dueInDays(sessions, "a")).toBeLessThan(rests.at(-1)! / 4);
  });
  it("sessions are taken in the order in which they were, whichever way they come; what was not tried is not known", () => {
    const sessions = [practiceOf(1, of, day(0), { a: [60], b: [] }), practiceOf(2, of, day(3), { a: [-62] }), practiceOf(3, of, day(4), { a: [61], c: [70] })];
    expect(drillStatesOf([...sessions].reverse())).toEqual(drillStatesOf(sessions));
    expect(drillStatesOf(sessions).map(({ id }) => id)).toEqual(["a", "c"]);
    expect(drillStatesOf(sessions)[0]!.lately.map(({ tempo }) => tempo)).toEqual([60, 62, 61]);
  });
});

it("clocks that go back and sessions at once are taken as they come: no drill is lost, none is due before it was practised", () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -40, max: 40 }), fc.integer({ min: -40, max: 40 }), fc.boolean()), { minLength: 1, maxLength: 12 }),
      (made) => {
        const sessions = made.map(([started, tried, clean], n) => {
          const session = practiceOf(n, of, day(started), { a: [clean ? 60 : -60] });
          return { ...session, tries: session.tries.map((one) => ({ ...one, at: day(tried) })) };
        });
        const [state] = drillStatesOf(sessions);
        expect(state!.due).toBeGreaterThan(state!.last);
        expect(state!.lately).toHaveLength(Math.min(12, made.length));
      },
    ),
  );
});

describe("a session's record", () => {
  it("counts what came of each drill", () => {
    const [a, b] = outcomesOf(practiceOf(1, of, day(0), { a: [60, 62, -65, 62], b: [] }));
    expect(a).toMatchObject({ tries: 4, clean: 3, reached: 62 });
    expect(b).toMatchObject({ tries: 0, clean: 0, reached: null });
  });
  it("sent again, late or from two tabs it loses nothing, in whichever order the reports come", () => {
    const whole = practiceOf(1, of, day(0), { a: [60, 61, -62], b: [70, 71] });
    const first = { ...whole, tries: whole.tries.slice(0, 3), endedAt: whole.tries[2]!.at, drills: whole.drills.slice(0, 1) };
    const other = { ...whole, tries: whole.tries.slice(2), note: "left hand cold" };
    const expected = { ...whole, note: "left hand cold" };
    expect(mergedSession(first, other)).toEqual(expected);
    expect(mergedSession(other, first)).toEqual(expected);
    expect(mergedSession(whole, whole)).toEqual(whole);
    // What the player turned round stays so, whichever report comes first; of two by the player the later one counts.
    const [heard, ...rest] = whole.tries;
    const byMicrophone = { ...whole, tries: [{ ...heard!, by: "microphone" as const }, ...rest] };
    const turned = { ...whole, tries: [{ ...heard!, clean: !heard!.clean }, ...rest] };
    expect(mergedSession(byMicrophone, turned).tries).toEqual(turned.tries);
    expect(mergedSession(turned, byMicrophone).tries).toEqual(turned.tries);
    const again = { ...whole, endedAt: new Date(Date.parse(whole.endedAt) + 1000).toISOString() };
    expect(mergedSession(turned, again).tries).toEqual(whole.tries);
    expect(mergedSession(expected, first).note).toBe("left hand cold");
  });
  it("is an open document that can be read again, and a table with a row for each try", () => {
    const sessions = [practiceOf(1, of, day(0), { a: [60, -62] }), { ...practiceOf(2, of, day(1), { a: [] }), note: "=1+1, then tea" }];
    expect(practiceLogSchema.parse(JSON.parse(JSON.stringify(logOf(sessions))))).toEqual(logOf(sessions));
    const lines = writePracticeCsv(sessions).split("\r\n");
    expect(lines[0]).toBe("session,passage,drill,kind,goal,tempo,clean,at,judged_by,note");
    expect(lines).toHaveLength(5);
    expect(lines[2]).toContain(",62,no,");
    expect(lines[3]).toMatch(/" =1\+1, then tea"$/);
  });
});
