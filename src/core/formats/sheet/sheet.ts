import { barLength } from "../../edit/place.ts";
import { SIDE } from "../../hands/parts.ts";
import { TICKS_PER_WHOLE, type Ticks, ticksOf } from "../../music/ticks.ts";
import type { Bar, Passage } from "../../passage/schema.ts";
import { settingsOf } from "../../passage/settings.ts";
import { strokeDirections } from "../../timeline/strokes.ts";
import { countOf } from "../../timeline/timeline.ts";
import type { PlanDocument, PlannedStep, PlannedString } from "../../verdict/document.ts";
import { type StepInBar, stepsByBar } from "../../verdict/steps-by-bar.ts";
import { clauseOf } from "../../words/actions.ts";

/** One line of music with what each hand does under it, as SVG: never split over a page. */
export interface System {
  svg: string;
  widthPx: number;
  heightPx: number;
}

/** A4 and Letter upright with 15 mm margins, in CSS pixels (96 to the inch). */
export const PAPERS = { a4: { says: "A4", widthPx: 680 }, letter: { says: "Letter", widthPx: 702 } } as const;
export type Paper = keyof typeof PAPERS;

const NAMES = 34;
const PAD = 16;
const PX_PER_WHOLE = 296;
const COUNT = 20;
const STROKES = 20;
const LANE = 22;
const WORDS = 15;
/** Mean width of a letter at 12 px, for breaking lines where no font can be measured. */
const LETTER = 5.6;

/** The plan as systems for the music stand, black on white. */
export function sheetOf(passage: Passage, plan: PlanDocument, paper: Paper = "a4"): System[] {
  const { widthPx } = PAPERS[paper];
  const systems: System[] = [];
  const inBars = stepsByBar(plan, passage);
  let first = 0;
  while (first < passage.bars.length) {
    let width = NAMES;
    let last = first;
    while (last < passage.bars.length && (last === first || width + barWidth(passage.bars[last]!) <= widthPx)) width += barWidth(passage.bars[last++]!);
    systems.push(systemOf(passage, plan, inBars, first, last, widthPx));
    first = last;
  }
  return systems;
}

/** All systems under one another in one drawing, with title and legend. */
export function sheetSvg(passage: Passage, plan: PlanDocument, paper: Paper = "a4"): string {
  const systems = sheetOf(passage, plan, paper);
  const { widthPx } = PAPERS[paper];
  let y = 44;
  const parts = systems.map((system) => {
    const placed = `<g transform="translate(0 ${y})">${inner(system.svg)}</g>`;
    y += system.heightPx + 18;
    return placed;
  });
  const head = text(0, 26, passage.title, { size: 22, bold: true }) + text(widthPx, 26, `${passage.tempo} bpm`, { size: 14, anchor: "end" });
  return svg(widthPx, y + LEGEND_HEIGHT, `${head}${parts.join("")}<g transform="translate(0 ${y})">${legend()}</g>`);
}

function barWidth(bar: Bar): number {
  return PAD + (barLength(bar.meter) / TICKS_PER_WHOLE) * PX_PER_WHOLE;
}

function systemOf(passage: Passage, plan: PlanDocument, inBars: readonly (readonly StepInBar[])[], first: number, last: number, widthPx: number): System {
  const strings = passage.instrument.tuning.length;
  const lanes = COUNT + STROKES;
  const y = (string: number) => lanes + (string - 0.5) * LANE;
  const bottom = lanes + strings * LANE;
  const parts: string[] = [];
  const end = passage.bars.slice(first, last).reduce((x, bar) => x + barWidth(bar), NAMES);
  for (let s = 1; s <= strings; s++) {
    parts.push(text(0, y(s) + 4, `${s} ${passage.instrument.tuning[s - 1]}`, { size: 11 }));
    parts.push(`<line x1="${NAMES - 6}" x2="${end}" y1="${y(s)}" y2="${y(s)}" stroke="#999" stroke-width="0.6"/>`);
  }
  let x = NAMES;
  const settings = settingsOf(passage);
  for (let b = first; b < last; b++) {
    const bar = passage.bars[b]!;
    const at = (tick: Ticks) => x + PAD * 0.6 + (tick / TICKS_PER_WHOLE) * PX_PER_WHOLE;
    parts.push(
      `<line x1="${x}" x2="${x}" y1="${COUNT}" y2="${bottom}" stroke="#000" stroke-width="1.2"/>`,
      text(x - 3, COUNT + 4, String(b + 1), { size: 9, anchor: "end" }),
    );
    parts.push(...counts(bar, at), ...strokesOf(bar, settings, strings, at), ...steps(inBars[b]!, b, b === first, at, y), ...frets(bar, at, y));
    x += barWidth(bar);
  }
  parts.push(`<line x1="${x}" x2="${x}" y1="${COUNT}" y2="${bottom}" stroke="#000" stroke-width="1.2"/>`);
  const words = handWords(passage, plan, first, last, Math.floor(widthPx / LETTER));
  words.forEach((line, i) => {
    parts.push(text(line.indent ? 14 : 0, bottom + 18 + i * WORDS, line.says, { size: 12, bold: line.bold }));
  });
  const heightPx = bottom + 10 + words.length * WORDS;
  return { svg: svg(widthPx, heightPx, parts.join("")), widthPx, heightPx };
}

function counts(bar: Bar, at: (tick: Ticks) => number): string[] {
  const beat = TICKS_PER_WHOLE / bar.meter[1];
  const grid = bar.strokes.some((stroke) => ticksOf(stroke.at) % (beat / 2) !== 0) ? beat / 4 : beat / 2;
  return Array.from({ length: Math.ceil(barLength(bar.meter) / grid) }, (_, i) => {
    const words = countOf(i * grid, bar);
    const isBeat = (i * grid) % beat === 0;
    return text(at(i * grid), COUNT - 5, isBeat ? words : (words.split(" ")[1] ?? ""), { size: isBeat ? 13 : 10, bold: isBeat, anchor: "middle" });
  });
}

function strokesOf(bar: Bar, settings: ReturnType<typeof settingsOf>, strings: number, at: (tick: Ticks) => number): string[] {
  const middle = COUNT + STROKES / 2;
  return strokeDirections(bar, settings, strings).map((way, i) => {
    const x = at(ticksOf(bar.strokes[i]!.at));
    if (way === "down") return `<path d="M${x - 4.5} ${middle - 5}h9l-4.5 10z"/>`;
    if (way === "up") return `<path d="M${x - 4} ${middle + 4.5}h8l-4 -9z" fill="#fff" stroke="#000" stroke-width="1.3"/>`;
    return way === "none" ? "" : text(x, middle + 4, way, { size: 11, anchor: "middle" });
  });
}

/** What every string does in one bar. `isFirst` is the first bar of its line, where the signs stand again. */
function steps(here: readonly StepInBar[], bar: number, isFirst: boolean, at: (tick: Ticks) => number, y: (string: number) => number): string[] {
  return here.flatMap(({ step, before, tick, endTick }) =>
    step.strings.map((string, s) => {
      const line = y(string.string);
      const earlier = isFirst && tick === 0 ? undefined : before?.strings[s];
      return segment(string, at(tick), at(endTick), line, step.bar - 1 === bar) + touches(string, earlier, at(tick), at(endTick), line);
    }),
  );
}

/** Signs of the hands that damp a string: round over its line for the fretting hand, square under it for the picking hand, each with a line for as long as it lasts. */
const TOUCH_SIGNS = [
  { hand: "fretting", says: "fretting hand damps", edge: -9, sign: (x: number, y: number) => `<path d="M${x} ${y - 9.5}a4 4.5 0 0 0 8 0z"/>` },
  { hand: "picking", says: "picking hand damps", edge: 9, sign: (x: number, y: number) => `<path d="M${x} ${y + 9.5}v-4h8v4z"/>` },
] as const;

/** Fainter than the strings, so that it is not taken for one. */
const TOUCH_LINE = 'stroke="#555" stroke-width="0.9" stroke-dasharray="1.5 2.5"';

function touches(string: PlannedString, before: PlannedString | undefined, from: number, to: number, y: number): string {
  return TOUCH_SIGNS.map(({ hand, edge, sign }) => {
    if (!isDamped(string, hand)) return "";
    const goesOn = before !== undefined && isDamped(before, hand);
    return `${goesOn ? "" : sign(from, y)}<line x1="${from}" x2="${to - (goesOn ? 0 : 1)}" y1="${y + edge}" y2="${y + edge}" ${TOUCH_LINE}/>`;
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
      return `<line x1="${from + 2}" x2="${to}" y1="${y}" y2="${y}" stroke="#000" stroke-width="8" stroke-dasharray="2 3.5"/>`;
    case "free":
      return `<line x1="${from}" x2="${to}" y1="${y}" y2="${y}" stroke="#000" stroke-width="2" stroke-dasharray="1 4"/>`;
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

function frets(bar: Bar, at: (tick: Ticks) => number, y: (string: number) => number): string[] {
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

interface Words {
  says: string;
  bold: boolean;
  indent: boolean;
}

/**
 * What each hand does in some bars, a paragraph a hand, broken to the page: what is done at several places of a bar is said once
 * with all of them, a bar like an earlier one is named after it.
 */
function handWords(passage: Passage, plan: PlanDocument, first: number, last: number, letters: number): Words[] {
  const said = new Map<string, number>();
  const bars = Array.from({ length: last }, (_, b) => barWords(passage, plan, b));
  return bars.flatMap((lines, b): Words[] => {
    if (lines.length === 0) return [];
    const like = said.get(lines.join("\n"));
    if (like === undefined) said.set(lines.join("\n"), b + 1);
    if (b < first) return [];
    if (like !== undefined) return [{ says: `Bar ${b + 1}: as bar ${like}.`, bold: true, indent: false }];
    return [
      { says: `Bar ${b + 1}`, bold: true, indent: false },
      ...lines.flatMap((line) => broken(line, letters - 4).map((says, i) => ({ says, bold: false, indent: i > 0 }))),
    ];
  });
}

/** A line for each hand that does something in a bar, and one for what still rings. */
function barWords(passage: Passage, plan: PlanDocument, b: number): string[] {
  const steps = plan.steps.filter((step) => step.bar - 1 === b);
  const lineOf = (title: string, of: (step: PlannedStep) => string) => {
    const places = new Map<string, string[]>();
    for (const step of steps) {
      const says = of(step);
      if (says !== "") places.set(says, [...(places.get(says) ?? []), countOf(ticksOf(step.at), passage.bars[b]!)]);
    }
    return places.size === 0 ? [] : [`${title}: ${[...places].map(([says, counts]) => `${counts.join(", ")} ${says}`).join("  ·  ")}`];
  };
  return [
    ...lineOf("Fretting", ({ actions }) => bracketed(clauseOf(actions.filter(({ hand }) => hand === "fretting")))),
    // Strokes stand over the lines as signs.
    ...lineOf("Picking", ({ actions }) => bracketed(clauseOf(actions.filter(({ hand, does }) => hand === "picking" && does !== "stroke")))),
    ...lineOf("STILL RINGS", (step) => rings(step)),
  ];
}

function bracketed(clause: string): string {
  return clause === "" ? "" : `(${clause})`;
}

function rings(step: PlannedStep): string {
  const strings = step.strings.filter((string) => string.state === "stray").map((string) => string.string);
  return strings.length > 0 ? `(string ${strings.join(", ")})` : "";
}

function broken(line: string, letters: number): string[] {
  const lines: string[] = [];
  let now = "";
  for (const word of line.split(" ")) {
    if (now !== "" && now.length + 1 + word.length > letters) {
      lines.push(now);
      now = word;
    } else now = now === "" ? word : `${now} ${word}`;
  }
  return [...lines, now];
}

export const LEGEND_HEIGHT = 52;

/** What the signs mean. */
export function legend(): string {
  const signs: [string, number][] = [
    [`<rect x="0" y="8" width="26" height="4"/>${text(32, 14, "sounds", { size: 11 })}`, 82],
    [`<line x1="0" x2="26" y1="10" y2="10" stroke="#000" stroke-width="8" stroke-dasharray="2 3.5"/>${text(32, 14, "palm-muted", { size: 11 })}`, 104],
    [`<path d="M8 5l9 9m0-9l-9 9" stroke="#000" stroke-width="2"/>${text(24, 14, "dead", { size: 11 })}`, 62],
    [`<line x1="0" x2="26" y1="10" y2="10" stroke="#000" stroke-width="2" stroke-dasharray="1 4"/>${text(32, 14, "may ring on", { size: 11 })}`, 108],
    [`<path d="M0 12l3 -5l3 5l3 -5l3 5l3 -5l3 5" fill="none" stroke="#000" stroke-width="1.6"/>${text(24, 14, "rings astray", { size: 11 })}`, 102],
    [`<path d="M0 5h9l-4.5 10z"/>${text(14, 14, "down", { size: 11 })}`, 54],
    [`<path d="M0 14.5h8l-4 -9z" fill="#fff" stroke="#000" stroke-width="1.3"/>${text(14, 14, "up", { size: 11 })}`, 40],
  ];
  const hands = TOUCH_SIGNS.map(({ says, sign, edge }): [string, number] => [
    `${sign(0, 10)}<line x1="0" x2="26" y1="${10 + edge}" y2="${10 + edge}" ${TOUCH_LINE}/>${text(32, 14, says, { size: 11 })}`,
    160,
  ]);
  return `${rowOf(signs)}<g transform="translate(0 24)">${rowOf(hands)}</g>`;
}

/** Drawings side by side, each as wide as it says. */
function rowOf(drawings: readonly [string, number][]): string {
  let x = 0;
  return drawings
    .map(([drawing, width]) => {
      const placed = `<g transform="translate(${x} 0)">${drawing}</g>`;
      x += width;
      return placed;
    })
    .join("");
}

function svg(width: number, height: number, content: string): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="Atkinson Hyperlegible Next Variable, Atkinson Hyperlegible, sans-serif" fill="#000">${content}</svg>`;
}

/** The content of a drawing, to stand inside another. */
function inner(drawing: string): string {
  return drawing.slice(drawing.indexOf(">") + 1, drawing.lastIndexOf("</svg>"));
}

function text(
  x: number,
  y: number,
  words: string,
  { size, bold = false, anchor = "start" }: { size: number; bold?: boolean; anchor?: "start" | "middle" | "end" },
): string {
  return `<text x="${x}" y="${y}" font-size="${size}"${bold ? ' font-weight="700"' : ""}${anchor === "start" ? "" : ` text-anchor="${anchor}"`}>${escaped(words)}</text>`;
}

function escaped(words: string): string {
  return words.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
}
