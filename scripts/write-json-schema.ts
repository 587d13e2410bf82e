import { writeFileSync } from "node:fs";
import { z } from "zod";
import { passageSchema } from "../src/core/passage/schema.ts";

/** Writes the passage document's JSON Schema; a test compares it with the Zod schema it comes from. */
export function passageJsonSchema(): string {
  return `${JSON.stringify(z.toJSONSchema(passageSchema, { io: "input" }), null, 2)}\n`;
}

if (process.argv[1]?.endsWith("write-json-schema.ts")) writeFileSync("docs/passage.schema.json", passageJsonSchema());
