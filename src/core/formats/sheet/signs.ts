import type { PlannedString } from "../../document/plan.ts";
import { SIDE } from "../../hands/parts.ts";
import { type Ticks, ticksOf } from "../../music/ticks.ts";
import type { Bar } from "../../passage/schema.ts";
import type { Settings } from "../../passage/settings.ts";
import { countsIn } from "../../timeline/counts.ts";
import { strokeDirections } from "../../timeline/strokes.ts";
import type { StepInBar } from "../../verdict/steps-by-bar.ts";
import { type LineStyle, line, text } from "./ink.ts";

/* What stands over and on the strings of one bar. `at` gives the place of a moment, `y` that of a string. */

/** How the bar is counted, over its strings. */
export function countsOf(bar: Bar, at: (tick: Ticks) => number, bottom: number): string[] {
  return countsIn(bar).map(({ tick, says, isBeat }) => text(at(tick), bottom - 5, says, { size: isBeat ? 13 : 10, bold: isBeat, anchor: "middle" }));
}

/** Which way its strokes go. */
export function strokesOf(bar: Bar, settings: Settings, strings: number, at: (tick: Ticks) => number, middle: number): string[] {
  return strokeDirections(bar, settings, strings).map((way, i) => {
    const x = at(ticksOf(bar.strokes[i]!.at));
    if (way === "down") return `<path d="M${x - 4.5} ${middle - 5}h9l-4.5 10z"/>`;
    if (way === "up") return `<path d="M${x - 4} ${middle + 4.5}h8l-4 -9z" fill="#fff" stroke="#000" stroke-width="1.3"/>`;
    return way === "none" ? "" : text(x, middle + 4, way, { size: 11, anchor: "middle" });
  });
}

/** What every string does in one bar. `isFirst` is the first bar of its line, where the signs stand again. */
export function stepsOf(here: readonly StepInBar[], bar: number, isFirst: boolean, at: (tick: Ticks) => number, y: (string: number) => number): string[] {
  return here.flatMap(({ step, before, tick, endTick }) =>
    step.strings.map((string, s) => {
      const line = y(string.string);
      const earlier = isFirst && tick === 0 ? undefined : before?.strings[s];
      return segment(string, at(tick), at(endTick), line, step.bar - 1 === bar) + touches(string, earlier, at(tick), at(endTick), line);
    }),
  );
}

/** Signs of the hands that damp a string: round over its line for the fretting hand, square under it for the picking hand, each with a line for as long as it lasts. */
export const TOUCH_SIGNS = [
  { hand: "fretting", says: "fretting hand damps", edge: -9, sign: (x: number, y: number) => `<path d="M${x} ${y - 9.5}a4 4.5 0 0 0 8 0z"/>` },
  { hand: "picking", says: "picking hand damps", edge: 9, sign: (x: number, y: number) => `<path d="M${x} ${y + 9.5}v-4h8v4z"/>` },
] as const;

/** Fainter than the strings, so that it is not taken for one. */
export const TOUCH_LINE: LineStyle = { color: "#555", width: 0.9, dash: "1.5 2.5" };

function touches(string: PlannedString, before: PlannedString | undefined, from: number, to: number, y: number): string {
  return TOUCH_SIGNS.map(({ hand, edge, sign }) => {
    if (!isDamped(string, hand)) return "";
    const goesOn = before !== undefined && isDamped(before, hand);
    return (goesOn ? "" : sign(from, y)) + line([from, y + edge], [to - (goesOn ? 0 : 1), y + edge], TOUCH_LINE);
  }).join("");
}

function isDamped(string: PlannedString, hand: "fretting" | "picking"): boolean {
  return string.touchedBy.some((touch) => touch.part !== "press" && SIDE[touch.hand] === hand);
}

function segment({ state }: PlannedString, from: number, to: number, y: number, begins: boolean): string {
  switch (state) {
    case "ring":
      return `<rect x="${from}" y="${y - 2}" width="${to - from}" height="4"/>`;
    case "muffled":
      return line([from + 2, y], [to, y], { width: 8, dash: "2 3.5" });
    case "free":
      return line([from, y], [to, y], { width: 2, dash: "1 4" });
    case "thud":
      return begins ? `<path d="M${from - 4} ${y - 4}l8 8m0-8l-8 8" stroke="#000" stroke-width="2"/>` : "";
    case "stray": {
      let d = `M${from} ${y}`;
      for (let x = from; x < to - 4; x += 6) d += "l3 -5l3 5";
      return `<path d="${d}" fill="none" stroke="#000" stroke-width="1.6"/>`;
    }
    default:
      return "";
  }
}

export function fretNumbers(bar: Bar, at: (tick: Ticks) => number, y: (string: number) => number): string[] {
  return bar.strokes
    .filter((stroke) => (stroke.as ?? "play") === "play")
    .flatMap((stroke) =>
      stroke.notes.map((note) => {
        const x = at(ticksOf(stroke.at));
        const w = note.fret > 9 ? 16 : 11;
        return `<rect x="${x - w / 2}" y="${y(note.string) - 7}" width="${w}" height="14" fill="#fff"/>${text(x, y(note.string) + 4.5, note.tone === "ghost" ? "x" : String(note.fret), { size: 13, bold: true, anchor: "middle" })}`;
      }),
    );
}
