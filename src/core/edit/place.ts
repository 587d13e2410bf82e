import { type Ticks, ticksOf } from "../music/ticks.ts";

/** A place in the passage: bar index from 0 and ticks from the bar's start. */
export interface Place {
  bar: number;
  tick: Ticks;
}

export function barLength(meter: readonly [number, number]): Ticks {
  return ticksOf(`${meter[0]}/${meter[1]}`);
}
