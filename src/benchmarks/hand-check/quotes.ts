import { planStages } from "../../core/engine.ts";
import { parsePassage } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { outcomesOf } from "../../core/verdict/verdict.ts";
import { sequenceOf } from "../preferences/sequences.ts";
import { YARDSTICK } from "../yardstick/passages.ts";
import { READ_LATER } from "./passages.ts";

/*
 * The plans that docs/hand-check.md quotes: under the heading of every passage a block with both hands' postures from the first
 * step to the last, and the strings that ring astray. What a teacher says of them stands below, in his words.
 */

export const CHECKED = "docs/hand-check.md";

const BLOCK = /^### (.+)\n\n```\n([^`]*)```\n/gm;

/** Titles and quoted plans, in order. */
export function quotedIn(text: string): { title: string; quote: string }[] {
  return [...text.matchAll(BLOCK)].map(([, title = "", quote = ""]) => ({ title, quote }));
}

/** The text with every plan quoted as it is now. */
export function quotedAnew(text: string): string {
  return text.replace(BLOCK, (_, title: string) => `### ${title}\n\n\`\`\`\n${quoteOf(passageCalled(title))}\`\`\`\n`);
}

/** A passage of the demo, the yardstick or those read later. */
export function passageCalled(title: string): Passage {
  const demo = demoPassages().find((passage) => passage.title === title);
  if (demo) return demo;
  const parsed = parsePassage([...YARDSTICK, ...READ_LATER].find((raw) => (raw as { title: string }).title === title) ?? {});
  if (!parsed.ok) throw new Error(`no passage "${title}" in the demo, the yardstick or among those read later`);
  return parsed.value;
}

export function quoteOf(passage: Passage): string {
  const planned = planStages(passage);
  const { fretting, picking } = sequenceOf(planned.problem, planned.path);
  const stray = new Set(outcomesOf(planned).flatMap(({ strings }) => strings.filter((s) => s.state === "stray").map((s) => s.string)));
  return `fretting  ${fretting}\npicking   ${picking}\nastray    ${stray.size > 0 ? `string ${[...stray].join(", ")}` : "nothing"}\n`;
}
