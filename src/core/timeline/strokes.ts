import { beatsOf, beatTicks, unitLength } from "../music/beats.ts";
import { gcd, TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Bar, Stroke, StrokeKind } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { TimelineStroke } from "./types.ts";

const EIGHTH = TICKS_PER_WHOLE / 8;

/**
 * The stroke that a place in the bar asks for when the document leaves it open. The hand is
 * a pendulum: down on the numbers, up on the "&"; in a bar with sixteenths D U D U (common practice).
 */
export function strokeDirections(bar: Bar, settings: Settings, strings: number): StrokeKind[] {
  if (settings.playsWith !== "pick") return bar.strokes.map((stroke, i) => fingerFor(stroke, i, settings, strings));
  const swing = pendulum(bar);
  let previous: { kind: StrokeKind; string: number } | null = null;
  return bar.strokes.map((stroke, i) => {
    const string = leadString(stroke);
    const kind = stroke.stroke ?? pickDirection(settings.strokes, () => swing(ticksOf(stroke.at)), i, string, previous);
    previous = { kind, string };
    return kind;
  });
}

function pickDirection(
  school: Settings["strokes"],
  swing: () => "down" | "up",
  index: number,
  string: number,
  previous: { kind: StrokeKind; string: number } | null,
): StrokeKind {
  if (school === "down") return "down";
  if (school === "free") return index % 4 < 2 ? "down" : "up";
  if (school === "economy" && previous) {
    if (string < previous.string) return "down";
    if (string > previous.string) return "up";
    return previous.kind === "down" ? "up" : "down";
  }
  return swing();
}

/**
 * Which way the hand swings at a place of a bar. Beats of three and beats of two can stand beside each other: each beat has a
 * grid of its own and begins with a down-stroke, but for a triplet right after another one, which goes on D U D U D U.
 */
function pendulum(bar: Bar): (at: Ticks) => "down" | "up" {
  const places = bar.strokes.map((stroke) => ticksOf(stroke.at));
  const beat = beatTicks(bar.meter);
  const isTriplet = (tick: Ticks) => tick % (TICKS_PER_WHOLE / 64) !== 0;
  const isCompound = beat > unitLength(bar.meter);
  if (isCompound || !places.some(isTriplet)) {
    const unit = places.reduce((grid, at) => gcd(grid, at), EIGHTH);
    return (at) => (Math.round(at / unit) % 2 === 0 ? "down" : "up");
  }
  const beats = Array.from({ length: beatsOf(bar.meter) }, (_, k) => places.filter((at) => Math.floor(at / beat) === k).map((at) => at - k * beat));
  const units = beats.map((own) => (own.some(isTriplet) ? own.reduce((grid, at) => gcd(grid, at), beat / 3) : own.reduce((grid, at) => gcd(grid, at), EIGHTH)));
  let upside = 0;
  const begins = units.map((unit, k) => {
    const count = Math.round(beat / unit);
    const begun = k > 0 && Math.round(beat / units[k - 1]!) % 2 === 1 ? upside : 0;
    upside = (begun + count) % 2;
    return count % 2 === 1 ? begun : 0;
  });
  return (at) => {
    const k = Math.floor(at / beat);
    return (begins[k]! + Math.round((at - k * beat) / units[k]!)) % 2 === 0 ? "down" : "up";
  };
}

/** Plucking finger: the thumb has the bass strings of a guitar; on bass index and middle alternate. */
function fingerFor(stroke: Stroke, index: number, settings: Settings, strings: number): StrokeKind {
  if (stroke.stroke) return stroke.stroke;
  if (settings.playsWith === "slap") return leadString(stroke) >= strings - 1 ? "slap" : "pop";
  if (settings.playsWith === "thumb") return index % 2 === 0 ? "down" : "up";
  if (strings < 6) return index % 2 === 0 ? "i" : "m";
  return fingerOfString(leadString(stroke), strings);
}

/** A guitarist's fingers have strings of their own: thumb the basses, i m a strings 3 2 1 (common practice). */
export function fingerOfString(string: number, strings: number): "p" | "i" | "m" | "a" {
  if (strings < 6) return "i";
  if (string > 3) return "p";
  return string === 3 ? "i" : string === 2 ? "m" : "a";
}

/** The string a stroke sets out from: the lowest it plays. */
function leadString(stroke: Stroke): number {
  return Math.max(...(stroke.strings ?? []), ...stroke.notes.map((note) => note.string));
}

/** The strings that a stroke strikes dead: those of a chuck, ghost, click or rake, or those clicked beside what sounds. */
export function deadStrings({ as, crossed, clicked }: TimelineStroke): readonly number[] {
  return as === "play" ? clicked : crossed;
}

/**
 * Strings passed over, in order. A pick cannot jump a string, so what lies between the
 * outermost strings of a down- or up-stroke is struck as well; fingers pluck what they hold.
 */
export function crossedStrings(stroke: Stroke, kind: StrokeKind): number[] {
  const own = stroke.strings ?? stroke.notes.map((note) => note.string);
  const plucked = own.filter((s) => stroke.notes.every((n) => n.string !== s || (n.from ?? "stroke") === "stroke"));
  // A dead stroke that the picking hand does not make is the fretting hand's slap.
  if (kind === "none") return stroke.as && stroke.as !== "play" ? [...new Set(own)] : [];
  if (plucked.length === 0) return [];
  if (kind !== "down" && kind !== "up") return [...new Set(plucked)];
  const low = Math.max(...plucked);
  const high = Math.min(...plucked);
  const span = Array.from({ length: low - high + 1 }, (_, i) => low - i);
  return kind === "down" ? span : span.reverse();
}
