import { parseSteps } from "../chords/steps.ts";
import type { Ticks } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import { figureRoot, type MoveResult, movedFigure } from "./move-figure.ts";
import { figureOf, pasteFigure } from "./range.ts";

/** The figure between two moments again and again behind itself, each time so many semitones above it; all of it or nothing. The passage stays as it is. */
export function repeatedFigure(passage: Passage, { from, to }: { from: Ticks; to: Ticks }, over: readonly number[]): MoveResult {
  // As a document, since the store hands in drafts.
  const draft: Passage = JSON.parse(JSON.stringify(passage));
  const figure = figureOf(draft, from, to);
  if (figure.strokes.length === 0) return { ok: false, says: "nothing is struck there" };
  const told = new Set<string>();
  for (const [i, semitones] of over.entries()) {
    const at = to + i * figure.length;
    if (!pasteFigure(draft, at, figure)) return { ok: false, says: "it has no place on this neck" };
    const pitchClass = ((semitones % 12) + 12) % 12;
    if (pitchClass === 0) continue;
    const moved = movedFigure(draft, at, at + figure.length, { pitchClass });
    if (!moved.ok) return { ok: false, says: `time ${i + 1}: ${moved.says}` };
    draft.bars = moved.bars;
    for (const says of moved.told) told.add(`Time ${i + 1}: ${says.replace(/^./, (letter) => letter.toLowerCase())}`);
  }
  return { ok: true, bars: draft.bars, told: [...told] };
}

/** What a typed row of chords asks for, and what comes of it; or the fault in the text. */
export type ReadRepeat = { ok: true; over: readonly number[]; laid: MoveResult } | { ok: false; at: number; says: string };

/** Reads "IV V I" or "D E A" against a figure; null while nothing is typed. */
export function readRepeat(passage: Passage, range: { from: Ticks; to: Ticks }, text: string): ReadRepeat | null {
  if (text.trim() === "") return null;
  const read = parseSteps(text, figureRoot(passage, range));
  return read.ok ? { ok: true, over: read.steps, laid: repeatedFigure(passage, range, read.steps) } : read;
}
