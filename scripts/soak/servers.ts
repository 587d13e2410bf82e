import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startCluster } from "../../src/server/test/postgres-cluster.ts";
import { ServerRounds } from "../../src/server/test/server-rounds.ts";
import type { SoakOptions } from "./main.ts";

/** People who save without a pause, and how often a server is killed under them. */
const PEOPLE = 50;
const MOST_KILLS = 100;
/** After so many it is looked whether everything is there. */
const KILLS_AT_ONCE = 10;

/** Two servers on one PostgreSQL are killed at random moments, and the database is restarted: what was answered is there, once. */
export async function losesNothingAmongServers({ rounds, seed }: SoakOptions): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), "rest-hand-soak-servers-"));
  const cluster = await startCluster({ durable: true });
  const all = new ServerRounds(cluster, folder, seed);
  try {
    await all.begin(2, PEOPLE);
    const kills = Math.min(MOST_KILLS, rounds);
    for (let done = 0; done < kills; done += KILLS_AT_ONCE) {
      await all.during(async () => {
        for (let kill = 0; kill < Math.min(KILLS_AT_ONCE, kills - done); kill++) await all.endOne("SIGKILL");
      });
      process.stdout.write(
        `${Math.min(done + KILLS_AT_ONCE, kills)} kills, ${all.acknowledged} saves answered, ${all.cut} requests cut off, ${all.broken.length} broken\n`,
      );
    }
    for (const how of ["fast", "immediate", "fast", "immediate"] as const) await all.during(() => all.restartDatabase(how));
    process.stdout.write(`the database was restarted four times: ${all.acknowledged} saves answered, ${all.away} times "not just now"\n`);
  } finally {
    await all.end();
    await cluster.remove();
  }
  return [...all.broken, ...(await onAFullDisk(folder, seed))];
}

/** The disk of the database is full for a while: nobody is told that something was saved which was not. */
async function onAFullDisk(folder: string, seed: number): Promise<string[]> {
  if (process.getuid?.() !== 0) {
    process.stdout.write("left out: a full disk: only root can make one\n");
    return [];
  }
  const disk = mkdtempSync(join(tmpdir(), "rest-hand-small-disk-"));
  execFileSync("mount", ["-t", "tmpfs", "-o", "size=160m,mode=0777", "tmpfs", disk]);
  const cluster = await startCluster({ durable: true, under: disk, settings: ["max_wal_size=32MB", "min_wal_size=32MB"] });
  const all = new ServerRounds(cluster, folder, seed);
  const filler = join(disk, "filler");
  try {
    await all.begin(2, 8);
    const fill = () => {
      try {
        writeFileSync(filler, Buffer.alloc(200_000_000));
      } catch {
        // Full is what it is to be.
      }
    };
    await all.during(() => all.fillDisk(fill, () => rmSync(filler)));
    process.stdout.write(`a full disk: ${all.acknowledged} saves answered, ${all.away} times "not just now": ${[...all.reasons].join(" / ")}\n`);
    if (all.away === 0) all.fail("a full disk was not noticed");
  } finally {
    await all.end();
    await cluster.remove();
    execFileSync("umount", [disk]);
    rmSync(disk, { recursive: true });
  }
  return all.broken;
}
