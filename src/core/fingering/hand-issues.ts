import { fretFromNutMm } from "../music/neck.ts";
import { fractionOf } from "../music/ticks.ts";
import type { Finger, Instrument } from "../passage/schema.ts";
import { MAX_SPAN_FACTOR, openLengthMm, type Settings } from "../passage/settings.ts";
import type { Issue, Step } from "../timeline/types.ts";
import { type HandState, orderOf, type Press } from "./hand-state.ts";

/** What no hand can do: a finger in two places, a stretch beyond reach. */
export function handIssues(step: Step, { presses }: HandState, instrument: Instrument, settings: Settings): Issue[] {
  const { stroke } = step;
  if (!stroke || presses.length < 2) return [];
  const issues: Issue[] = [];
  const where = { path: `/bars/${stroke.bar}/strokes/${stroke.stroke}`, bar: stroke.bar + 1, at: fractionOf(step.atTicks) };
  const byFinger = new Map<Finger, Press>();
  for (const press of presses) {
    const other = byFinger.get(press.finger);
    if (other)
      issues.push({ code: "finger-in-two-places", ...where, says: `Finger ${press.finger} cannot press frets ${other.fret} and ${press.fret} at once.` });
    byFinger.set(press.finger, press);
  }
  const spread = presses.filter((p) => p.finger !== "T");
  if (spread.length < 2) return issues;
  const low = Math.min(...spread.map((p) => p.fret));
  const high = Math.max(...spread.map((p) => p.fret));
  const length = openLengthMm(instrument);
  const span = fretFromNutMm(length, high) - fretFromNutMm(length, low);
  const widest = settings.reachMm * MAX_SPAN_FACTOR;
  if (span > widest)
    issues.push({
      code: "span-too-wide",
      ...where,
      says: `Frets ${low} and ${high} lie ${Math.round(span)} mm apart; this hand reaches ${Math.round(widest)} mm at most.`,
    });
  const crossed = spread.some((a) => spread.some((b) => orderOf(a.finger) < orderOf(b.finger) && a.fret > b.fret));
  if (crossed) issues.push({ code: "fingers-crossed", ...where, says: "A higher finger would have to press nearer the nut than a lower one." });
  return issues;
}
