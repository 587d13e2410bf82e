import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { parsePassageText } from "../core/passage/parse.ts";
import type { Library } from "./library.ts";

/** Puts the demo passages into an empty library; one that holds anything is left as it is. */
export async function loadDemo(library: Library, folder: string): Promise<void> {
  if ((await library.count()) > 0) return;
  const files = readdirSync(folder)
    .filter((name) => name.endsWith(".resthand.json"))
    .sort();
  const passages = files.map((file) => {
    const parsed = parsePassageText(readFileSync(join(folder, file), "utf8"));
    if (!parsed.ok) throw new Error(`demo/${file}: ${parsed.faults[0]!.place}: ${parsed.faults[0]!.says}`);
    return parsed.value;
  });
  await library.createAll(passages);
}
