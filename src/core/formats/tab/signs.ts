import type { PassageInput } from "../../passage/schema.ts";
import type { RemarkTaker } from "../remarks.ts";
import { aligned, signsOf } from "./align.ts";
import { type Duration, lettersOf, stemsOf } from "./durations.ts";
import { isCountLine, isLetterLine, isMeterLine, isPalmLine, isPluckLine, isStemLine, isStrokeLine } from "./lines.ts";
import type { Stave } from "./staves.ts";

export type Meter = PassageInput["bars"][number]["meter"];

interface Line {
  line: number;
  text: string;
}

const UNITS: readonly number[] = [1, 2, 4, 8, 16, 32];

/** What stands over and under a stave, read once; columns are those of its bodies. */
export class Signs {
  /** The line of counts, if there is one. */
  readonly counts: Line | undefined;
  /** Durations of letters or stems, in order, and where they stand. */
  readonly durations: { line: number; all: readonly Duration[] } | null;
  private readonly strokes: ReadonlyMap<number, string>;
  private readonly plucks: ReadonlyMap<number, string>;
  private readonly fingers: ReadonlyMap<number, string>;
  private readonly underPalm = new Set<number>();
  private readonly meters: { column: number; meter: Meter }[] = [];

  /** `columns`: where notes stand; `spans`: the bars. */
  constructor({ above, below, startColumn }: Stave, columns: readonly number[], spans: readonly (readonly [number, number])[], remarks: RemarkTaker) {
    const around = [...above, ...below];
    const isFingers = ({ text }: Line) => /^[\s1-4|]*$/.test(text) && !spans.every((span) => risesIn(text, startColumn, span));
    const digits = [...below, ...above].filter(({ text }) => isCountLine(text));
    this.counts = digits.find((line) => !isFingers(line));
    const named = (line: Line | undefined, what: string): ReadonlyMap<number, string> => {
      if (!line) return new Map();
      const { at, shift, lone } = aligned(signsOf(line.text, startColumn), columns);
      const columnsWords = `${Math.abs(shift)} column${Math.abs(shift) === 1 ? "" : "s"}`;
      if (shift !== 0) remarks.push({ place: `line ${line.line}`, says: `the ${what} lie ${columnsWords} beside their notes: moved there` });
      for (const { column, text } of lone)
        remarks.push({ place: `line ${line.line}, column ${startColumn + column + 1}`, says: `"${text}" stands over no note and was left out` });
      return at;
    };
    const fingers = digits.find((line) => line !== this.counts && isFingers(line));
    if (fingers) remarks.push({ place: `line ${fingers.line}`, says: "digits that do not count up: read as fretting fingers" });
    this.fingers = named(fingers, "fingers");
    this.strokes = named(
      around.find(({ text }) => isStrokeLine(text)),
      "strokes",
    );
    this.plucks = named(
      around.find(({ text }) => isPluckLine(text)),
      "plucking fingers",
    );
    const letters = around.find(({ text }) => isLetterLine(text));
    const stems = around.filter(({ text }) => isStemLine(text));
    this.durations = letters
      ? { line: letters.line, all: lettersOf(signsOf(letters.text, startColumn)) }
      : stems[0]
        ? {
            line: stems[0].line,
            all: stemsOf(
              stems.map(({ text }) => text),
              startColumn,
            ),
          }
        : null;
    // A span such as "PM----|", or a lone "PM".
    for (const { text } of around.filter((line) => isPalmLine(line.text)))
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

  /** How the stroke over a column is made, if that is written. */
  strokeAt(column: number): "down" | "up" | "p" | "i" | "m" | "a" | "c" | undefined {
    const sign = this.strokes.get(column)?.toLowerCase();
    if (sign) return sign.startsWith("d") ? "down" : "up";
    return this.plucks.get(column) as "p" | undefined;
  }

  /** Whether fingers are said to pluck. */
  get arePlucked(): boolean {
    return this.plucks.size > 0;
  }

  /** The finger that presses the note over a column, if that is written. */
  fingerAt(column: number): 1 | 2 | 3 | 4 | undefined {
    const sign = this.fingers.get(column);
    return sign && /^[1-4]$/.test(sign) ? (Number(sign) as 1 | 2 | 3 | 4) : undefined;
  }

  /** The durations written over a bar; they may begin a column before it. */
  durationsBetween(from: number, to: number): readonly Duration[] {
    const all = this.durations?.all ?? [];
    return all.slice(firstAt(all, from - 1), firstAt(all, to));
  }

  /** The meter written over a bar, if one is: a column before it or anywhere in it. */
  meterBetween(from: number, to: number): Meter | null {
    const found = this.meters[firstAt(this.meters, from - 1)];
    return found && found.column < to ? found.meter : null;
  }
}

/** The first of a row at a column or after it. */
function firstAt(row: readonly { column: number }[], column: number): number {
  let low = 0;
  for (let high = row.length; low < high; ) {
    const middle = (low + high) >> 1;
    if (row[middle]!.column < column) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Whether the digits over a bar count up. */
function risesIn(text: string, startColumn: number, [from, to]: readonly [number, number]): boolean {
  const digits = [...text.slice(startColumn + from, startColumn + to).matchAll(/\d+/g)].map(([digit]) => Number(digit));
  return digits.every((digit, i) => i === 0 || digit > digits[i - 1]!);
}
