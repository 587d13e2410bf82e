import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Cluster, startCluster } from "./test/postgres-cluster.ts";
import { ServerRounds } from "./test/server-rounds.ts";

const folder = mkdtempSync(join(tmpdir(), "rest-hand-servers-"));
let cluster: Cluster;
let rounds: ServerRounds;

beforeAll(async () => {
  cluster = await startCluster({ durable: true });
  rounds = new ServerRounds(cluster, folder, 1);
  // Both at once, on a database in which nothing is yet.
  await rounds.begin(2, 8);
});
afterAll(async () => {
  await rounds.end();
  await cluster.remove();
  rmSync(folder, { recursive: true, force: true });
});

it("two servers on one PostgreSQL, killed at random moments under people who save: what was answered is there, once", async () => {
  await rounds.during(async () => {
    for (let kill = 0; kill < 4; kill++) await rounds.endOne("SIGKILL");
  });
  expect(rounds.broken).toEqual([]);
  expect(rounds.acknowledged).toBeGreaterThan(100);
});

it("a database that is stopped and started again costs nobody anything: meanwhile it is said that it is away", async () => {
  const before = rounds.acknowledged;
  for (const how of ["fast", "immediate"] as const) await rounds.during(() => rounds.restartDatabase(how));
  expect(rounds.broken).toEqual([]);
  expect(rounds.away).toBeGreaterThan(0);
  expect(rounds.acknowledged).toBeGreaterThan(before);
});

it("a server that is asked to end answers what was begun", async () => {
  const before = rounds.cut;
  await rounds.during(async () => {
    for (let end = 0; end < 2; end++) await rounds.endOne("SIGTERM");
  });
  expect(rounds.broken).toEqual([]);
  expect(rounds.cut).toBe(before);
});
