import type { PlanDocument, PlannedStep, PlannedString } from "../../document/plan.ts";
import type { View } from "../../drawing/hands.ts";
import type { Posture } from "../../drawing/marks.ts";
import { SIDE } from "../../hands/parts.ts";
import { barLength } from "../../music/beats.ts";
import { TICKS_PER_WHOLE, type Ticks, ticksOf } from "../../music/ticks.ts";
import type { Bar, Passage } from "../../passage/schema.ts";
import { settingsOf } from "../../passage/settings.ts";
import { countOf, countsIn } from "../../timeline/counts.ts";
import { strokeDirections } from "../../timeline/strokes.ts";
import { type StepInBar, stepsByBar } from "../../verdict/steps-by-bar.ts";
import { clauseOf } from "../../words/actions.ts";
import { figureOf } from "../../words/figures.ts";
import { newPostures, pictureRows } from "./pictures.ts";

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
/** Width of a whole note in bars of sixteenths and finer ones, of eighths, of quarters. */
const FINE_PX = 296;
const EIGHTHS_PX = 190;
const QUARTERS_PX = 130;
/** How much wider than that bars become to fill their line. */
const MOST_STRETCH = 1.4;
const COUNT = 20;
const STROKES = 20;
const LANE = 18;
const WORDS = 15;
/** Mean width of a letter at 12 px, for breaking lines where no font can be measured. */
const LETTER = 5.5;
/** Room for three pictures beside the words. */
const BESIDE = 3 * 70;
const LEAST_WORDS = 280;

/** The plan as systems for the music stand, black on white; pictures of the hands mirrored where the right one frets. */
export function sheetOf(passage: Passage, plan: PlanDocument, widthPx: number = PAPERS.a4.widthPx, frets: View["frets"] = "left"): System[] {
  const systems: System[] = [];
  const drawn: Drawn = { passage, plan, inBars: stepsByBar(plan, passage), postures: newPostures(plan.steps), widthPx, frets };
  let first = 0;
  while (first < passage.bars.length) {
    let width = NAMES;
    let last = first;
    while (last < passage.bars.length && (last === first || width + barWidth(passage.bars[last]!) <= widthPx)) width += barWidth(passage.bars[last++]!);
    systems.push(systemOf(drawn, first, last));
    first = last;
  }
  return systems;
}

/** All systems under one another in one drawing, with title and legend. */
export function sheetSvg(passage: Passage, plan: PlanDocument, paper: Paper = "a4", frets: View["frets"] = "left"): string {
  const { widthPx } = PAPERS[paper];
  const systems = sheetOf(passage, plan, widthPx, frets);
  let y = 44;
  const parts = systems.map((system) => {
    const placed = `<g transform="translate(0 ${y})">${inner(system.svg)}</g>`;
    y += system.heightPx + 18;
    return placed;
  });
  const head = text(0, 26, passage.title, { size: 22, bold: true }) + text(widthPx, 26, `${passage.tempo} bpm`, { size: 14, anchor: "end" });
  const signs = legend(widthPx);
  return svg(widthPx, y + signs.heightPx, `${head}${parts.join("")}<g transform="translate(0 ${y})">${signs.content}</g>`);
}

function barWidth(bar: Bar): number {
  return PAD + (barLength(bar.meter) / TICKS_PER_WHOLE) * pxPerWhole(bar);
}

/** Bars are as wide as their notes are fine. */
function pxPerWhole({ strokes }: Bar): number {
  const on = (grid: Ticks) => strokes.every(({ at }) => ticksOf(at) % grid === 0);
  return on(TICKS_PER_WHOLE / 4) ? QUARTERS_PX : on(TICKS_PER_WHOLE / 8) ? EIGHTHS_PX : FINE_PX;
}

/** What all systems of a sheet are drawn from. */
interface Drawn {
  passage: Passage;
  plan: PlanDocument;
  inBars: readonly (readonly StepInBar[])[];
  postures: ReadonlyMap<PlannedStep, Posture>;
  widthPx: number;
  frets: View["frets"];
}

function systemOf({ passage, plan, inBars, postures, widthPx, frets }: Drawn, first: number, last: number): System {
  const strings = passage.instrument.tuning.length;
  const lanes = COUNT + STROKES;
  const y = (string: number) => lanes + (string - 0.5) * LANE;
  const bottom = lanes + strings * LANE;
  const parts: string[] = [];
  const bars = passage.bars.slice(first, last);
  const natural = bars.reduce((x, bar) => x + barWidth(bar), 0);
  const stretch = Math.min(MOST_STRETCH, (widthPx - NAMES) / natural);
  const end = NAMES + natural * stretch;
  for (let s = 1; s <= strings; s++) {
    parts.push(text(0, y(s) + 4, `${s} ${passage.instrument.tuning[s - 1]}`, { size: 11 }));
    parts.push(`<line x1="${NAMES - 6}" x2="${end}" y1="${y(s)}" y2="${y(s)}" stroke="#999" stroke-width="0.6"/>`);
  }
  let x = NAMES;
  const settings = settingsOf(passage);
  for (let b = first; b < last; b++) {
    const bar = passage.bars[b]!;
    const at = (tick: Ticks) => x + PAD * 0.6 + (tick / TICKS_PER_WHOLE) * pxPerWhole(bar) * stretch;
    parts.push(
      `<line x1="${x}" x2="${x}" y1="${COUNT}" y2="${bottom}" stroke="#000" stroke-width="1.2"/>`,
      text(x - 3, COUNT + 4, String(b + 1), { size: 9, anchor: "end" }),
    );
    parts.push(...counts(bar, at), ...strokesOf(bar, settings, strings, at), ...steps(inBars[b]!, b, b === first, at, y), ...fretNumbers(bar, at, y));
    x += barWidth(bar) * stretch;
  }
  parts.push(`<line x1="${x}" x2="${x}" y1="${COUNT}" y2="${bottom}" stroke="#000" stroke-width="1.2"/>`);
  const pictures = pictureRows(postures, passage.bars, first, last, { widthPx, y: bottom + 8, frets });
  parts.push(pictures.svg);
  // A few pictures have the words beside them, more have them below.
  const isBeside = pictures.widthPx > 0 && pictures.widthPx <= BESIDE && widthPx - pictures.widthPx >= LEAST_WORDS;
  const [left, under] = isBeside ? [pictures.widthPx, bottom] : [0, bottom + pictures.heightPx];
  const words = handWords(passage, plan, first, last, Math.floor((widthPx - left) / LETTER));
  words.forEach((line, i) => {
    parts.push(text(left + (line.indent ? 14 : 0), under + 18 + i * WORDS, line.says, { size: 12, bold: line.bold }));
  });
  const heightPx = Math.max(under + 10 + words.length * WORDS, bottom + pictures.heightPx + 4);
  return { svg: svg(widthPx, heightPx, parts.join("")), widthPx, heightPx };
}

function counts(bar: Bar, at: (tick: Ticks) => number): string[] {
  return countsIn(bar).map(({ tick, says, isBeat }) => text(at(tick), COUNT - 5, says, { size: isBeat ? 13 : 10, bold: isBeat, anchor: "middle" }));
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

function fretNumbers(bar: Bar, at: (tick: Ticks) => number, y: (string: number) => number): string[] {
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

/** What each hand does in some bars, a paragraph a hand, broken to the page; a bar like an earlier one is named after it. */
function handWords(passage: Passage, plan: PlanDocument, first: number, last: number, letters: number): Words[] {
  const said = new Map<string, number>();
  const bars = Array.from({ length: last }, (_, b) => barWords(passage, plan, b));
  return bars.flatMap((lines, b): Words[] => {
    if (lines.length === 0) return [];
    const like = said.get(lines.join("\n"));
    if (like === undefined) said.set(lines.join("\n"), b + 1);
    if (b < first) return [];
    if (like !== undefined) return [{ says: `${b + 1}: as bar ${like}`, bold: true, indent: false }];
    return lines.flatMap((line) => broken(`${b + 1} ${line}`, letters - 4).map((says, i) => ({ says, bold: false, indent: i > 0 })));
  });
}

/** A line for each hand that does something in a bar, and one for what still rings. */
function barWords(passage: Passage, plan: PlanDocument, b: number): string[] {
  const steps = plan.steps.filter((step) => step.bar - 1 === b);
  const lineOf = (title: string, of: (step: PlannedStep) => string) => {
    const bar = passage.bars[b]!;
    const figure = figureOf(
      steps.map((step) => ({ count: countOf(ticksOf(step.at), bar), says: of(step) })),
      bar.meter[0],
    );
    return figure === "" ? [] : [`${title}: ${figure}`];
  };
  return [
    ...lineOf("fretting", ({ actions }) => clauseOf(actions.filter(({ hand }) => hand === "fretting"))),
    // Strokes stand over the lines as signs.
    ...lineOf("picking", ({ actions }) => clauseOf(actions.filter(({ hand, does }) => hand === "picking" && does !== "stroke"))),
    ...lineOf("STILL RINGS", (step) => rings(step)),
  ];
}

function rings(step: PlannedStep): string {
  const strings = step.strings.filter((string) => string.state === "stray").map((string) => string.string);
  return strings.length > 0 ? `string ${strings.join(", ")}` : "";
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

/** What the signs mean, as a drawing of its own. */
export function legendSvg(widthPx: number): string {
  const { content, heightPx } = legend(widthPx);
  return svg(widthPx, heightPx, content);
}

/** What the signs mean, in as many rows as there is room for. */
function legend(widthPx: number): { content: string; heightPx: number } {
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
  let [x, row] = [0, 0];
  const content = [...signs, ...hands].map(([drawing, width], i) => {
    if (x > 0 && (x + width > widthPx || i === signs.length)) [x, row] = [0, row + 1];
    const placed = `<g transform="translate(${x} ${row * LEGEND_ROW})">${drawing}</g>`;
    x += width;
    return placed;
  });
  return { content: content.join(""), heightPx: (row + 1) * LEGEND_ROW + 4 };
}

const LEGEND_ROW = 24;

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
