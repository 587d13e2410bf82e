import { TICKS_PER_WHOLE, type Ticks } from "./ticks.ts";

/** Units in a bar, and which part of a whole note one is, such as [6, 8]. */
export type Meter = readonly [count: number, unit: number];

/** Ticks of a full bar. */
export function barLength([count, unit]: Meter): Ticks {
  return count * unitLength([count, unit]);
}

/** Ticks of the unit that a meter counts. */
export function unitLength([, unit]: Meter): Ticks {
  return TICKS_PER_WHOLE / unit;
}

/** Ticks of one beat: the meter's unit, or three of them where eighths and shorter come in threes (common practice). */
export function beatTicks(meter: Meter): Ticks {
  const [count, unit] = meter;
  return unit >= 8 && count % 3 === 0 ? 3 * unitLength(meter) : unitLength(meter);
}

export function beatsOf(meter: Meter): number {
  return Math.round(barLength(meter) / beatTicks(meter));
}

/** Where the backbeat falls: every second beat; in three, the second and the third (common practice). */
export function backbeats(meter: Meter): Ticks[] {
  const beats = beatsOf(meter);
  const beat = beatTicks(meter);
  const at = beats === 3 ? [1, 2] : Array.from({ length: Math.floor(beats / 2) }, (_, i) => 2 * i + 1);
  return at.map((b) => b * beat);
}
