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
  const unit = Math.min(
    EIGHTH,
    bar.strokes.reduce((grid, stroke) => gcd(grid, ticksOf(stroke.at)), EIGHTH),
  );
  let previous: { kind: StrokeKind; string: number } | null = null;
  return bar.strokes.map((stroke, i) => {
    const string = leadString(stroke);
    const kind = stroke.stroke ?? pickDirection(settings.strokes, ticksOf(stroke.at), unit, i, string, previous);
    previous = { kind, string };
    return kind;
  });
}

function pickDirection(
  school: Settings["strokes"],
  at: Ticks,
  unit: Ticks,
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
  return Math.round(at / unit) % 2 === 0 ? "down" : "up";
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
