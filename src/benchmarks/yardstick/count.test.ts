import { expect, it } from "vitest";
import type { PlanDocument, PlannedStep, PlannedString, TouchedBy } from "../../core/document/plan.ts";
import { parsePassage } from "../../core/passage/parse.ts";
import { countsOf } from "./count.ts";
import { YARDSTICK } from "./passages.ts";

const PALM: TouchedBy = { hand: "picking", part: "palm" };
const TIP: TouchedBy = { hand: "fretting", part: "tip", finger: 1 };
const PRESS: TouchedBy = { hand: "fretting", part: "press", finger: 1 };
const string = (intent: PlannedString["intent"], ...touchedBy: TouchedBy[]) => ({ string: 1, intent, touchedBy }) as PlannedString;
const step = (fretting: string, ...strings: PlannedString[]) => ({ fretting, picking: "", strings }) as unknown as PlannedStep;
const plan = (steps: PlannedStep[], dbs: number[] = [], changes = 0) =>
  ({ steps, strays: dbs.map((db) => ({ db })), cost: { changes } }) as unknown as PlanDocument;

it("a quiet string is left bare where it was held at the step before, by a touch or by a press, and only then", () => {
  const bare = (...steps: PlannedString[]) => countsOf(plan(steps.map((s) => step("", s))), 1, 0).bare;
  expect(bare(string("quiet", PALM), string("quiet"))).toBe(1);
  expect(bare(string("ring", PRESS), string("quiet"))).toBe(1);
  expect(bare(string("quiet", PALM), string("quiet", TIP))).toBe(0);
  expect(bare(string("quiet", PALM), string("ring"))).toBe(0);
  expect(bare(string("quiet"), string("quiet"))).toBe(0);
  expect(bare(string("quiet", PALM), string("quiet"), string("quiet"))).toBe(1);
});

it("a contact is put down where it was not at the step before; presses are none", () => {
  const contacts = (...steps: PlannedString[]) => countsOf(plan(steps.map((s) => step("", s))), 1, 0).contacts;
  expect(contacts(string("quiet", PALM), string("quiet", PALM))).toBe(1);
  expect(contacts(string("quiet", PALM), string("quiet", PALM, TIP))).toBe(2);
  expect(contacts(string("ring", PRESS))).toBe(0);
  expect(contacts(string("quiet", TIP), string("quiet"), string("quiet", TIP))).toBe(2);
});

it("strays are counted from 10 dB over the old threshold, whatever the planner's own; words as they stand", () => {
  expect(countsOf(plan([], [4, 9.9, 10, 20]), 1, 0).loud).toBe(2);
  expect(countsOf(plan([], [4, 9.9, 10, 20]), 1, 6).loud).toBe(4);
  expect(countsOf(plan([step("index down on 3"), step("")], [], 3), 1, 0)).toMatchObject({ words: 4, steps: 2, gestures: 3 });
});

it("the yardstick is 150 passages of version 1 with names of their own, over every hand of work", () => {
  const titles = YARDSTICK.map((raw) => (raw as { title: string; version: number }).title);
  expect(new Set(titles).size).toBe(150);
  for (const raw of YARDSTICK) {
    expect(raw).toMatchObject({ version: 1 });
    const parsed = parsePassage(raw);
    expect(parsed.ok || parsed.faults).toBe(true);
  }
  for (const hand of ["pick", "strum", "fingers", "bass", "slap", "percussive"])
    expect(titles.filter((t) => t.startsWith(`${hand}: `)).length).toBeGreaterThanOrEqual(8);
});
