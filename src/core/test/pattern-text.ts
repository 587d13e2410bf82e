import type { Pattern, PatternPlace, PatternSign } from "../passage/pattern.ts";

/** The letters of the notation, written down once more: the reader has a table of its own. */
const LETTERS: Readonly<Record<Exclude<PatternSign, "strings" | "through" | "fingers">, string>> = {
  strum: "s",
  muted: "m",
  bass: "b",
  walk: "w",
  treble: "t",
  chuck: "k",
  ghost: "g",
  "dead-bass": "x",
  click: "c",
  air: ".",
  tie: "_",
  rest: ",",
};

/** Writes a pattern the way it is read. */
export function patternText(pattern: Pattern): string {
  return pattern.map((bar) => bar.map((beat) => beat.map(placeText).join("")).join(" ")).join(" | ");
}

function placeText(place: PatternPlace): string {
  return `${place.stroke === "down" ? ">" : place.stroke === "up" ? "<" : ""}${signText(place)}`;
}

function signText({ sign, accent, strings = [], fingers = [] }: PatternPlace): string {
  const mark = accent ? "!" : "";
  if (sign === "strings") return `${strings.length === 1 ? strings[0] : `(${strings.join("")})`}${mark}`;
  if (sign === "through") return `[${strings.join("")}]${mark}`;
  if (sign === "fingers") return `(${fingers.join("")})${mark}`;
  return accent ? LETTERS[sign].toUpperCase() : LETTERS[sign];
}
