import type { PlanDocument, Stray } from "../../core/document/plan.ts";
import { barGrid, type Place } from "../../core/edit/edit.ts";
import { ticksAt } from "../../core/edit/range.ts";
import { barLength } from "../../core/music/beats.ts";
import { gcd, ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";

/** A stretch of a passage, in ticks from its beginning. */
export interface Range {
  from: number;
  to: number;
}

/** From where the selection began up to the end of the place the cursor is on, whichever comes first. */
export function selectedRange(passage: Passage, anchor: Place | null, cursor: Place, finest: number): Range | null {
  if (!anchor) return null;
  const [a, b] = [ticksAt(passage, anchor), ticksAt(passage, cursor)];
  const last = a > b ? anchor : cursor;
  return { from: Math.min(a, b), to: Math.max(a, b) + gcd(barGrid(passage, last.bar), finest) };
}

/** The whole bar that a place is in. */
export function barRange(passage: Passage, { bar }: Place): Range {
  const from = ticksAt(passage, { bar, tick: 0 });
  return { from, to: from + barLength(passage.bars[bar]!.meter) };
}

/** The first step that begins at a moment or after it; past the last one when there is none. */
export function stepFrom(plan: PlanDocument, passage: Passage, ticks: number): number {
  const at = plan.steps.findIndex((step) => ticksAt(passage, { bar: step.bar - 1, tick: ticksOf(step.at) }) >= ticks);
  return at < 0 ? plan.steps.length : at;
}

/** The stray ring that comes after a place, the first one again behind the last; null where nothing rings astray. */
export function strayAfter(strays: readonly Stray[], place: Place & { string: number }): (Place & { string: number }) | null {
  const places = strays.map(({ fromBar, fromAt, string }) => ({ bar: fromBar - 1, tick: ticksOf(fromAt), string }));
  const order = (a: Place & { string: number }, b: Place & { string: number }) => a.bar - b.bar || a.tick - b.tick || a.string - b.string;
  places.sort(order);
  return places.find((next) => order(next, place) > 0) ?? places[0] ?? null;
}
