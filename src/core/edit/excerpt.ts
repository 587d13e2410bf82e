import type { Bar, Passage } from "../passage/schema.ts";
import { gripHolding } from "./grips.ts";

/** Bars from one up to another (from 0, both included) as a passage of their own: at their tempo, with the grip that holds there already, without pins. */
export function excerptOf(passage: Passage, fromBar: number, toBar: number): Passage {
  const from = Math.max(0, fromBar);
  const tempo = passage.bars.slice(0, from + 1).reduce((now, bar) => bar.tempo ?? now, passage.tempo);
  const bars: Bar[] = passage.bars.slice(from, toBar + 1);
  const first = bars[0]!;
  const holding = from > 0 ? gripHolding(passage, { bar: from - 1, tick: Number.POSITIVE_INFINITY }) : undefined;
  const isBegun = first.grips?.some(({ at }) => at === "0") ?? false;
  if (holding && !isBegun) bars[0] = { ...first, grips: [{ ...holding, at: "0" }, ...(first.grips ?? [])] };
  const { pins: _, treatments: _treatments, ...rest } = passage;
  return { ...rest, tempo, bars };
}
