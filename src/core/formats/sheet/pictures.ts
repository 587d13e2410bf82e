import type { PlannedStep } from "../../document/plan.ts";
import { drawHands, sizeOf, type View } from "../../drawing/hands.ts";
import { type Posture, postureOf } from "../../drawing/marks.ts";
import { ticksOf } from "../../music/ticks.ts";
import type { Bar } from "../../passage/schema.ts";
import { countOf } from "../../timeline/counts.ts";
import { text } from "./ink.ts";

const WIDTH = 62;
const GAP = 8;
const LABEL = 13;

/** Pictures of both hands for postures not seen earlier on the sheet, in rows, each named after its place. */
export interface PictureRows {
  svg: string;
  widthPx: number;
  heightPx: number;
}

/** By bar number: the steps whose posture no earlier step has, with the posture. */
export type NewPostures = ReadonlyMap<number, readonly { step: PlannedStep; posture: Posture }[]>;

export function newPostures(steps: readonly PlannedStep[]): NewPostures {
  const seen = new Set<string>();
  const found = new Map<number, { step: PlannedStep; posture: Posture }[]>();
  for (const step of steps) {
    const posture = { ...postureOf(step), blows: [] };
    const key = JSON.stringify([posture.marks, posture.bends]);
    if (seen.has(key) || posture.marks.length === 0) continue;
    seen.add(key);
    const inBar = found.get(step.bar);
    if (inBar) inBar.push({ step, posture });
    else found.set(step.bar, [{ step, posture }]);
  }
  return found;
}

/** Those of some bars, from the left; `y` is where they begin. */
export function pictureRows(
  postures: NewPostures,
  bars: readonly Bar[],
  first: number,
  last: number,
  { widthPx, y, frets }: { widthPx: number; y: number } & Pick<View, "frets">,
): PictureRows {
  const here = bars.slice(first, last).flatMap((_, i) => postures.get(first + i + 1) ?? []);
  const perRow = Math.max(1, Math.floor((widthPx + GAP) / (WIDTH + GAP)));
  let rowHeight = 0;
  const drawn = here.map(({ step, posture }, i) => {
    const { width, height } = sizeOf(posture, { size: "small" });
    const heightPx = (height * WIDTH) / width;
    rowHeight = Math.max(rowHeight, heightPx);
    return { posture, heightPx, column: i % perRow, row: Math.floor(i / perRow), says: `${step.bar}: ${countOf(ticksOf(step.at), bars[step.bar - 1]!)}` };
  });
  const row = rowHeight + LABEL + 2;
  const parts = drawn.map(({ posture, heightPx, column, row: r, says }) => {
    const [x, top] = [column * (WIDTH + GAP), y + r * row];
    return (
      text(x + 2, top + LABEL - 3, says, { size: 10 }) +
      drawHands(posture, { size: "small", frets, box: { x, y: top + LABEL, width: WIDTH, height: heightPx } })
    );
  });
  return { svg: parts.join(""), widthPx: Math.min(drawn.length, perRow) * (WIDTH + GAP), heightPx: drawn.length === 0 ? 0 : (drawn.at(-1)!.row + 1) * row + 6 };
}
