import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Passage } from "../../core/passage/schema.ts";
import { passageOf, stroke } from "../../core/test/build.ts";
import { drawNow, shownFor, waitForPlan } from "./shown.ts";

const before = passageOf([stroke("0", "1/4", "6/3")]);
const edited = (fret: number): Passage => ({ ...before, bars: passageOf([stroke("0", "1/4", `6/${fret}`)]).bars });

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drawNow();
  vi.useRealTimers();
});

describe("a change on the bench", () => {
  it("is drawn with its plan", () => {
    const now = edited(5);
    waitForPlan(before, now);
    expect(shownFor(now)).toBe(before);
    drawNow();
    expect(shownFor(now)).toBe(now);
  });
  it("is drawn without it when the plan takes too long, however many more keys come", () => {
    const [first, second] = [edited(5), edited(7)];
    waitForPlan(before, first);
    vi.advanceTimersByTime(30);
    waitForPlan(first, second);
    expect(shownFor(second)).toBe(before);
    vi.advanceTimersByTime(30);
    expect(shownFor(second)).toBe(second);
  });
  it("that makes other bars or another instrument does not wait, nor does what waited before it", () => {
    const note = edited(5);
    const longer = { ...note, bars: [...note.bars, ...before.bars] };
    waitForPlan(before, note);
    waitForPlan(note, longer);
    expect(shownFor(longer)).toBe(longer);
    const capo = { ...longer, instrument: { ...longer.instrument, capo: 2 } };
    waitForPlan(longer, capo);
    expect(shownFor(capo)).toBe(capo);
  });
  it("of nothing but the title does not wait", () => {
    const named = { ...before, title: "Hawser" };
    waitForPlan(before, named);
    expect(shownFor(named)).toBe(named);
  });
});
