import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { MUTANTS, type Mutant } from "./list.ts";

/*
 * Switches off one row of the catalogue or one condition of the engine at a time, in a copy, and runs the tests that state
 * facts of the trade. A mutant that no test notices is a condition nobody defends: exit 1.
 *
 *   npm run mutants                  all of them, into docs/mutants.md
 *   npm run mutants -- WORDS …       those whose name has one of the words; the others keep their rows
 *   npm run mutants -- --stale       those whose row or file is another than in docs/mutants.md
 *                      --limit       for at most MOST_MS, and writes nothing: what CI does with the stale ones
 */

const ROOT = process.cwd();
const TABLE = "docs/mutants.md";
/** CI's share of time for what a change touches; what is left then is said. */
const MOST_MS = 100_000;

const TESTS = [
  "settings.test.ts",
  "trade.test.ts",
  "shapes/shapes.test.ts",
  "silly-plans.test.ts",
  "pins.test.ts",
  "engine.test.ts",
  "facts.test.ts",
  "one-technique.test.ts",
  "verdict/ceiling.test.ts",
  "hands",
  "grips",
  "hazards",
  "acoustics",
  "timeline",
];

const args = process.argv.slice(2);
const isStale = args.includes("--stale");
const isLimited = args.includes("--limit");
const words = args.filter((arg) => !arg.startsWith("--"));
checkPlaces();
const judged = readTable();
const chosen = MUTANTS.filter((m) => (isStale ? isOpen(m) : words.length === 0 || words.some((w) => m.name.includes(w))));
const began = Date.now();
const queue = [...chosen];
const found = new Map<string, string | null>();
await Promise.all([worker(), worker()]);
const survivors = [...found].filter(([, by]) => by === null).map(([name]) => name);
process.stdout.write(
  `\n${found.size - survivors.length} of ${found.size} mutants noticed${chosen.length > found.size ? `, ${chosen.length - found.size} left for a whole run` : ""}\n`,
);
for (const name of survivors) process.stdout.write(`not noticed: ${name}\n`);
if (!isLimited) writeTable();
process.exit(survivors.length > 0 ? 1 : 0);

/** Every mutant finds its place, and once; else it would switch off nothing. */
function checkPlaces(): void {
  for (const { name, file, from } of MUTANTS)
    if (readFileSync(path.join(ROOT, file), "utf8").split(from).length !== 2) throw new Error(`"${name}" no longer finds its place in ${file}`);
}

/** Judged on another text than it has now, or noticed by nobody the last time: a survivor stays a question until a test answers it. */
function isOpen(mutant: Mutant): boolean {
  const last = judged.get(mutant.name);
  return last?.print !== printOf(mutant) || last.by === "**nobody**";
}

/** Takes mutants off the queue in a copy of its own. */
async function worker(): Promise<void> {
  if (queue.length === 0) return;
  const copy = mkdtempSync(path.join(tmpdir(), "mutants-"));
  for (const part of ["src", "demo", "docs", "scripts", "package.json", "tsconfig.json", "vitest.config.ts"])
    cpSync(path.join(ROOT, part), path.join(copy, part), { recursive: true });
  symlinkSync(path.join(ROOT, "node_modules"), path.join(copy, "node_modules"));
  try {
    for (let mutant = queue.shift(); mutant; mutant = queue.shift()) {
      if (isLimited && Date.now() - began > MOST_MS) return;
      await judge(copy, mutant);
    }
  } finally {
    rmSync(copy, { recursive: true });
  }
}

async function judge(copy: string, { name, file, from, to, tests = TESTS }: Mutant): Promise<void> {
  const target = path.join(copy, file);
  const original = readFileSync(target, "utf8");
  writeFileSync(
    target,
    original.replace(from, () => to),
  );
  const by = await noticedBy(copy, tests);
  writeFileSync(target, original);
  found.set(name, by);
  process.stdout.write(`${by === null ? "SURVIVES" : "noticed "}  ${name}${by === null ? "" : `  (${by})`}\n`);
}

interface Report {
  testResults: { name: string; message?: string; assertionResults: { title: string; status: string }[] }[];
}

/** The first test that fails; null when all pass. */
function noticedBy(copy: string, tests: readonly string[]): Promise<string | null> {
  const report = path.join(copy, "report.json");
  rmSync(report, { force: true });
  const vitest = ["node_modules/vitest/vitest.mjs", "run", "--bail", "1", "--reporter=json", `--outputFile=${report}`, ...tests.map((t) => `src/core/${t}`)];
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, vitest, { cwd: copy, stdio: "ignore" });
    child.on("exit", (code) => {
      if (code === 0) return resolve(null);
      if (!existsSync(report)) return reject(new Error("the tests do not start"));
      const { testResults } = JSON.parse(readFileSync(report, "utf8")) as Report;
      for (const file of testResults) {
        const failed = file.assertionResults.find((test) => test.status === "failed");
        if (failed) return resolve(`${path.basename(file.name)}: ${failed.title}`);
      }
      const broken = testResults.find((file) => file.message)?.message?.split("\n")[0];
      return reject(new Error(`a mutant that does not run proves nothing: ${broken ?? "no test failed"}`));
    });
  });
}

/** What a mutant's judgement holds for. */
function printOf({ file, row, from, to }: Mutant): string {
  const text = row ?? readFileSync(path.join(ROOT, file), "utf8");
  return createHash("sha256").update(text).update(from).update(to).digest("hex").slice(0, 10);
}

function readTable(): Map<string, { by: string; print: string }> {
  if (!existsSync(TABLE)) return new Map();
  const rows = readFileSync(TABLE, "utf8").matchAll(/^\| (.+?) +\| (.+?) +\| `([0-9a-f]{10})` \|$/gm);
  return new Map([...rows].map(([, name, by, print]) => [name!, { by: by!, print: print! }]));
}

function writeTable(): void {
  const rows = MUTANTS.flatMap((mutant) => {
    const now = found.has(mutant.name)
      ? { by: (found.get(mutant.name) ?? "**nobody**").replaceAll("|", "/"), print: printOf(mutant) }
      : judged.get(mutant.name);
    return now ? [`| ${mutant.name} | ${now.by} | \`${now.print}\` |`] : [];
  });
  const noticed = rows.filter((row) => !row.includes("**nobody**")).length;
  writeFileSync(
    TABLE,
    `# Mutants

Each row of the catalogue of the hands and each condition of the engine, switched off in turn (\`npm run mutants\`, list in
\`scripts/mutants/list.ts\`), and the first test that noticed. ${noticed} of ${MUTANTS.length} were noticed. The print says which
text was judged; \`npm test\` judges again what has another by now.

| switched off | noticed by | print |
| --- | --- | --- |
${rows.join("\n")}
`,
  );
  spawnSync("node_modules/.bin/biome", ["format", "--write", TABLE], { stdio: "ignore" });
}
