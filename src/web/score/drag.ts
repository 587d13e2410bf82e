import { type Edit, type Place, strokeAt } from "../../core/edit/edit.ts";
import { gripEnd } from "../../core/edit/grips.ts";
import { placeAt, ticksAt } from "../../core/edit/range.ts";
import { barLength } from "../../core/music/beats.ts";
import { fractionOf, type Ticks, ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { countOf } from "../../core/timeline/counts.ts";

/** What the pointer took hold of in the score. */
export type Grab =
  /** A note: along the time moves its stroke, across the strings moves it to another string. */
  | { kind: "note"; place: Place; string: number }
  /** The end of a stroke's sound. */
  | { kind: "end"; place: Place; string: number }
  /** The sign of a stroke: pulled across the lanes it says which strings the stroke goes over. */
  | { kind: "sweep"; place: Place; string: number }
  /** The picking hand's track: from here to where it is let go the palm is laid on, or taken off. */
  | { kind: "palm"; place: Place; string: number }
  /** The beginning, or the end, of a written grip that begins at `place`. */
  | { kind: "grip"; place: Place; string: number }
  | { kind: "grip-end"; place: Place; string: number }
  /** Anything else: selects. */
  | { kind: "select"; place: Place; string: number };

/** Where the pointer is now: the grid's nearest place, its end, and the lane. */
export interface Spot {
  place: Place;
  /** The moment under the pointer in ticks from the beginning, on the grid, the passage's end included. */
  ticks: Ticks;
  string: number;
}

/** What letting go here would do; `edit` is null when it cannot be, and `says` why. */
export interface Drop {
  edit: Edit | null;
  says: string;
  /** What it would reach over, in ticks from the beginning and strings, to be shown. */
  from: Ticks;
  to: Ticks;
  strings: { first: number; last: number };
}

export function dropOf(passage: Passage, grab: Exclude<Grab, { kind: "select" }>, spot: Spot, grid: Ticks): Drop {
  const from = ticksAt(passage, grab.place);
  const lane = { first: grab.string, last: grab.string };
  const stroke = strokeAt(passage, grab.place);
  const bar = passage.bars[grab.place.bar]!;
  const everyString = { first: 1, last: passage.instrument.tuning.length };
  switch (grab.kind) {
    case "note": {
      const isAcross = spot.string !== grab.string && Math.abs(spot.ticks - from) < grid;
      if (isAcross) {
        const edit: Edit = { kind: "move-note", place: grab.place, string: grab.string, to: spot.string };
        return { edit, says: `same pitch on string ${spot.string}`, from, to: from + grid, strings: { first: spot.string, last: spot.string } };
      }
      const says = `to ${countOf(spot.place.tick, passage.bars[spot.place.bar]!)}`;
      return { edit: { kind: "move-stroke", place: grab.place, to: spot.place }, says, from: spot.ticks, to: spot.ticks + grid, strings: lane };
    }
    case "grip": {
      const to = Math.max(from + grid, gripEnd(passage, from));
      const says = `held from ${countAt(passage, spot.ticks)}`;
      return { edit: { kind: "move-grip", from, to: spot.ticks }, says, from: spot.ticks, to: Math.max(spot.ticks + grid, to), strings: everyString };
    }
    case "grip-end": {
      const to = Math.max(from + grid, spot.ticks);
      return { edit: { kind: "end-grip", from, to }, says: `held up to ${countAt(passage, to)}`, from, to, strings: everyString };
    }
    case "end": {
      const end = Math.min(Math.max(spot.ticks, from + grid), from + barLength(bar.meter) - grab.place.tick);
      return { edit: { kind: "set-length", place: grab.place, length: end - from }, says: `${fractionOf(end - from)} long`, from, to: end, strings: lane };
    }
    case "sweep": {
      const [first, last] = [Math.min(grab.string, spot.string), Math.max(grab.string, spot.string)];
      const strings = Array.from({ length: last - first + 1 }, (_, i) => first + i);
      const length = stroke ? ticksOf(stroke.length) : grid;
      const says = first === last ? `string ${first} alone` : `strings ${last} to ${first}`;
      return { edit: { kind: "set-strings", place: grab.place, strings }, says, from, to: from + Math.min(length, grid), strings: { first, last } };
    }
    case "palm": {
      const [first, last] = [Math.min(from, spot.ticks), Math.max(from, spot.ticks)];
      const isOn = stroke?.notes.some((note) => note.tone === "palm") ?? false;
      const says = `palm ${isOn ? "off" : "on"} up to ${countAt(passage, last)}`;
      const to = Math.max(last, first + grid);
      return {
        edit: { kind: "paint-tone", from: first, to, tone: isOn ? "open" : "palm" },
        says,
        from: first,
        to,
        strings: everyString,
      };
    }
  }
}

/** A moment by its count in its bar. */
function countAt(passage: Passage, ticks: Ticks): string {
  const place = placeAt(passage, ticks);
  return place ? countOf(place.tick, passage.bars[place.bar]!) : "the end";
}
