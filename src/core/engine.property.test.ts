import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { PlanDocument } from "./document/plan.ts";
import { applyEdit, type Edit } from "./edit/edit.ts";
import { documentOf, planPassage, planStages, wholePlan } from "./engine.ts";
import { EngineCache } from "./engine-cache.ts";
import { readBytes, writeBytes } from "./formats/files.ts";
import { sheetSvg } from "./formats/sheet/sheet.ts";
import { partOf } from "./hands/parts.ts";
import { parsePassage } from "./passage/parse.ts";
import type { Passage } from "./passage/schema.ts";
import { anyEdit } from "./test/any-edit.ts";
import { anyPassage } from "./test/any-passage.ts";
import { treated } from "./writer/treated.ts";

/* What holds for every passage that the schema allows, however odd. */

/** Where a document holds something that JSON has no word for. */
function unsayable(value: unknown, path = ""): string | null {
  if (value === undefined || (typeof value === "number" && !Number.isFinite(value))) return `${path} is ${value}`;
  if (typeof value !== "object" || value === null) return null;
  for (const [key, inner] of Object.entries(value)) {
    const found = unsayable(inner, `${path}/${key}`);
    if (found) return found;
  }
  return null;
}

/** More than any string can be over the threshold of high gain: what is heard is measured against something that sounds. */
const MOST_DB = 120;

function check(passage: Passage, plan: PlanDocument): void {
  expect(unsayable(plan)).toBeNull();
  for (const step of plan.steps) {
    expect(step.lengthMs, `bar ${step.bar} ${step.at}`).toBeGreaterThan(0);
    for (const string of step.strings) {
      const where = `bar ${step.bar} ${step.at} string ${string.string}`;
      const damping = string.touchedBy.filter((t) => t.part !== "press");
      if (string.intent === "ring" || string.intent === "free") expect(damping, where).toEqual([]);
      if (string.intent === "muffled") for (const touch of damping) expect(partOf(touch).muffles, where).toBe(true);
      if (string.intent === "quiet") expect(["damped", "still", "stray"]).toContain(string.state);
      if (string.state === "still") expect(string.strayDb).toBeNull();
      if (string.state === "stray") expect(plan.strays.some((s) => s.string === string.string)).toBe(true);
      expect(string.undampedDb ?? 0, where).toBeLessThan(MOST_DB);
    }
  }
  for (const stray of plan.strays) expect(stray.string).toBeLessThanOrEqual(passage.instrument.tuning.length);
}

describe("over random passages of every kind", () => {
  it("a plan says what every string does, chokes nothing that is wanted, and takes time at every step", () => {
    fc.assert(
      fc.property(anyPassage(), (passage) => check(passage, planPassage(passage, { why: "nothing" }))),
      { numRuns: 400, seed: 7 },
    );
  });

  it("ceiling, remedies, reasons and prices of pins come to an end and say something", () => {
    fc.assert(
      fc.property(anyPassage({ bars: 1, strokes: 4, notes: 3 }), (passage) => {
        expect(unsayable(wholePlan(passage, { why: "everything" }))).toBeNull();
      }),
      { numRuns: 40, seed: 17 },
    );
  });

  it("the same input is planned the same way", () => {
    fc.assert(
      fc.property(
        anyPassage(),
        (passage) =>
          JSON.stringify(planPassage(passage, { why: "everything" })) === JSON.stringify(planPassage(structuredClone(passage), { why: "everything" })),
      ),
      { numRuns: 40, seed: 11 },
    );
  });

  it("every treatment makes a passage that is valid and can be planned", () => {
    const treatments = anyPassage({ extras: 3 }).filter(({ treatments }) => (treatments?.length ?? 0) > 0);
    fc.assert(
      fc.property(treatments, (passage) => {
        for (const treatment of passage.treatments!) {
          const made = parsePassage(JSON.parse(JSON.stringify(treated(passage, treatment).passage)));
          expect(made.ok || made.faults).toBe(true);
          if (made.ok) check(made.value, planPassage(made.value, { why: "nothing" }));
        }
      }),
      { numRuns: 120, seed: 23 },
    );
  });

  it("whatever is written can be drawn, and read again in every format", () => {
    fc.assert(
      fc.property(anyPassage({ strokes: 5 }), (passage) => {
        expect(sheetSvg(passage, planPassage(passage, { why: "nothing" }))).not.toMatch(/NaN|undefined/);
        for (const format of ["resthand.json", "musicxml", "txt"] as const) {
          const read = readBytes(writeBytes(passage, format).bytes);
          expect(read.ok || { format, faults: read.faults }).toBe(true);
        }
      }),
      { numRuns: 120, seed: 29 },
    );
  });
});

/** The passage after an edit, with the bars that it left alone as they were. */
function edited(passage: Passage, edit: Edit): Passage {
  const copy: Passage = JSON.parse(JSON.stringify(passage));
  applyEdit(copy, edit);
  const known = new Map(passage.bars.map((bar) => [JSON.stringify(bar), bar]));
  return { ...copy, bars: copy.bars.map((bar) => known.get(JSON.stringify(bar)) ?? bar) };
}

it("every edit leaves a valid document, and planning again after it gives byte for byte what planning afresh gives", () => {
  const seeds = fc.array(fc.nat(), { minLength: 8, maxLength: 8 });
  fc.assert(
    fc.property(anyPassage(), seeds, (passage, edits) => {
      const cache = new EngineCache();
      let now = passage;
      for (const seed of edits) {
        const [edit] = fc.sample(anyEdit(now), { seed, numRuns: 1 });
        now = edited(now, edit!);
        const valid = parsePassage(JSON.parse(JSON.stringify(now)));
        expect(valid.ok || { edit, faults: valid.faults }).toBe(true);
        const quick = documentOf(now, planStages(now, cache), { cache });
        const { pins: _, ...afresh } = planPassage(structuredClone(now), { why: "nothing" });
        expect(JSON.stringify(quick), edit!.kind).toBe(JSON.stringify(afresh));
      }
    }),
    { numRuns: 90, seed: 31 },
  );
});
