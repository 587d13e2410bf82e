import type { View } from "../../drawing/hands.ts";
import { barLength } from "../../music/beats.ts";
import { TICKS_PER_WHOLE, type Ticks, ticksOf } from "../../music/ticks.ts";
import type { Bar, Passage } from "../../passage/schema.ts";
import { settingsOf } from "../../passage/settings.ts";
import type { StepInBar } from "../../verdict/steps-by-bar.ts";
import { type BarWords, handWords } from "./hand-words.ts";
import { type LineStyle, line, svgOf, text } from "./ink.ts";
import { type NewPostures, pictureRows } from "./pictures.ts";
import { countsOf, fretNumbers, stepsOf, strokesOf } from "./signs.ts";

/** One line of music with what each hand does under it, as SVG: never split over a page. */
export interface System {
  svg: string;
  /** The same without the frame of a drawing, to stand in another. */
  content: string;
  widthPx: number;
  heightPx: number;
}

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

const STRING_LINE: LineStyle = { color: "#999", width: 0.6 };
const BAR_LINE: LineStyle = { width: 1.2 };

/** What all systems of a sheet are drawn from. */
export interface Drawn {
  passage: Passage;
  inBars: readonly (readonly StepInBar[])[];
  words: readonly BarWords[];
  postures: NewPostures;
  widthPx: number;
  frets: View["frets"];
}

/** How many bars from one on go into a line; one always does. */
export function barsInLine(bars: readonly Bar[], first: number, widthPx: number): number {
  let width = NAMES;
  let last = first;
  while (last < bars.length && (last === first || width + barWidth(bars[last]!) <= widthPx)) width += barWidth(bars[last++]!);
  return last - first;
}

function barWidth(bar: Bar): number {
  return PAD + (barLength(bar.meter) / TICKS_PER_WHOLE) * pxPerWhole(bar);
}

/** Bars are as wide as their notes are fine. */
function pxPerWhole({ strokes }: Bar): number {
  const on = (grid: Ticks) => strokes.every(({ at }) => ticksOf(at) % grid === 0);
  return on(TICKS_PER_WHOLE / 4) ? QUARTERS_PX : on(TICKS_PER_WHOLE / 8) ? EIGHTHS_PX : FINE_PX;
}

export function systemOf({ passage, inBars, words, postures, widthPx, frets }: Drawn, first: number, last: number): System {
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
    parts.push(line([NAMES - 6, y(s)], [end, y(s)], STRING_LINE));
  }
  let x = NAMES;
  const settings = settingsOf(passage);
  for (let b = first; b < last; b++) {
    const bar = passage.bars[b]!;
    const at = (tick: Ticks) => x + PAD * 0.6 + (tick / TICKS_PER_WHOLE) * pxPerWhole(bar) * stretch;
    parts.push(line([x, COUNT], [x, bottom], BAR_LINE), text(x - 3, COUNT + 4, String(b + 1), { size: 9, anchor: "end" }));
    parts.push(
      ...countsOf(bar, at, COUNT),
      ...strokesOf(bar, settings, strings, at, COUNT + STROKES / 2),
      ...stepsOf(inBars[b]!, b, b === first, at, y),
      ...fretNumbers(bar, at, y),
    );
    x += barWidth(bar) * stretch;
  }
  parts.push(line([x, COUNT], [x, bottom], BAR_LINE));
  const pictures = pictureRows(postures, passage.bars, first, last, { widthPx, y: bottom + 8, frets });
  parts.push(pictures.svg);
  // A few pictures have the words beside them, more have them below.
  const isBeside = pictures.widthPx > 0 && pictures.widthPx <= BESIDE && widthPx - pictures.widthPx >= LEAST_WORDS;
  const [left, under] = isBeside ? [pictures.widthPx, bottom] : [0, bottom + pictures.heightPx];
  const lines = handWords(words, first, last, Math.floor((widthPx - left) / LETTER));
  lines.forEach((line, i) => {
    parts.push(text(left + (line.indent ? 14 : 0), under + 18 + i * WORDS, line.says, { size: 12, bold: line.bold }));
  });
  const heightPx = Math.max(under + 10 + lines.length * WORDS, bottom + pictures.heightPx + 4);
  const content = parts.join("");
  return { svg: svgOf(widthPx, heightPx, content), content, widthPx, heightPx };
}
