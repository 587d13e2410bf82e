import { backbeats, beatsOf, beatTicks, type Meter, unitLength } from "../music/beats.ts";
import { TICKS_PER_WHOLE, type Ticks } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";

/** A place in a bar where the stroking hand passes. */
export interface Slot {
  tick: Ticks;
  beat: number;
  /** Its number within the beat, from 0. */
  part: number;
  isBackbeat: boolean;
}

/** The places of a bar in order, the same number in every beat. */
export interface Grid {
  meter: Meter;
  slots: readonly Slot[];
  perBeat: number;
}

/** Sixteenths are strummed up to here (common practice: fluent up to about 115 bpm); above it eighths. */
const SIXTEENTHS_UP_TO = 115;

/** How many places a beat may have for this passage at its goal, as the hand would swing: the coarsest first. */
export function divisionsOf(passage: Pick<Passage, "feel">, meter: Meter, tempo: number): number[] {
  const beat = beatTicks(meter);
  // 6/8, 9/8 and the like: three eighths a beat.
  if (beat > unitLength(meter)) return [3];
  // Beats of an eighth, as in 7/8: the hand swings once on each.
  if (beat < TICKS_PER_WHOLE / 4) return [1];
  const isSwung = passage.feel !== "straight" && passage.feel.swing === "eighth";
  return tempo <= SIXTEENTHS_UP_TO && !isSwung ? [2, 4] : [2];
}

/** The same, or as much finer as it takes for every place that must be heard to have a slot; null where no grid has. */
export function gridFor(meter: Meter, perBeat: number, heard: readonly Ticks[]): Grid | null {
  for (const division of [perBeat, 2, 3, 4, 6, 8]) {
    if (division < perBeat) continue;
    const grid = gridOf(meter, division);
    if (heard.every((tick) => grid.slots.some((slot) => slot.tick === tick))) return grid;
  }
  return null;
}

export function gridOf(meter: Meter, perBeat: number): Grid {
  const beat = beatTicks(meter);
  const back = new Set(backbeats(meter));
  const slots = Array.from({ length: beatsOf(meter) * perBeat }, (_, i): Slot => {
    const tick = Math.round((i * beat) / perBeat);
    return { tick, beat: Math.floor(i / perBeat), part: i % perBeat, isBackbeat: back.has(tick) };
  });
  return { meter, slots, perBeat };
}
