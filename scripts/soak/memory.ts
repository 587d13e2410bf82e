import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as after } from "node:timers/promises";
import { startCluster } from "../../src/server/test/postgres-cluster.ts";
import { ServerRounds } from "../../src/server/test/server-rounds.ts";
import type { SoakOptions } from "./main.ts";

const PEOPLE = 20;
/** Pages that listen at a time, each for so long, in ms. */
const PAGES = 20;
const LISTENS_MS = 4_000;
const LOOK_MS = 5_000;
/** Caches fill and code is compiled in the first part of the run; from then on a server grows by less than this share. */
const WARM_SHARE = 0.4;
const MOST_GROWTH = 0.1;

/** Minutes of two servers on one PostgreSQL under people who save without a pause and pages that come and go: memory does not grow. */
export async function staysAsSmallAsItIs({ seed, minutes }: SoakOptions): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "rest-hand-memory-"));
  const cluster = await startCluster();
  const rounds = new ServerRounds(cluster, folder, seed);
  const seen: number[][] = [];
  try {
    await rounds.begin(2, PEOPLE);
    const until = performance.now() + minutes * 60_000;
    await rounds.during(async () => {
      const page = async () => {
        while (performance.now() < until) await rounds.hear(LISTENS_MS);
      };
      const watch = async () => {
        while (performance.now() < until) {
          await after(LOOK_MS);
          seen.push(rounds.memoryMb());
        }
      };
      await Promise.all([watch(), ...Array.from({ length: PAGES }, page)]);
    });
    const broken = [...rounds.broken];
    for (const server of [0, 1]) {
      const warm = seen.slice(Math.floor(WARM_SHARE * seen.length)).map((all) => all[server]!);
      const half = Math.floor(warm.length / 2);
      const [first, second] = [middle(warm.slice(0, half)), middle(warm.slice(half))];
      process.stdout.write(
        `server ${server + 1}: ${seen[0]![server]!.toFixed(0)} MB at first, then ${first.toFixed(0)} and ${second.toFixed(0)} MB (medians), ${Math.max(...warm).toFixed(0)} at most\n`,
      );
      if (second > first * (1 + MOST_GROWTH)) broken.push(`server ${server + 1} grew from ${first.toFixed(0)} to ${second.toFixed(0)} MB`);
    }
    process.stdout.write(`${rounds.acknowledged} saves answered\n`);
    return broken;
  } finally {
    await rounds.end();
    await cluster.remove();
    rmSync(folder, { recursive: true, force: true });
  }
}

function middle(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
}
