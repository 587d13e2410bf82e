import { beatTicks } from "../music/beats.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Bar, Passage, Stroke } from "../passage/schema.ts";
import type { StrokeChoices } from "./places.ts";

/** Strokes of one beat. Figures of one kind are the same music in equal bars, or in one bar: a hand plays them alike. */
export interface Figure {
  kind: number;
  bar: number;
  strokes: readonly StrokeChoices[];
}

/** The strokes of a passage as figures, in order, and how many kinds there are. */
export function figuresOf(passage: Passage, strokes: readonly StrokeChoices[]): { figures: Figure[]; kinds: number } {
  const kinds = new Map<string, number>();
  const figures: Figure[] = [];
  for (let from = 0; from < strokes.length; ) {
    const { bar } = strokes[from]!;
    const beat = beatOf(passage, strokes[from]!);
    let to = from;
    while (to < strokes.length && strokes[to]!.bar === bar && beatOf(passage, strokes[to]!) === beat) to++;
    const own = strokes.slice(from, to);
    const written = own.map(({ stroke }) => contentOf(passage.bars[bar]!.strokes[stroke]!, beat * beatTicks(passage.bars[bar]!.meter)));
    // What must stay in one place may go in the other.
    const ways = own.map(({ choices, untilMs }) => [choices.length, Math.round(untilMs)]);
    const key = JSON.stringify([barContent(passage.bars[bar]!), written, ways.slice(0, -1), ways.at(-1)![0]]);
    if (!kinds.has(key)) kinds.set(key, kinds.size);
    figures.push({ kind: kinds.get(key)!, bar, strokes: own });
    from = to;
  }
  return { figures, kinds: kinds.size };
}

function beatOf({ bars }: Passage, { bar, stroke }: StrokeChoices): number {
  return Math.floor(ticksOf(bars[bar]!.strokes[stroke]!.at) / beatTicks(bars[bar]!.meter));
}

/** A stroke without names, at its place in the beat. */
function contentOf({ at, ...stroke }: Stroke, start: number): string {
  return `${ticksOf(at) - start} ${withoutNames(stroke)}`;
}

/** A bar's strokes without their names. */
export function barContent({ meter, strokes }: Bar): string {
  return withoutNames([meter, strokes]);
}

function withoutNames(value: unknown): string {
  return JSON.stringify(value, (key, field) => (key === "id" ? undefined : field));
}
