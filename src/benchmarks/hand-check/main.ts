import { readFileSync, writeFileSync } from "node:fs";
import { CHECKED, quotedAnew } from "./quotes.ts";

/** Quotes the present plans in docs/hand-check.md anew. What stands below them has to be read again by whoever runs this. */
writeFileSync(CHECKED, quotedAnew(readFileSync(CHECKED, "utf8")));
