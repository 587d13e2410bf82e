import { describe, expect, it } from "vitest";
import { practiceOf, takeOfStrays } from "../test/practice-sessions.ts";
import { outcomesOf } from "./outcomes.ts";
import type { PracticeSession } from "./record.ts";
import { type Reported, reportOf } from "./report.ts";
import { countsOf } from "./takes.ts";

const day = (at: Date) => at.toISOString().slice(0, 10);

const reported = (session: PracticeSession): Reported => ({ ...session, outcomes: outcomesOf(session), takes: session.takes.map(countsOf) });

const sessionOf = (n: number, at: string, title: string, drills: Record<string, number[]>) =>
  reported({ ...practiceOf(n, { figure: title }, at, drills), title });

describe("what a log comes to for a teacher", () => {
  it("adds up time, days and tries by what was practised, the most practised first", () => {
    const report = reportOf(
      [
        sessionOf(1, "2026-03-01T10:00:00.000Z", "tide", { left: [60, 60, -60] }),
        sessionOf(2, "2026-03-01T20:00:00.000Z", "pump", { left: [60], whole: [70, -70] }),
        sessionOf(3, "2026-03-03T10:00:00.000Z", "pump", { whole: [-80, -80] }),
      ],
      day,
    );
    expect(report).toMatchObject({ seconds: 4 * 90, days: 2 });
    expect(report.subjects).toMatchObject([
      { title: "pump", seconds: 3 * 90, sessions: 2, last: "2026-03-03T10:00:00.000Z", tries: 5, clean: 2, whole: { reached: 70, goal: 100 }, takes: null },
      { title: "tide", seconds: 90, sessions: 1, tries: 3, clean: 2, whole: null },
    ]);
  });

  it("names what goes least well: what was hardly tried, and what is always clean, is not among it", () => {
    const tries = { never: [-50, -50, -50, -50], seldom: [-50, -50, -50, 50], mostly: [50, 50, 50, -50], always: [50, 50, 50], hardly: [-50, -50] };
    const report = reportOf([sessionOf(1, "2026-03-01T10:00:00.000Z", "tide", tries)], day);
    expect(report.hardest.map(({ title, reached }) => [title, reached])).toEqual([
      ["Drill never", null],
      ["Drill seldom", 50],
      ["Drill mostly", 50],
    ]);
  });

  it("says how takes came on, and counts their time", () => {
    const one = { ...practiceOf(1, { figure: "tide" }, "2026-03-01T10:00:00.000Z", {}), takes: [takeOfStrays(1, "2026-03-01T10:01:00.000Z", [3, 4])] };
    const two = { ...practiceOf(2, { figure: "tide" }, "2026-03-02T10:00:00.000Z", {}), takes: [takeOfStrays(2, "2026-03-02T10:01:00.000Z", [3])] };
    const report = reportOf([two, one].map(reported), day);
    expect(report.subjects[0]!.takes).toEqual({ many: 2, first: 2, last: 1 });
    expect(report.seconds).toBe(one.takes[0]!.seconds + two.takes[0]!.seconds);
  });

  it("of nothing is nothing", () => {
    expect(reportOf([], day)).toEqual({ seconds: 0, days: 0, subjects: [], hardest: [] });
  });
});
