import type { Note } from "../../passage/schema.ts";

/** One sign on a string line: a fret or a dead stroke, with how it is sounded. */
export interface Cell {
  column: number;
  width: number;
  /** Null for an x. */
  fret: number | null;
  from: NonNullable<Note["from"]>;
  vibrato: boolean;
  bend: number;
  /** Whether the bend is let back. */
  released: boolean;
  harmonic: boolean;
  ghost: boolean;
}

const FROM: Readonly<Record<string, NonNullable<Note["from"]>>> = { h: "hammer", p: "pull", "/": "slide", "\\": "slide", t: "tap" };

/** Signs of one string line between two columns; `odd` lists what was not understood. */
export function cellsOf(body: string, from: number, to: number): { cells: Cell[]; odd: { column: number; sign: string }[] } {
  const cells: Cell[] = [];
  const odd: { column: number; sign: string }[] = [];
  let next: Cell["from"] = "stroke";
  let bracket: "" | "(" | "<" = "";
  for (let column = from; column < to; column++) {
    const sign = (body[column] ?? "-").toLowerCase();
    const last = cells.at(-1);
    if (/\d/.test(sign)) {
      const digits = /^\d{1,2}/.exec(body.slice(column, to))![0];
      if (last && last.bend > 0 && body[column - 1]?.toLowerCase() === "b") {
        // "7b9": the bend's goal, not a note.
        last.bend = Math.min(4, Math.max(1, Number(digits) - (last.fret ?? 0)));
      } else if (last?.released && body[column - 1]?.toLowerCase() === "r") {
        // "7b9r7": where it is let back to, no note of its own.
      } else
        cells.push({
          column,
          width: digits.length,
          fret: Number(digits),
          from: next,
          vibrato: false,
          bend: 0,
          released: false,
          harmonic: bracket === "<",
          ghost: bracket === "(",
        });
      next = "stroke";
      column += digits.length - 1;
    } else if (sign === "x") {
      cells.push({ column, width: 1, fret: null, from: "stroke", vibrato: false, bend: 0, released: false, harmonic: false, ghost: true });
      next = "stroke";
    } else if (sign in FROM) next = FROM[sign]!;
    else if (sign === "~" && last) last.vibrato = true;
    else if (sign === "b" && last) last.bend = 2;
    else if (sign === "r" && last && last.bend > 0) last.released = true;
    else if (sign === "(" || sign === "<") bracket = sign;
    else if (sign === ")" || sign === ">") bracket = "";
    else if (!"-|: *.=r^~".includes(sign)) odd.push({ column, sign });
    else if (sign === "r" || sign === "^") odd.push({ column, sign });
  }
  return { cells, odd };
}
