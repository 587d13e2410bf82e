import { barLength } from "../music/beats.ts";
import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Parsed } from "../passage/parse.ts";
import type { Place } from "../passage/place.ts";
import type { Bar } from "../passage/schema.ts";
import { readBytes } from "./files.ts";
import { drumOnsets } from "./midi/read.ts";

/**
 * Where something begins in a file, as places in the bars of another passage: bass drum and snare of a MIDI file that has them,
 * else the notes of its first voice. What comes after the last bar is left out.
 */
export function readOnsets(bytes: Uint8Array, bars: readonly Pick<Bar, "meter">[]): Parsed<Place[]> {
  const drums = isMidi(bytes) ? drumOnsets(bytes) : null;
  if (drums && !drums.ok) return drums;
  if (drums && drums.value.length > 0) return { ok: true, value: placesOf(drums.value, bars) };
  const read = readBytes(bytes);
  return read.ok ? { ok: true, value: placesOf(onsetsIn(read.value.passage.bars), bars) } : read;
}

function isMidi(bytes: Uint8Array): boolean {
  return String.fromCharCode(...bytes.subarray(0, 4)) === "MThd";
}

function onsetsIn(bars: readonly Bar[]): Ticks[] {
  let start = 0;
  return bars.flatMap((bar) => {
    const own = bar.strokes.filter((stroke) => stroke.notes.length > 0).map((stroke) => start + ticksOf(stroke.at));
    start += barLength(bar.meter);
    return own;
  });
}

function placesOf(onsets: readonly Ticks[], bars: readonly Pick<Bar, "meter">[]): Place[] {
  let start = 0;
  return bars.flatMap(({ meter }, bar) => {
    const end = start + barLength(meter);
    const own = onsets.filter((tick) => tick >= start && tick < end).map((tick) => ({ bar, tick: tick - start }));
    start = end;
    return own;
  });
}
