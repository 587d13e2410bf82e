import type { Fault } from "../../passage/parse.ts";

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
  const count = staves[0]?.strings.length;
  for (const stave of staves)
    if (stave.strings.length !== count)
      faults.push({ place: `line ${stave.strings[0]!.line}`, says: `this stave has ${stave.strings.length} strings, the first one ${count}` });
  if (faults.length > 0) return { ok: false, faults };
  const first = staves[0]!;
  head.push(...first.above.filter((l) => !isSigns(l.text)));
  return { ok: true, source: { staves, head } };
}

function stringLine(text: string, line: number): StringLine | null {
  const written = text.trim();
  // One part after the other: together they would try every way to share long runs of blanks.
  const [lead, label = ""] = LABEL.exec(written)!;
  const rest = written.slice(lead.length);
  const body = lead === label ? rest.trimStart() : rest;
  if (!BODY.test(body)) return null;
  const dashes = body.split("-").length - 1;
  if (dashes < 3 || dashes < body.replace(/[^A-Za-z]/g, "").length) return null;
  return { line, label, body };
}

/** Whether a line between staves carries signs (counts, strokes, palm-mute spans) rather than words. */
export function isSigns(text: string): boolean {
  return isPalmLine(text) || isCountLine(text) || isStrokeLine(text) || isMeterLine(text);
}

export function isPalmLine(text: string): boolean {
  return /^[\sPMpm.\-|_]*$/.test(text) && /P\.?M\.?/i.test(text);
}

/** Meters such as "3/4" over the bars they begin at. */
export function isMeterLine(text: string): boolean {
  return /^\s*\d{1,2}\/\d{1,2}(\s+\d{1,2}\/\d{1,2})*\s*$/.test(text);
}

export function isCountLine(text: string): boolean {
  return /^[\s\d&+ea|]*$/.test(text) && /\d/.test(text);
}

export function isStrokeLine(text: string): boolean {
  return /^[\sDUdu|]*$/.test(text) && /[DUdu]/.test(text);
}

function expandTabs(line: string): string {
  let out = "";
  for (const char of line) out += char === "\t" ? " ".repeat(8 - (out.length % 8)) : char;
  return out;
}
