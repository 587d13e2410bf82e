import type { PassageInput } from "../../passage/schema.ts";
import { isCountLine, isMeterLine, isPalmLine, isStrokeLine, type Stave } from "./staves.ts";

export type Meter = PassageInput["bars"][number]["meter"];

const UNITS: readonly number[] = [1, 2, 4, 8, 16, 32];

/** What stands over and under a stave, read once; columns are those of its bodies. */
export class Signs {
  /** The line of counts, if there is one. */
  readonly counts: { line: number; text: string } | undefined;
  private readonly strokes: string | undefined;
  private readonly underPalm = new Set<number>();
  private readonly meters: { column: number; meter: Meter }[] = [];
  private readonly startColumn: number;

  constructor({ above, below, startColumn }: Stave) {
    this.startColumn = startColumn;
    this.counts = [...below, ...above].find(({ text }) => isCountLine(text));
    this.strokes = [...above, ...below].find(({ text }) => isStrokeLine(text))?.text;
    // A span such as "PM----|", or a lone "PM".
    for (const { text } of [...above, ...below].filter((line) => isPalmLine(line.text)))
      for (const { index, 0: span } of text.matchAll(/P\.?M\.?[-_. ]*\|?/gi))
        for (let column = index; column < index + span.trimEnd().length; column++) this.underPalm.add(column - startColumn);
    for (const { text } of above.filter((line) => isMeterLine(line.text)))
      for (const { index, 1: count, 2: unit } of text.matchAll(/(\d{1,2})\/(\d{1,2})/g)) {
        const meter = [Number(count), Number(unit)] as Meter;
        if (meter[0] >= 1 && meter[0] <= 32 && UNITS.includes(meter[1])) this.meters.push({ column: index - startColumn, meter });
      }
    this.meters.sort((a, b) => a.column - b.column);
  }

  isUnderPalm(column: number): boolean {
    return this.underPalm.has(column);
  }

  /** The sign for a stroke's direction over a column: "d", "u" or none. */
  strokeAt(column: number): string | undefined {
    return this.strokes?.[this.startColumn + column]?.toLowerCase();
  }

  /** The meter written over a bar, if one is: a column before it or anywhere in it. */
  meterBetween(from: number, to: number): Meter | null {
    let low = 0;
    for (let high = this.meters.length; low < high; ) {
      const middle = (low + high) >> 1;
      if (this.meters[middle]!.column < from - 1) low = middle + 1;
      else high = middle;
    }
    const found = this.meters[low];
    return found && found.column < to ? found.meter : null;
  }
}
