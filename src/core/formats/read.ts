import type { Parsed } from "../passage/parse.ts";
import { parsePassageText } from "../passage/parse.ts";
import { readTab, type TabRead } from "./tab/read.ts";

/** Reads a passage from text: a passage document when it starts like JSON, else tablature. */
export function readPassage(text: string, options: { part?: number | undefined } = {}): Parsed<TabRead> {
  if (isDocument(text)) {
    const parsed = parsePassageText(text);
    return parsed.ok ? { ok: true, value: { passage: parsed.value, remarks: [], parts: [] } } : parsed;
  }
  return readTab(text, options);
}

/** Whether a text starts as JSON does. */
export function isDocument(text: string): boolean {
  return /^\uFEFF?\s*[{[]/.test(text);
}
