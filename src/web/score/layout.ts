import equal from "fast-deep-equal";
import type { PlannedString } from "../../core/document/plan.ts";
import type { Place } from "../../core/edit/edit.ts";
import { barLength } from "../../core/music/beats.ts";
import { TICKS_PER_WHOLE, type Ticks } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { StepInBar } from "../../core/verdict/steps-by-bar.ts";

/** Geometry of the score: bars side by side. */
export const BAR_PAD = 26;
export const LANE = 32;
export const TRACK_ROW = 8;

export interface BarBox {
  index: number;
  x: number;
  width: number;
}

export function barBoxes(passage: Passage, { widthOf }: Scale): BarBox[] {
  let x = 0;
  return passage.bars.map((bar, index) => {
    const width = widthOf(barLength(bar.meter)) + BAR_PAD;
    const box = { index, x, width };
    x += width;
    return box;
  });
}

/** How time lies on the screen, the same for every bar. */
export interface Scale {
  widthOf(ticks: Ticks): number;
  /** Left edge of a place inside its bar. */
  xOf(tick: Ticks): number;
  /** The moment at so many pixels from the bar's left edge. */
  tickAt(x: number): Ticks;
}

export function scaleOf(pxPerWhole: number): Scale {
  const widthOf = (ticks: Ticks) => (ticks / TICKS_PER_WHOLE) * pxPerWhole;
  const lead = BAR_PAD * 0.6;
  return { widthOf, xOf: (tick) => lead + widthOf(tick), tickAt: (x) => ((x - lead) / pxPerWhole) * TICKS_PER_WHOLE };
}

/** The usual scale; a sixteenth leaves room for a fret of two digits. */
const PX_PER_WHOLE = 560;
/** Narrower than this, one bar fills the view. */
const ONE_BAR_BELOW = 560;

/** The scale for a view so many pixels wide: on a telephone a bar of common length fits as a whole. */
export function scaleFor(viewWidth: number): Scale {
  return scaleOf(viewWidth < ONE_BAR_BELOW ? Math.max(200, viewWidth - BAR_PAD) : PX_PER_WHOLE);
}

/** A step as a bar of the score shows it. */
export interface StepBox {
  /** Of the plan's steps. */
  index: number;
  tick: Ticks;
  /** Where the step ends in this bar, at most the bar's end. */
  endTick: Ticks;
  /** Whether it begins here; behind a bar line it may only go on. */
  begins: boolean;
  /** What its strings do, and what they did at the step before, as far as it is drawn: how they would ring left alone may be an older plan's. */
  strings: readonly PlannedString[];
  before: readonly PlannedString[] | undefined;
}

/** What every bar shows: the same as before, box by box and bar by bar, where nothing looks otherwise, so that it need not be drawn again. */
export function boxesOf(now: readonly StepInBar[][], before: readonly StepBox[][]): StepBox[][] {
  return now.map((steps, b) => {
    const old = new Map(before[b]?.map((box) => [box.index, box]));
    const boxes = steps.map((step) => {
      const box = boxOf(step, b);
      const was = old.get(box.index);
      return was && looksAlike(was, box) ? was : box;
    });
    const same = boxes.length === before[b]?.length && boxes.every((box, i) => box === before[b]![i]);
    return same ? before[b]! : boxes;
  });
}

function boxOf({ index, step, before, tick, endTick }: StepInBar, bar: number): StepBox {
  return { index, tick, endTick, begins: step.bar - 1 === bar, strings: step.strings, before: before?.strings };
}

function looksAlike(a: StepBox, b: StepBox): boolean {
  return a.tick === b.tick && a.endTick === b.endTick && a.begins === b.begins && lookAlike(a.strings, b.strings) && lookAlike(a.before, b.before);
}

function lookAlike(a: readonly PlannedString[] | undefined, b: readonly PlannedString[] | undefined): boolean {
  if (a === b || !a || !b) return a === b;
  return a.length === b.length && a.every((string, s) => string === b[s] || isDrawnAs(string, b[s]!));
}

function isDrawnAs({ state, strayDb, touchedBy }: PlannedString, other: PlannedString): boolean {
  return state === other.state && strayDb === other.strayDb && equal(touchedBy, other.touchedBy);
}

/** The step that is under way at a place; null before the first. */
export function stepAt(steps: readonly StepBox[][], place: Place): StepBox | null {
  const here = steps[place.bar]?.filter((box) => box.tick <= place.tick).at(-1);
  if (here) return here;
  for (let b = place.bar - 1; b >= 0; b--) {
    const last = steps[b]?.at(-1);
    if (last) return last;
  }
  return null;
}
