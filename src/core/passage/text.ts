import { z } from "zod";

/**
 * What is no text: control characters but tab and line ends, halves of characters, and two code points that are none. Text without
 * them can be kept by PostgreSQL and written as XML (XML 1.0, production 2).
 */
const NO_TEXT = /[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu;

/** The same text without what is none: half a character leaves its sign behind, the others nobody has seen. */
export function asText(text: string): string {
  return text.replace(NO_TEXT, (sign) => (sign >= "\uD800" && sign <= "\uDFFF" ? "\uFFFD" : ""));
}

/** Any text of somebody's, so long at most. */
export function textSchema(most: number, least = 0) {
  const text = z.string().overwrite(asText).max(most);
  return least > 0 ? text.min(least) : text;
}
