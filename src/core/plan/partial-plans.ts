/*
 * A partial plan is a row of numbers, in this order; what it costs stands in the first four, compared one after the other.
 */
/** harm · 2^26 + rushed ms. */
export const FIRST = 0;
export const STRAY = 1;
/** Thousandths of a tenth. */
export const EFFORT = 2;
export const CHANGES = 3;
/** How each string was left: four bits a string, the top one spare. */
export const MEMORY = 4;
/** The shapes of its last step. */
export const FRETTING = 5;
export const PICKING = 6;
/** The row of the step before that it goes on from; -1 at the start. */
export const BEFORE = 7;
/** Numbers in a row. */
export const ROW = 8;

/**
 * Sets of partial plans, one after the other, none bettered by another of its set. All lie in one block of numbers, used again
 * for every step: objects of their own would be most of what planning costs.
 */
export class PartialPlans {
  readonly rows: number[] = [0.5];
  /** Where each set ends; the rows go on behind the last with what was there before. */
  readonly ends: number[] = [];
  private used = 0;
  private begin = 0;

  clear(): void {
    this.ends.length = 0;
    this.used = 0;
    this.begin = 0;
  }

  /** What is offered from now on belongs to the next set. */
  endSet(): void {
    this.ends.push(this.used);
    this.begin = this.used;
  }

  /** Whether a partial plan of the present set costs no more and has at most as much unsilenced on every string. */
  betters(first: number, stray: number, effort: number, changes: number, memory: number): boolean {
    const { rows, used } = this;
    for (let row = this.begin; row < used; row += ROW) {
      const order = rows[row]! - first || rows[row + STRAY]! - stray || rows[row + EFFORT]! - effort || rows[row + CHANGES]! - changes;
      if (order <= 0 && memoryWithin(rows[row + MEMORY]!, memory)) return true;
    }
    return false;
  }

  /** Puts a partial plan that none betters last in the present set, without those that it betters. */
  put(first: number, stray: number, effort: number, changes: number, memory: number, fretting: number, picking: number, before: number): void {
    const { rows, used } = this;
    let kept = this.begin;
    for (let row = kept; row < used; row += ROW) {
      const order = rows[row]! - first || rows[row + STRAY]! - stray || rows[row + EFFORT]! - effort || rows[row + CHANGES]! - changes;
      if (order > 0 && memoryWithin(memory, rows[row + MEMORY]!)) continue;
      if (kept !== row) for (let k = FIRST; k < ROW; k++) rows[kept + k] = rows[row + k]!;
      kept += ROW;
    }
    this.used = kept + ROW;
    rows[kept] = first;
    rows[kept + STRAY] = stray;
    rows[kept + EFFORT] = effort;
    rows[kept + CHANGES] = changes;
    rows[kept + MEMORY] = memory;
    rows[kept + FRETTING] = fretting;
    rows[kept + PICKING] = picking;
    rows[kept + BEFORE] = before;
  }
}

const SPARE_BITS = 0x88888888 | 0;

/** Every string's state in a at most that in b: no four bits of b, with the spare bit set, borrow when a is taken away. */
export function memoryWithin(a: number, b: number): boolean {
  return (((b | SPARE_BITS) - a) & SPARE_BITS) === SPARE_BITS;
}
