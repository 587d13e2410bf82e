import { documentOf, planStages } from "../core/engine.ts";
import type { EngineCache } from "../core/engine-cache.ts";
import { parsePassage } from "../core/passage/parse.ts";
import type { Passage } from "../core/passage/schema.ts";
import { sixteenthRiff } from "./passages.ts";

/** How long planning takes, wherever this runs: medians in ms. */

export function valid(raw: unknown): Passage {
  const parsed = parsePassage(raw);
  if (!parsed.ok) throw new Error(parsed.faults[0]!.says);
  return parsed.value;
}

export function median(runs: number, work: () => void): number {
  work();
  const times = Array.from({ length: runs }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return times[Math.floor(times.length / 2)]!;
}

/** Of so many runs the first are mostly the engine being compiled. */
const RUNS = 41;

/** 64 bars of sixteenths, all stages, nothing remembered. */
export function fromNothing(): number {
  return median(RUNS, () => planStages(valid(sixteenthRiff(64))));
}

/** After an edit in the middle of a riff, with the plan document and its sentences. */
export function afterEdit(riff: Passage, cache: EngineCache): number {
  let edit = 0;
  return median(RUNS, () => {
    const bars = riff.bars.map((bar, b) => (b === 31 ? { ...bar, strokes: bar.strokes.map((stroke, i) => (i === edit % 8 ? aFretOn(stroke) : stroke)) } : bar));
    edit++;
    const edited = { ...riff, bars };
    documentOf(edited, planStages(edited, cache), { cache });
  });
}

type Stroke = Passage["bars"][number]["strokes"][number];

function aFretOn(stroke: Stroke): Stroke {
  return stroke.notes.length === 0 ? stroke : { ...stroke, notes: stroke.notes.map((note) => ({ ...note, fret: (note.fret + 1) % 12 })) };
}
