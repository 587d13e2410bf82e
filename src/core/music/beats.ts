import { TICKS_PER_WHOLE, type Ticks } from "./ticks.ts";

/** Count and unit, such as [6, 8]. */
type Meter = readonly [number, number];

/** Ticks of one beat: the meter's unit, or three of them where eighths and shorter come in threes (common practice). */
export function beatTicks([count, unit]: Meter): Ticks {
  const unitTicks = TICKS_PER_WHOLE / unit;
  return unit >= 8 && count % 3 === 0 ? 3 * unitTicks : unitTicks;
}

export function beatsOf(meter: Meter): number {
  return Math.round((meter[0] * TICKS_PER_WHOLE) / meter[1] / beatTicks(meter));
}

/** Where the backbeat falls: every second beat; in three, the second and the third (common practice). */
export function backbeats(meter: Meter): Ticks[] {
  const beats = beatsOf(meter);
  const beat = beatTicks(meter);
  const at = beats === 3 ? [1, 2] : Array.from({ length: Math.floor(beats / 2) }, (_, i) => 2 * i + 1);
  return at.map((b) => b * beat);
}
