import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { pathToFileURL } from "node:url";

/*
 * Plans passages with the engine of a source tree, this one or an older one, and writes the plan documents:
 * `plan.ts ROOT PASSAGES.json PLANS.json`.
 */

const [root = "", from = "", to = ""] = process.argv.slice(2);
const part = (file: string) => import(pathToFileURL(path.join(root, "src/core", file)).href);
const { planPassage } = await part("engine.ts");
const { parsePassage } = await part("passage/parse.ts");
const { settingsOf } = await part("passage/settings.ts");
const { AUDIBLE_DB } = await part("acoustics/constants.ts");

const passages = JSON.parse(readFileSync(from, "utf8")) as { title: string }[];
const plans = passages.map((raw) => {
  const parsed = parsePassage(raw);
  if (!parsed.ok) throw new Error(`${raw.title}: ${parsed.faults[0].place}: ${parsed.faults[0].says}`);
  const { gain } = settingsOf(parsed.value);
  return { plan: planPassage(parsed.value, { why: "nothing" }), gain, audibleDb: AUDIBLE_DB[gain] };
});
writeFileSync(to, JSON.stringify(plans));
