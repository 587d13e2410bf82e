import type { Pattern, PatternPlace, PatternSign } from "../passage/pattern.ts";

/** The letters of the notation, written down once more: the reader has a table of its own. */
const LETTERS: Readonly<Record<PatternSign, string>> = {
  strum: "s",
  muted: "m",
  bass: "b",
  treble: "t",
  chuck: "k",
  ghost: "g",
  click: "c",
  air: ".",
  rest: ",",
};

/** Writes a pattern the way it is read. */
export function patternText(pattern: Pattern): string {
  return pattern.map((bar) => bar.map((beat) => beat.map(placeText).join("")).join(" ")).join(" | ");
}

function placeText({ sign, accent, stroke }: PatternPlace): string {
  const letter = accent ? LETTERS[sign].toUpperCase() : LETTERS[sign];
  return `${stroke === "down" ? ">" : stroke === "up" ? "<" : ""}${letter}`;
}
