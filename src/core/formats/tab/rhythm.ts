import { TICKS_PER_WHOLE, type Ticks } from "../../music/ticks.ts";

/**
 * Places in a bar read from column spacing. A bar of `width` columns holds `length` ticks;
 * authors leave a dash or two after the bar line, so the paddings that put every event on the
 * finest plausible grid are tried first. `exact` is false when events had to be moved to fit.
 */
export function placesFromColumns(columns: readonly number[], width: number, length: Ticks): { ticks: Ticks[]; exact: boolean } {
  for (const grid of [16, 24, 32]) {
    const unit = TICKS_PER_WHOLE / grid;
    const slots = length / unit;
    if (!Number.isInteger(slots)) continue;
    for (const [before, after] of PADDINGS) {
      const room = width - before - after;
      if (room <= 0 || room % slots !== 0) continue;
      const perSlot = room / slots;
      if (columns.every((c) => c >= before && c < width - after && (c - before) % perSlot === 0))
        return { ticks: columns.map((c) => ((c - before) / perSlot) * unit), exact: true };
    }
  }
  for (const [before, after] of PADDINGS) {
    const room = width - before - after;
    if (room <= 0) continue;
    const ticks = columns.map((c) => ((c - before) * length) / room);
    const unit = TICKS_PER_WHOLE / 16;
    if (ticks.every((t) => t >= 0 && t < length && Number.isInteger(t / unit))) return { ticks, exact: true };
  }
  return { ticks: snapped(columns, width, length), exact: false };
}

const PADDINGS: readonly (readonly [number, number])[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
  [2, 0],
  [2, 1],
  [2, 2],
];

/** Nearest sixteenths in proportion to the columns, each event later than the one before. */
function snapped(columns: readonly number[], width: number, length: Ticks): Ticks[] {
  const first = Math.min(1, columns[0] ?? 0);
  const unit = TICKS_PER_WHOLE / 16;
  const slots = Math.floor(length / unit);
  const fine = columns.length > slots ? unit / 4 : unit;
  let earliest = 0;
  return columns.map((column, i) => {
    const left = columns.length - i;
    const latest = Math.floor(length / fine) - left;
    const wish = Math.round(((column - first) / (width - first)) * (length / fine));
    const slot = Math.max(earliest, Math.min(wish, latest));
    earliest = slot + 1;
    return slot * fine;
  });
}

/**
 * Places read from a count line ("1 e & a 2 ..."): column of every count sign with its ticks.
 * A "&" right after a number is half a beat, "e" and "a" the quarters around it.
 */
export function placesFromCounts(text: string, beat: Ticks): Map<number, Ticks> {
  const places = new Map<number, Ticks>();
  let number = 0;
  for (let column = 0; column < text.length; column++) {
    const sign = text[column] as string;
    if (/\d/.test(sign)) {
      const digits = /^\d+/.exec(text.slice(column))![0];
      number = Number(digits);
      places.set(column, (number - 1) * beat);
      column += digits.length - 1;
    } else if (sign === "&" || sign === "+") places.set(column, (number - 1) * beat + beat / 2);
    else if (sign === "e") places.set(column, (number - 1) * beat + beat / 4);
    else if (sign === "a") places.set(column, (number - 1) * beat + (3 * beat) / 4);
  }
  return places;
}
