/** One sign of a line, at a column of the stave's bodies. */
export interface Sign {
  column: number;
  text: string;
}

/** The signs of a line, each a run without blanks and bar lines. */
export function signsOf(text: string, startColumn: number): Sign[] {
  return [...text.matchAll(/[^\s|]+/g)].map(({ index, 0: sign }) => ({ column: index - startColumn, text: sign }));
}

/** A whole line may be written so many columns beside its stave. */
const FARTHEST = 3;

export interface Aligned {
  /** By the column of the note they belong to. */
  at: ReadonlyMap<number, string>;
  /** By how many columns the line lies to the right of its notes. */
  shift: number;
  /** Signs that belong to no note. */
  lone: readonly Sign[];
}

/**
 * Which note every sign of a line means. The line as a whole lies where most of its signs meet notes, nearest to where it is
 * written; then each sign may be one column beside its note.
 */
export function aligned(signs: readonly Sign[], columns: readonly number[]): Aligned {
  const all = new Set(columns);
  let best = { shift: 0, met: -1 };
  for (const shift of [0, 1, -1, 2, -2, 3, -3].filter((by) => Math.abs(by) <= FARTHEST)) {
    const met = signs.filter(({ column }) => all.has(column - shift)).length;
    if (met > best.met) best = { shift, met };
  }
  const at = new Map<number, string>();
  const left: Sign[] = [];
  for (const sign of signs) {
    const column = sign.column - best.shift;
    if (all.has(column)) at.set(column, sign.text);
    else left.push(sign);
  }
  const lone = left.filter((sign) => {
    const near = [sign.column - best.shift - 1, sign.column - best.shift + 1].find((column) => all.has(column) && !at.has(column));
    if (near === undefined) return true;
    at.set(near, sign.text);
    return false;
  });
  return { at, shift: best.shift, lone };
}
