import { execFileSync, spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { fileURLToPath } from "node:url";
import type { PlanDocument } from "../../core/document/plan.ts";
import { planPassage } from "../../core/engine.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { glanceOf } from "../../core/words/actions.ts";
import { wordsIn } from "../../core/words/figures.ts";
import { added, type Counts, countsOf, NOTHING, OLD_AUDIBLE_DB } from "./count.ts";
import { HANDS } from "./figures.ts";
import { YARDSTICK } from "./passages.ts";

/** The fixed yardstick: 150 passages planned as at a commit of long ago and as now, counted alike. Nothing here passes or fails. */

/** The planner that all later ones are judged by. */
const BASE = "e0eb02e";
const ROOT = process.cwd();
const PLANNER = fileURLToPath(new URL("plan.ts", import.meta.url));

interface YardstickPlan {
  plan: PlanDocument;
  gain: string;
  audibleDb: number;
}

/** `then`: what the old planner is counted by, where it had no such figure. */
const ROWS: readonly { says: string; of(counts: Counts): number; then?: (counts: Counts) => number; digits: number }[] = [
  { says: "quiet strings held and then left bare, a step", of: (c) => c.bare / c.steps, digits: 3 },
  { says: "stray rings of 10 dB and more", of: (c) => c.loud, digits: 0 },
  { says: "contacts put down, a bar", of: (c) => c.contacts / c.bars, digits: 1 },
  { says: "gestures a bar, beside contacts put down then", of: (c) => c.gestures / c.bars, then: (c) => c.contacts / c.bars, digits: 1 },
  { says: "words, a step", of: (c) => c.words / c.steps, digits: 1 },
];

const scratch = mkdtempSync(path.join(tmpdir(), "yardstick-"));
try {
  const passages = path.join(scratch, "passages.json");
  writeFileSync(passages, JSON.stringify(YARDSTICK));
  const base = baseTree();
  const [old, now] = [base, ROOT].map((root, i) => (root ? counted(plansOf(root, passages, i)) : null));
  process.stdout.write(`\nYardstick: ${YARDSTICK.length} passages, ${BASE} | now\n`);
  for (const group of [...HANDS, "all"]) {
    const [a, b] = [old?.get(group), now!.get(group)!];
    process.stdout.write(`${group}: ${b.passages} passages, ${b.bars} bars, ${b.steps} steps\n`);
    for (const { says, of, then = of, digits } of ROWS) {
      const values = [a ? then(a) : null, of(b)] as const;
      const share = values[0] ? `   ${Math.round((100 * values[1]) / values[0])}%` : "";
      process.stdout.write(`  ${says.padEnd(56)} ${values.map((v) => (v === null ? "-" : v.toFixed(digits)).padStart(8)).join(" | ")}${share}\n`);
    }
  }
  process.stdout.write(`${atAGlance()}\n`);
} finally {
  rmSync(scratch, { recursive: true });
}

/** The old planner's source, beside this one's packages; null where the repository does not reach back so far. */
function baseTree(): string | null {
  const tree = path.join(scratch, "base");
  try {
    const archive = execFileSync("git", ["archive", "--prefix=base/", BASE, "src", "package.json", "tsconfig.json"], { cwd: ROOT, maxBuffer: 1e9 });
    execFileSync("tar", ["x", "-C", scratch], { input: archive });
  } catch {
    process.stdout.write(`\n${BASE} is not in this clone: its column stays empty.\n`);
    return null;
  }
  symlinkSync(path.join(ROOT, "node_modules"), path.join(tree, "node_modules"));
  return tree;
}

function plansOf(root: string, passages: string, i: number): YardstickPlan[] {
  const plans = path.join(scratch, `plans-${i}.json`);
  const done = spawnSync(process.execPath, ["--import", "tsx", PLANNER, root, passages, plans], { cwd: ROOT, stdio: "inherit" });
  if (done.status !== 0) throw new Error(`the planner of ${root} failed`);
  return JSON.parse(readFileSync(plans, "utf8")) as YardstickPlan[];
}

/** How many steps of the demos the Stand says in at most six words a hand. */
function atAGlance(): string {
  const steps = demoPassages().flatMap((passage) => planPassage(passage, { why: "nothing" }).steps);
  const short = steps.filter(({ actions }) => (["fretting", "picking"] as const).every((hand) => wordsIn(glanceOf(actions, hand)) <= 6));
  return `On the stand ${short.length} of ${steps.length} steps of the demos take at most six words a hand (${((100 * short.length) / steps.length).toFixed(1)}%).`;
}

/** Sums by whose work it is, and of all. */
function counted(plans: readonly YardstickPlan[]): Map<string, Counts> {
  const sums = new Map<string, Counts>();
  plans.forEach(({ plan, gain, audibleDb }, i) => {
    const { title, bars } = YARDSTICK[i] as { title: string; bars: unknown[] };
    const own = countsOf(plan, bars.length, audibleDb - OLD_AUDIBLE_DB[gain]!);
    for (const group of [title.split(":")[0]!, "all"]) sums.set(group, added(sums.get(group) ?? NOTHING, own));
  });
  return sums;
}
