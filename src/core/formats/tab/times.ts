import { TICKS_PER_WHOLE, type Ticks } from "../../music/ticks.ts";
import type { RemarkTaker } from "../remarks.ts";
import { placesFromDurations } from "./durations.ts";
import { placesFromColumns, placesFromCounts } from "./rhythm.ts";
import type { Meter, Signs } from "./signs.ts";
import type { Stave } from "./staves.ts";

/** One bar of a stave, with the columns at which something begins. */
export interface WrittenBar {
  stave: Stave;
  signs: Signs;
  columns: readonly number[];
  /** Columns of the bar, the second one beyond it. */
  span: readonly [from: number, to: number];
  meter: Meter;
}

/** When what stands in a bar begins, in ticks from the bar's beginning. */
export interface Times {
  ticks: Ticks[];
  /** How long it lasts, where that is written. */
  lengths: Ticks[] | null;
}

/** By its counts, else by durations, else by the columns; what does not fit is told. */
export function timesOf(bar: WrittenBar, remarks: RemarkTaker): Times {
  return fromCounts(bar, remarks) ?? fromDurations(bar, remarks) ?? fromColumns(bar, remarks);
}

export function lengthOf([count, unit]: Meter): Ticks {
  return (count * TICKS_PER_WHOLE) / unit;
}

function fromCounts({ stave, signs, columns, span: [from, to], meter }: WrittenBar, remarks: RemarkTaker): Times | null {
  const { counts } = signs;
  if (!counts) return null;
  const places = placesFromCounts(counts.text.slice(stave.startColumn + from, stave.startColumn + to), TICKS_PER_WHOLE / meter[1]);
  const ticks = columns.map((column) => placeNear(places, column - from) ?? -1);
  if (!ticks.some((t, i) => t < 0 || t >= lengthOf(meter) || (i > 0 && t <= ticks[i - 1]!))) return { ticks, lengths: null };
  remarks.push({ place: `line ${counts.line}`, says: "the counts do not match the notes above them: this bar was read from the column spacing" });
  return null;
}

function placeNear(places: ReadonlyMap<number, Ticks>, column: number): Ticks | undefined {
  return places.get(column) ?? places.get(column - 1) ?? places.get(column + 1);
}

function fromDurations({ stave, signs, columns, span: [from, to], meter }: WrittenBar, remarks: RemarkTaker): Times | null {
  if (!signs.durations) return null;
  const found = placesFromDurations(signs.durationsBetween(from, to), columns, lengthOf(meter));
  if (!found && columns.length > 0)
    remarks.push({
      place: `line ${signs.durations.line}, column ${stave.startColumn + from + 1}`,
      says: "the durations do not fit the notes of this bar: it was read from the column spacing",
    });
  return found;
}

function fromColumns({ stave, signs, columns, span: [from, to], meter }: WrittenBar, remarks: RemarkTaker): Times {
  const inBar = columns.map((column) => column - from);
  const read = placesFromColumns(inBar, to - from, lengthOf(meter));
  if (!read.exact && !signs.counts && !signs.durations)
    remarks.push({
      place: `line ${stave.strings[0]!.line}, column ${stave.startColumn + from + 1}`,
      says: "the spacing of this bar fits no even grid: notes were moved to the nearest sixteenth",
    });
  return { ticks: read.ticks, lengths: null };
}
