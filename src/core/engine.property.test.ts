import fc from "fast-check";
import { expect, it } from "vitest";
import { planPassage } from "./engine.ts";
import { parsePassage } from "./passage/parse.ts";
import { INSTRUMENT_PRESETS } from "./passage/presets.ts";
import { PASSAGE_VERSION, type Passage } from "./passage/schema.ts";
import type { PlanDocument } from "./verdict/document.ts";

const note = fc.record({
  string: fc.integer({ min: 1, max: 8 }),
  fret: fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 14 })),
  tone: fc.constantFrom("open" as const, "open" as const, "palm" as const, "ghost" as const),
});
const stroke = fc.record({
  eighth: fc.integer({ min: 0, max: 7 }),
  length: fc.constantFrom("1/16", "1/8", "1/4"),
  as: fc.constantFrom("play" as const, "play" as const, "play" as const, "chuck" as const, "ghost" as const),
  notes: fc.array(note, { minLength: 1, maxLength: 4 }),
});

/** Random short passages over all instruments and the schools that change contacts. */
const anyPassage: fc.Arbitrary<Passage> = fc
  .record({
    preset: fc.integer({ min: 0, max: INSTRUMENT_PRESETS.length - 1 }),
    strokes: fc.array(stroke, { minLength: 1, maxLength: 7 }),
    tempo: fc.constantFrom(50, 90, 140, 240),
    gain: fc.constantFrom("clean" as const, "edge" as const, "high" as const),
    player: fc.record({
      index: fc.constantFrom("laid" as const, "arched" as const),
      neighbour: fc.constantFrom("fingertip" as const, "palm" as const),
      chuck: fc.constantFrom("flat-hand" as const, "edge" as const, "release" as const),
      pickHand: fc.constantFrom("palm" as const, "thumb" as const),
      thumbOver: fc.constantFrom("no" as const, "yes" as const),
      bassThumb: fc.constantFrom("floating" as const, "anchored" as const),
      playsWith: fc.constantFrom("pick" as const, "fingers" as const, "thumb" as const, "slap" as const),
    }),
  })
  .map(({ preset, strokes, tempo, gain, player }) => {
    const { instrument } = INSTRUMENT_PRESETS[preset]!;
    const seen = new Set<number>();
    const made = strokes
      .filter((s) => !seen.has(s.eighth) && seen.add(s.eighth))
      .map((s) => ({
        at: `${s.eighth}/8`,
        length: s.length,
        as: s.as,
        notes: s.notes.filter((n) => n.string <= instrument.tuning.length),
        strings: s.as === "play" ? undefined : instrument.tuning.map((_, i) => i + 1),
      }))
      .map(({ strings, ...s }) => (strings ? { ...s, strings } : s))
      .filter((s) => s.notes.length > 0 || "strings" in s);
    const parsed = parsePassage({
      format: "rest-hand-passage",
      version: PASSAGE_VERSION,
      title: "random",
      instrument,
      player,
      gain,
      tempo,
      bars: [{ meter: [4, 4], strokes: made }],
    });
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.faults));
    return parsed.value;
  });

function check(passage: Passage, plan: PlanDocument): void {
  const text = JSON.stringify(plan);
  expect(text).not.toMatch(/NaN|Infinity/);
  for (const step of plan.steps) {
    expect(Number.isFinite(step.ms) && step.lengthMs > 0).toBe(true);
    for (const string of step.strings) {
      const damping = string.touchedBy.filter((t) => t.part !== "press");
      if (string.intent === "ring" || string.intent === "free") expect(damping, `bar ${step.bar} ${step.at} string ${string.string}`).toEqual([]);
      if (string.intent === "muffled")
        expect(damping.every((t) => t.part === "palm" || (t.part === "spare" && passage.instrument.kind === "electric-bass"))).toBe(true);
      if (string.intent === "quiet") expect(["damped", "still", "stray"]).toContain(string.state);
      if (string.state === "still") expect(string.strayDb).toBeNull();
      if (string.state === "stray") expect(plan.strays.some((s) => s.string === string.string)).toBe(true);
    }
  }
  for (const stray of plan.strays) expect(stray.string).toBeLessThanOrEqual(passage.instrument.tuning.length);
}

it("never throws, never chokes a wanted string, and leaves no quiet string unaccounted for", () => {
  fc.assert(
    fc.property(anyPassage, (passage) => check(passage, planPassage(passage))),
    { numRuns: 250, seed: 7 },
  );
});

it("plans the same input the same way", () => {
  fc.assert(
    fc.property(
      anyPassage,
      (passage) => JSON.stringify(planPassage(passage, { why: "everything" })) === JSON.stringify(planPassage(structuredClone(passage), { why: "everything" })),
    ),
    { numRuns: 60, seed: 11 },
  );
});
