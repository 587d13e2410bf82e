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
const LOOK_MS = 60_000;
/** Until what is not needed has been given back. */
const COOLING_MS = 45_000;
/** From the first half of the run to the second a server that rests again has grown by less than this share. */
const MOST_GROWTH = 0.1;

/**
 * Minutes of two servers on one PostgreSQL under people who save without a pause and pages that come and go, in two halves: after the
 * second a server takes no more memory than after the first. What it takes meanwhile is told; V8 takes what it is let.
 */
export async function staysAsSmallAsItIs({ seed, minutes }: SoakOptions): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "rest-hand-memory-"));
  const cluster = await startCluster();
  const rounds = new ServerRounds(cluster, folder, seed);
  const resting: number[][] = [];
  const inWords = (all: readonly number[]) => all.map((mb) => mb.toFixed(0)).join(" and ");
  try {
    await rounds.begin(2, PEOPLE);
    for (const half of ["first", "second"]) {
      const until = performance.now() + minutes * 30_000;
      await rounds.during(async () => {
        const page = async () => {
          while (performance.now() < until) await rounds.hear(LISTENS_MS);
        };
        const watch = async () => {
          while (performance.now() < until) {
            await after(Math.min(LOOK_MS, until - performance.now()));
            process.stdout.write(`${rounds.acknowledged} saves answered, ${inWords(rounds.memoryMb())} MB\n`);
          }
        };
        await Promise.all([watch(), ...Array.from({ length: PAGES }, page)]);
      });
      await after(COOLING_MS);
      resting.push(rounds.memoryMb());
      process.stdout.write(`at rest after the ${half} half: ${inWords(resting.at(-1)!)} MB\n`);
    }
    const [first, second] = resting as [number[], number[]];
    const grown = first.flatMap((mb, server) => (second[server]! > mb * (1 + MOST_GROWTH) ? [`server ${server + 1} has grown`] : []));
    return [...rounds.broken, ...grown];
  } finally {
    await rounds.end();
    await cluster.remove();
    rmSync(folder, { recursive: true, force: true });
  }
}
