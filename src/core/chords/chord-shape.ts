/** A chord as it lies on the neck: one fret per string, string 1 first; null is a string that is not meant to sound. */
export type ChordShape = readonly (number | null)[];

export type ChordShapeResult = { ok: true; shape: ChordShape } | { ok: false; says: string };

/**
 * Reads a shape written from the lowest string up, as players do: "x02210", or with blanks where a fret has two digits,
 * "x 10 12 12 11 x". An x is a string that is not meant to sound.
 */
export function parseChordShape(text: string, strings: number): ChordShapeResult {
  const written = text.trim().toLowerCase();
  const marks = /\s/.test(written) ? written.split(/\s+/) : [...written];
  const wrong = marks.find((mark) => !/^(x|\d{1,2})$/.test(mark));
  if (wrong !== undefined) return { ok: false, says: `"${wrong}" is neither a fret nor an x` };
  if (marks.length !== strings) return { ok: false, says: `a shape here needs ${strings} places, lowest string first; this one has ${marks.length}` };
  if (marks.every((mark) => mark === "x")) return { ok: false, says: "no string of this shape sounds" };
  return { ok: true, shape: marks.map((mark) => (mark === "x" ? null : Number(mark))).reverse() };
}

/** Writes a shape the way `parseShape` reads it. */
export function chordShapeText(shape: ChordShape): string {
  const marks = [...shape].reverse().map((fret) => (fret === null ? "x" : String(fret)));
  return marks.join(marks.some((mark) => mark.length > 1) ? " " : "");
}

/** Whether a text is meant as a shape rather than as a name. */
export function looksLikeChordShape(text: string): boolean {
  return /^[x\d\s]+$/i.test(text.trim());
}

/** What a shape plays, lowest string first. */
export function notesOfChordShape(shape: ChordShape): { string: number; fret: number }[] {
  return shape.flatMap((fret, s) => (fret === null ? [] : [{ string: s + 1, fret }])).reverse();
}
