import type { Stray } from "../document/plan.ts";
import { excerptOf } from "../edit/excerpt.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Patch } from "../passage/patch.ts";
import { patched } from "../passage/patch.ts";
import type { Passage } from "../passage/schema.ts";
import { candidatesFor } from "../remedies/candidates.ts";
import { countOf } from "../timeline/counts.ts";
import { outcomesOf, type PlannedStages, straysOf } from "../verdict/verdict.ts";
import { cheapestAlike } from "./alike.ts";
import { barContent, type Figure, figuresOf } from "./figures.ts";
import { type Choice, choicesOf, isGripped } from "./places.ts";

/** What changed in bars that are the same music. */
export interface BarChange {
  /** Numbers from 1. */
  bars: number[];
  says: string[];
}

export interface Refingered {
  passage: Passage;
  changes: BarChange[];
  before: readonly Stray[];
  after: readonly Stray[];
  /** Of the places found by the hand's path: what they cost, and the least that any could. */
  places: { cost: number; bound: number };
}

export interface Progress {
  /** Places tried, then stray rings looked at, of how many. */
  done: number;
  of: number;
}

/**
 * Re-fingers a whole passage: places by the cheapest way of the hand through its positions, figures that come again played alike
 * (see `cheapestAlike`), then, stray ring by stray ring, other fingers and places judged by the damping plan itself. A change
 * is kept only when the whole plan is better level by level (harm, rushed, stray, effort) and asks for nothing faster; tone and open
 * strings are not given up for little, written grips are kept. Yields its progress, so that a caller can stop.
 */
export function* refingerPassage(passage: Passage, replan: (passage: Passage) => PlannedStages): Generator<Progress, Refingered, void> {
  let best = passage;
  let planned = replan(passage);
  const before = straysOf(planned, outcomesOf(planned));
  yield { done: 0, of: before.length };

  const strokes = choicesOf(passage, planned.timeline);
  const { figures, kinds } = figuresOf(passage, strokes);
  const found = yield* cheapestAlike(figures, kinds);
  const moved = withPlaces(passage, figures, found.choices);
  if (moved !== passage) {
    const then = replan(moved);
    if (isBetter(then, planned)) {
      best = moved;
      planned = then;
    }
  }

  const looked = new Set<string>();
  for (;;) {
    const strays = straysOf(planned, outcomesOf(planned));
    const stray = strays.sort((a, b) => b.db - a.db).find((s) => !looked.has(kindOf(best, s)));
    if (!stray) break;
    looked.add(kindOf(best, stray));
    const change = bestChange(best, planned, stray, replan);
    if (change) {
      const everywhere = inEqualFigures(best, change, figures);
      const then = everywhere && replan(everywhere);
      if (then && isBetter(then, planned)) {
        best = everywhere;
        planned = then;
      }
    }
    yield { done: looked.size, of: Math.max(before.length, looked.size) };
  }
  const after = straysOf(planned, outcomesOf(planned));
  return { passage: best, changes: changesOf(passage, best), before, after, places: { cost: found.cost, bound: found.bound } };
}

/** The places found, written into the document; the same document where all are as written. */
function withPlaces(passage: Passage, figures: readonly Figure[], choices: readonly (readonly Choice[])[]): Passage {
  const bars = [...passage.bars];
  let changed = false;
  for (const [f, { strokes }] of figures.entries())
    for (const [k, { bar, stroke }] of strokes.entries()) {
      const { places } = choices[f]![k]!;
      const written = bars[bar]!.strokes[stroke]!;
      if (written.notes.every((note, n) => note.string === places[n]!.string)) continue;
      changed = true;
      const notes = written.notes.map((note, n) => {
        const { string, fret } = places[n]!;
        if (string === note.string) return note;
        const { finger: _, ...rest } = note;
        return { ...rest, string, fret };
      });
      bars[bar] = { ...bars[bar]!, strokes: bars[bar]!.strokes.map((s, i) => (i === stroke ? { ...written, notes } : s)) };
    }
  return changed ? { ...passage, bars } : passage;
}

/** What is otherwise, bar by bar; bars that were and are the same are one. */
export function changesOf(before: Passage, after: Passage): BarChange[] {
  const found = new Map<string, BarChange>();
  for (const [b, bar] of before.bars.entries()) {
    const now = after.bars[b]!;
    const says = bar.strokes.flatMap((stroke, s) =>
      stroke.notes.flatMap((note, n) => {
        const is = now.strokes[s]!.notes[n]!;
        const where = countOf(ticksOf(stroke.at), bar);
        if (is.string !== note.string) return [`${where}: string ${note.string}, fret ${note.fret} goes to string ${is.string}, fret ${is.fret}`];
        if (is.finger !== note.finger) return [`${where}: string ${note.string}, fret ${note.fret} by finger ${is.finger ?? "as it falls"}`];
        return [];
      }),
    );
    if (says.length === 0) continue;
    const key = `${barContent(bar)} ${barContent(now)}`;
    const known = found.get(key);
    if (known) known.bars.push(b + 1);
    else found.set(key, { bars: [b + 1], says });
  }
  return [...found.values()];
}

/** "Bar 3", "Bars 1, 3 and 5". */
export function barsWords(numbers: readonly number[]): string {
  if (numbers.length === 1) return `Bar ${numbers[0]}`;
  return `Bars ${numbers.slice(0, -1).join(", ")} and ${numbers.at(-1)}`;
}

const BARS_AROUND = 1;

/** The best other fingering or place against a stray ring, judged on the bars around it. */
function bestChange(passage: Passage, planned: PlannedStages, stray: Stray, replan: (passage: Passage) => PlannedStages): Patch | null {
  const bar = stray.fromBar - 1;
  const excerpt = excerptOf(passage, bar - BARS_AROUND, bar + BARS_AROUND);
  const now = replan(excerpt);
  const strays = straysOf(now, outcomesOf(now));
  let best: { patch: Patch; worth: number } | null = null;
  for (const candidate of candidatesFor(passage, planned, stray)) {
    const { kind, patch, price } = candidate;
    if ((kind !== "finger" && kind !== "barre" && kind !== "place") || touchesGrip(passage, patch)) continue;
    const changed = patched(passage, patch);
    if (!changed) continue;
    const then = replan(excerptOf(changed, bar - BARS_AROUND, bar + BARS_AROUND));
    const worth = sumDb(strays) - sumDb(straysOf(then, outcomesOf(then))) - price;
    if (worth > (best?.worth ?? 0) && isBetter(then, now)) best = { patch, worth };
  }
  return best?.patch ?? null;
}

/** Whether a change is one of notes that a written grip holds: that stays as it is written. */
function touchesGrip(passage: Passage, patch: Patch): boolean {
  return patch.some(({ path }) => {
    const [, bar, stroke] = STROKE_PATH.exec(path) ?? [];
    return bar !== undefined && isGripped(passage, Number(bar), passage.bars[Number(bar)]!.strokes[Number(stroke)]!);
  });
}

const STROKE_PATH = /^\/bars\/(\d+)\/strokes\/(\d+)(\/.*)?$/;

/** How much rings that should not, to compare fingerings by. */
function sumDb(strays: readonly Stray[]): number {
  return strays.reduce((sum, { db }) => sum + db, 0);
}

/** A patch of some notes, made wherever the same figures come again; null where it does not fit there. */
function inEqualFigures(passage: Passage, patch: Patch, figures: readonly Figure[]): Passage | null {
  const all = new Map<string, Patch[number]>();
  for (const op of patch) {
    // What was tested here is so there as well, but for names.
    if (op.op === "test") continue;
    const [, bar, stroke, rest = ""] = STROKE_PATH.exec(op.path) ?? [];
    const figure = figures.find(({ strokes }) => strokes.some((own) => own.bar === Number(bar) && own.stroke === Number(stroke)));
    if (!figure) {
      all.set(`${op.op} ${op.path}`, op);
      continue;
    }
    const k = figure.strokes.findIndex((own) => own.stroke === Number(stroke));
    for (const other of figures) {
      if (other.kind !== figure.kind) continue;
      const target = other.strokes[k]!;
      const path = `/bars/${target.bar}/strokes/${target.stroke}${rest}`;
      all.set(`${op.op} ${path}`, { ...op, path });
    }
  }
  return patched(passage, [...all.values()]);
}

/** Stray rings of the same kind in equal bars are one. */
function kindOf(passage: Passage, stray: Stray): string {
  return `${stray.string}/${stray.fromAt}/${stray.cause}/${barContent(passage.bars[stray.fromBar - 1]!)}`;
}

const LEVELS = ["harm", "rushed", "stray", "effort"] as const;

function isBetter(a: PlannedStages, b: PlannedStages): boolean {
  if (unplayable(a) > unplayable(b) || a.path.cost.rushed > b.path.cost.rushed) return false;
  for (const level of LEVELS) if (a.path.cost[level] !== b.path.cost[level]) return a.path.cost[level] < b.path.cost[level];
  return false;
}

function unplayable({ timeline, fingering }: PlannedStages): number {
  return timeline.issues.length + fingering.issues.length;
}
