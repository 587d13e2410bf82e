import type { Fault } from "../../passage/parse.ts";
import { isSigns, isStemLine } from "./lines.ts";

/** One line of a stave: what stands before the first bar line, and the body with its columns. */
export interface StringLine {
  line: number;
  label: string;
  body: string;
}

/** String lines that belong together, with the lines of signs right above and below them. */
export interface Stave {
  strings: StringLine[];
  /** Column of the source line at which the bodies start. */
  startColumn: number;
  above: { line: number; text: string }[];
  below: { line: number; text: string }[];
}

export interface TabSource {
  staves: Stave[];
  /** Lines before the first stave that are no signs: title, tempo, remarks. */
  head: { line: number; text: string }[];
}

export const FEWEST_STRINGS = 4;
export const MOST_STRINGS = 8;

/** A label such as "E", "e", "F#", "Bb2", then a bar line or the first dash. */
const LABEL = /^([A-Ga-g][#b♯♭]?\d?)?(?:\s*[|:‖])?/;
const BODY = /^[-0-9xXhHpPbBrRtT/\\~^()<>|:*.= ]*$/;

/** Finds the staves of a plain-text tablature. Faults name the line. */
export function stavesOf(text: string): { ok: true; source: TabSource } | { ok: false; faults: Fault[] } {
  const lines = text
    .replace(/^\uFEFF/, "")
    .split(/\r\n|\r|\n/)
    .map(expandTabs);
  const staves: Stave[] = [];
  const head: TabSource["head"] = [];
  const faults: Fault[] = [];
  let block: StringLine[] = [];
  let loose: { line: number; text: string }[] = [];
  const close = () => {
    if (block.length === 0) return;
    if (block.length < FEWEST_STRINGS || block.length > MOST_STRINGS)
      faults.push({
        place: `line ${block[0]!.line}`,
        says: `a stave of ${block.length} string lines; an instrument has ${FEWEST_STRINGS} to ${MOST_STRINGS} strings`,
      });
    else {
      staves.push({ strings: block, startColumn: lines[block[0]!.line - 1]!.indexOf(block[0]!.body), above: loose, below: [] });
      loose = [];
    }
    block = [];
  };
  lines.forEach((text_, i) => {
    const found = stringLine(text_, i + 1);
    if (found) {
      block.push(found);
      return;
    }
    const wasOpen = block.length > 0;
    close();
    if (text_.trim() === "") {
      if (staves.length === 0) head.push(...loose.splice(0));
      return;
    }
    const last = staves.at(-1);
    if (last && (wasOpen || (last.below.length > 0 && last.below.at(-1)!.line === i)) && isSigns(text_)) last.below.push({ line: i + 1, text: text_ });
    else loose.push({ line: i + 1, text: text_ });
  });
  close();
  if (staves.length === 0 && faults.length === 0) faults.push({ place: "line 1", says: "no tablature found: a stave is 4 to 8 lines of dashes, one a string" });
  if (faults.length > 0) return { ok: false, faults };
  const first = staves[0]!;
  head.push(...first.above.filter((l) => !isSigns(l.text) && !isInstrumentName(l.text)));
  return { ok: true, source: { staves, head } };
}

function stringLine(text: string, line: number): StringLine | null {
  const written = text.trim();
  // One part after the other: together they would try every way to share long runs of blanks.
  const [lead, label = ""] = LABEL.exec(written)!;
  const rest = written.slice(lead.length);
  const body = lead === label ? rest.trimStart() : rest;
  // Stems of a rhythm line stand in groups with nothing between them.
  if (!BODY.test(body) || (label === "" && isStemLine(written) && /\| {2,}\|/.test(body))) return null;
  const dashes = body.split("-").length - 1;
  if (dashes < 3 || dashes < body.replace(/[^A-Za-z]/g, "").length) return null;
  return { line, label, body };
}

function expandTabs(line: string): string {
  let out = "";
  for (const char of line) out += char === "\t" ? " ".repeat(8 - (out.length % 8)) : char;
  return out;
}

const INSTRUMENT_WORDS = /\b(?:guitar|guitars|gtr|git|bass|bs|acoustic|electric|nylon|classical|baritone)\b/i;

/** Whether a line over a stave names who plays it. */
export function isInstrumentName(text: string): boolean {
  return text.trim().length <= 40 && INSTRUMENT_WORDS.test(text);
}

/** Staves of one instrument, in order. */
export interface TabPart {
  name: string;
  staves: Stave[];
}

/** The instruments of a text: staves belong together by the name over them, else by their strings. */
export function partsOf(staves: readonly Stave[]): TabPart[] {
  const parts: (TabPart & { strings: string })[] = [];
  for (const stave of staves) {
    const strings = stave.strings.map(({ label }) => label.toLowerCase()).join(" ") + stave.strings.length;
    const name = stave.above
      .findLast(({ text }) => isInstrumentName(text))
      ?.text.trim()
      .replace(/:$/, "");
    const known = parts.find((part) => (name === undefined ? part.strings === strings : part.name === name && part.strings === strings));
    if (known) known.staves.push(stave);
    else parts.push({ name: name ?? `${stave.strings.length} strings`, strings, staves: [stave] });
  }
  return parts;
}
