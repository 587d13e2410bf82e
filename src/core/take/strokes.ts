import type { Step } from "../timeline/types.ts";
import { type Alignment, inTake } from "./align.ts";
import { median as middle } from "./levels.ts";
import { Beginnings } from "./onsets.ts";
import { RATE } from "./spectrum.ts";
import { strokesOf } from "./voices.ts";

/** The moments of the take: strokes where they were heard, everything else between them, and beyond at the tempo there. */
export function timesOf(alignment: Alignment, strokes: readonly { ms: number; heard: number | null }[]): (ms: number) => number {
  const known = strokes.filter((one): one is { ms: number; heard: number } => one.heard !== null);
  const [first, last] = [known[0], known.at(-1)];
  if (!first || !last || known.length < 3) return (ms) => inTake(alignment, ms);
  const [slow, fast] = [slopeOf(known.slice(0, AROUND)), slopeOf(known.slice(-AROUND))];
  return (ms) => {
    if (ms <= first.ms) return first.heard + slow * (ms - first.ms);
    if (ms >= last.ms - 0.01) return last.heard + fast * (ms - last.ms);
    const after = known.findIndex((one) => one.ms >= ms - 0.01);
    const [a, b] = [known[after - 1]!, known[after]!];
    return b.ms - ms < 0.02 ? b.heard : a.heard + ((ms - a.ms) / (b.ms - a.ms)) * (b.heard - a.heard);
  };
}

/** So many strokes before and after one say where it should be. */
const AROUND = 6;

/** How long a ms of the plan is: by Theil and Sen the middle of all slopes, so that what is late pulls nothing along. */
function slopeOf(strokes: readonly { ms: number; heard: number }[]): number {
  return middle(strokes.flatMap((a, k) => strokes.slice(k + 1).flatMap((b) => (b.ms === a.ms ? [] : [(b.heard - a.heard) / (b.ms - a.ms)])))) ?? 1;
}

/** When each stroke was heard: against when it would be in the plan's own sound, a strum spread over its strings as it is there. */
export function heardStrokes(steps: readonly Step[], reference: Float32Array, inSound: Beginnings, alignment: Alignment): HeardStroke[] {
  // Its first stroke begins after silence, as a take's does.
  const after = new Float32Array(reference.length + (RATE * BEFORE_MS) / 1000);
  after.set(reference, (RATE * BEFORE_MS) / 1000);
  const inPlan = new Beginnings(after);
  const strokes = strokesOf(steps).map((stroke) => {
    const at = stroke.ms + BEFORE_MS;
    return { ...stroke, spread: (inPlan.near(at, SPREAD_MS)?.ms ?? at) - at };
  });
  const near = (ms: number, spread: number) => {
    const at = inSound.near(ms + spread);
    return { heard: at && at.ms - spread, swing: at && at.swingMs !== null ? at.swingMs - spread : null };
  };
  const found = withoutOutliers(firstSwings(strokes.map((stroke) => ({ ...stroke, ...near(inTake(alignment, stroke.ms), stroke.spread) }))));
  // Once more, where the strokes around them say: the alignment slides over what is not there.
  const heardAt = timesOf(alignment, found);
  return withoutOutliers(found.map((stroke) => (stroke.heard === null ? { ...stroke, heard: near(heardAt(stroke.ms), stroke.spread).heard } : stroke)));
}

/** Which of a low note's swings is its first the strokes around it say: what comes before it may be the last of the note before. */
function firstSwings(strokes: readonly (HeardStroke & { swing: number | null })[]): HeardStroke[] {
  const timed = timing(strokes);
  const usual = middle(timed.flatMap(({ offMs }) => (offMs === null ? [] : [Math.abs(offMs)]))) ?? 0;
  return timed.map(({ offMs, swing, ...stroke }) => {
    const { heard } = stroke;
    if (offMs === null || heard === null || swing === null || Math.abs(offMs) < UNEVEN * usual) return stroke;
    return Math.abs(offMs - (heard - swing)) < Math.abs(offMs) ? { ...stroke, heard: swing } : stroke;
  });
}
/** Who plays unevenly is late by as much as a swing now and then. */
const UNEVEN = 3;

/** A stroke of the plan, how far in its own sound it begins after its moment, and when it was heard in the take. */
type HeardStroke = ReturnType<typeof strokesOf>[number] & { spread: number; heard: number | null };
/** A stroke of the plan's own sound is loudest so soon. */
const SPREAD_MS = 110;
const BEFORE_MS = 200;

/** What was taken for a stroke and cannot be it, so far is it from where those around it put it. */
function withoutOutliers<S extends { ms: number; heard: number | null }>(strokes: readonly S[]): S[] {
  return timing(strokes).map(({ offMs, ...stroke }) => (offMs !== null && Math.abs(offMs) > OUTLIER_MS ? { ...stroke, heard: null } : stroke) as unknown as S);
}
const OUTLIER_MS = 140;

/** How far each stroke is from where those around it put it. */
export function timing<S extends { ms: number; heard: number | null }>(strokes: readonly S[]): (S & { offMs: number | null })[] {
  return strokes.map((stroke, i) => {
    if (stroke.heard === null) return { ...stroke, offMs: null };
    const near = strokes.slice(Math.max(0, i - AROUND), i + AROUND + 1).filter((one) => one !== stroke && one.heard !== null) as (S & { heard: number })[];
    if (near.length < 3) return { ...stroke, offMs: null };
    const slope = slopeOf(near);
    const at = middle(near.map(({ ms, heard }) => heard + slope * (stroke.ms - ms)))!;
    return { ...stroke, offMs: stroke.heard - at };
  });
}
