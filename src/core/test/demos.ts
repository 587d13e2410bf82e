import { readdirSync, readFileSync } from "node:fs";
import { parsePassageText } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";

/** The demo tunes, in order of their files. */
export function demoPassages(): Passage[] {
  return readdirSync("demo")
    .filter((file) => file.endsWith(".resthand.json"))
    .map((file) => {
      const parsed = parsePassageText(readFileSync(`demo/${file}`, "utf8"));
      if (!parsed.ok) throw new Error(`${file}: ${parsed.faults[0]!.place}: ${parsed.faults[0]!.says}`);
      return parsed.value;
    });
}
