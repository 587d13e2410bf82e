import { readFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { NOT_PLANNED_YET, planWithCeiling } from "../core/engine.ts";
import { readPassage } from "../core/formats/read.ts";
import { parsePassage } from "../core/passage/parse.ts";
import type { Passage } from "../core/passage/schema.ts";
import { planText } from "./plan-text.ts";

/** Exit codes: 0 done, 1 usage, 2 bad input, 3 stray rings remain (--strict). */
const USAGE = `Usage: npm run --silent cli -- plan FILE [options]

Plans the damping of a passage (passage document or plain-text tablature).

  --json            the plan document on stdout and nothing else
  --tempo N         quarters a minute instead of the passage's tempo
  --set KEY=VALUE   a player setting, or gain, or ring; may be repeated
  --strict          exit 3 when stray rings remain or steps are not planned yet
  --why             reasons for every contact that is not used`;

process.exitCode = main(process.argv.slice(2));

function main(args: string[]): number {
  let parsed: ReturnType<typeof readArgs>;
  try {
    parsed = readArgs(args);
  } catch (error) {
    return usage((error as Error).message);
  }
  const { values, positionals } = parsed;
  if (values.help) {
    process.stdout.write(`${USAGE}\n`);
    return 0;
  }
  const [command, file, ...rest] = positionals;
  if (command !== "plan") return usage(command ? `unknown command "${command}"` : "no command");
  if (!file || rest.length > 0) return usage("plan takes one file");
  const read = readFile(file);
  if (typeof read === "number") return read;
  const changed = withOptions(read, values);
  if (typeof changed === "string") return usage(changed);
  const plan = planWithCeiling(changed, { why: values.why ? "everything" : "strays" });
  process.stdout.write(values.json ? `${JSON.stringify(plan, null, 2)}\n` : planText(changed, plan));
  const unplanned = plan.issues.some((issue) => issue.code === NOT_PLANNED_YET);
  return values.strict && (plan.strays.length > 0 || unplanned) ? 3 : 0;
}

function readArgs(args: string[]) {
  return parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: "boolean", default: false },
      tempo: { type: "string" },
      set: { type: "string", multiple: true, default: [] },
      strict: { type: "boolean", default: false },
      why: { type: "boolean", default: false },
      help: { type: "boolean", short: "h", default: false },
    },
  });
}

function usage(problem: string): number {
  process.stderr.write(`${problem}\n\n${USAGE}\n`);
  return 1;
}

function readFile(file: string): Passage | number {
  let text: string;
  try {
    text = readFileSync(file, "utf8");
  } catch (error) {
    process.stderr.write(`${file}: cannot be read (${(error as NodeJS.ErrnoException).code ?? "error"})\n`);
    return 2;
  }
  const read = readPassage(text);
  if (!read.ok) {
    const [first, ...more] = read.faults;
    const rest = more.length > 0 ? ` (and ${more.length} more)` : "";
    process.stderr.write(`${file}: ${first!.place}: ${first!.says}${rest}\n`);
    return 2;
  }
  for (const remark of read.value.remarks) process.stderr.write(`${file}: ${remark.place}: ${remark.says}\n`);
  return read.value.passage;
}

/** The passage with the command line's changes; a text says what is wrong with them. */
function withOptions(passage: Passage, values: { tempo?: string | undefined; set: string[] }): Passage | string {
  const raw = structuredClone(passage) as unknown as { tempo: number; player: Record<string, unknown>; [key: string]: unknown };
  if (values.tempo !== undefined) raw.tempo = Number(values.tempo);
  for (const pair of values.set) {
    const match = /^([A-Za-z.]+)=(.+)$/.exec(pair);
    if (!match) return `--set takes KEY=VALUE, not "${pair}"`;
    const [, key, text] = match as unknown as [string, string, string];
    const value = /^\d+(\.\d+)?$/.test(text) ? Number(text) : text;
    if (key === "gain" || key === "ring") raw[key] = value;
    else if (key.startsWith("moveMs.")) raw.player.moveMs = { ...(raw.player.moveMs as object), [key.slice(7)]: value };
    else raw.player[key] = value;
  }
  const checked = parsePassage(raw);
  if (checked.ok) return checked.value;
  const fault = checked.faults[0]!;
  return `option not accepted: ${fault.place.replace(/^\/(player\/)?/, "")}: ${fault.says}`;
}
