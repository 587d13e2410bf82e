import { ticksOf } from "../music/ticks.ts";
import type { Passage, Pin, Rule } from "../passage/schema.ts";
import { handOnGrip } from "./grips.ts";

/** A new empty bar after one, of its meter. False when there is no such bar. */
export function addBar(passage: Passage, after: number): boolean {
  const model = passage.bars[after];
  if (!model) return false;
  passage.bars.splice(after + 1, 0, { meter: [model.meter[0], model.meter[1]], strokes: [] });
  const moved = (bar: number) => (bar > after + 1 ? bar + 1 : bar);
  eachPin(passage, (pin) => ({ ...pin, from: { ...pin.from, bar: moved(pin.from.bar) }, to: { ...pin.to, bar: moved(pin.to.bar) } }));
  eachRule(passage, ({ from, to }) => ({ from: moved(from), to: moved(to) }));
  return true;
}

/** Takes a bar away, and what speaks of bars by number goes on speaking of the same music. The last bar stays. */
export function removeBar(passage: Passage, at: number): boolean {
  if (passage.bars.length < 2 || !passage.bars[at]) return false;
  handOnGrip(passage.bars[at], passage.bars[at + 1]);
  passage.bars.splice(at, 1);
  const gone = at + 1;
  const place = (p: Pin["from"]) => (p.bar > gone ? { ...p, bar: p.bar - 1 } : p.bar === gone ? { bar: gone, at: "0" } : p);
  eachPin(passage, (pin) => {
    const [from, to] = [place(pin.from), place(pin.to)];
    return from.bar < to.bar || (from.bar === to.bar && ticksOf(from.at) < ticksOf(to.at)) ? { ...pin, from, to } : null;
  });
  eachRule(passage, ({ from, to }) => {
    const range = { from: from > gone ? from - 1 : from, to: to >= gone ? to - 1 : to };
    return range.from <= range.to ? range : null;
  });
  return true;
}

function eachPin(passage: Passage, change: (pin: Pin) => Pin | null): void {
  if (!passage.pins) return;
  const pins = passage.pins.flatMap((pin) => change(pin) ?? []);
  if (pins.length > 0) passage.pins = pins;
  else delete passage.pins;
}

/** Rules limited to bars; one whose bars are all gone goes with them. */
function eachRule(passage: Passage, change: (bars: { from: number; to: number }) => { from: number; to: number } | null): void {
  for (const treatment of passage.treatments ?? [])
    treatment.rules = treatment.rules.flatMap((rule): Rule[] => {
      if (!rule.bars) return [rule];
      const bars = change(rule.bars);
      return bars ? [{ ...rule, bars }] : [];
    });
}
