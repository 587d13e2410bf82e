import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { CORE } from "../places.ts";

let known: string | null = null;

/** A sum over the program text that plans depend on: plans that another text has made are not taken for its own. */
export function engineHash(): string {
  known ??= hashOf(CORE);
  return known;
}

function hashOf(folder: string): string {
  const sum = createHash("sha256");
  const files = (readdirSync(folder, { recursive: true }) as string[]).filter((name) => name.endsWith(".ts") && !name.endsWith(".test.ts"));
  for (const name of files.sort()) sum.update(name).update(readFileSync(join(folder, name)));
  return sum.digest("hex");
}
