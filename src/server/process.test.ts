import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { type KilledIn, KillRounds } from "./test/kill-rounds.ts";
import { endServer, type ServerProcess, startServer } from "./test/server-process.ts";

const riff = JSON.parse(readFileSync("demo/1-bilge-pump.resthand.json", "utf8"));
const folder = mkdtempSync(join(tmpdir(), "rest-hand-"));
const running = new Set<ServerProcess>();

afterAll(() => {
  for (const { child } of running) child.kill("SIGKILL");
  rmSync(folder, { recursive: true, force: true });
});

async function start(directory: string, demo = false): Promise<ServerProcess> {
  const server = await startServer(directory, { demo });
  running.add(server);
  return server;
}

async function kill(server: ServerProcess, signal: NodeJS.Signals): Promise<void> {
  await endServer(server, signal);
  running.delete(server);
}

const save = (server: ServerProcess, id: string, version: number, title: string) =>
  fetch(`${server.url}api/passages/${id}`, {
    method: "PUT",
    headers: { "Content-Type": "application/json", "If-Match": `"${version}"` },
    body: JSON.stringify({ ...riff, title }),
  });

describe("the server as a process", () => {
  const directory = join(folder, "library");

  it("keeps every acknowledged save through kill -9, and refuses a second server on its data", async () => {
    const first = await start(directory);
    const made = await fetch(`${first.url}api/passages`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(riff) });
    const { id } = (await made.json()) as { id: string };
    for (let version = 1; version <= 5; version++) expect((await save(first, id, version, `Save ${version}`)).status).toBe(200);

    const second = await start(directory);
    expect(second.child.exitCode).toBe(1);
    expect(second.errors().trim().split("\n")).toHaveLength(1);
    expect(second.errors()).toMatch(/in use by another Rest Hand/);

    await kill(first, "SIGKILL");
    const again = await start(directory);
    const read = (await (await fetch(`${again.url}api/passages/${id}`)).json()) as { version: number; passage: { title: string } };
    expect(read).toMatchObject({ version: 6, passage: { title: "Save 5" } });
    await kill(again, "SIGTERM");
    expect(again.child.exitCode).toBe(0);
  }, 120_000);

  it("starts anew over a creation that was killed half way", async () => {
    const broken = join(folder, "half");
    mkdirSync(join(broken, "library.new"), { recursive: true });
    writeFileSync(join(broken, "library.new", "PG_VERSION"), "half");
    const server = await start(broken, true);
    expect(((await (await fetch(`${server.url}api/passages`)).json()) as unknown[]).length).toBeGreaterThanOrEqual(6);
    expect(existsSync(join(broken, "library.new"))).toBe(false);
    await kill(server, "SIGINT");
    expect(server.child.exitCode).toBe(0);
  }, 120_000);
});

it("twenty times killed in the middle of saves, a backup, a restore, a creation and a migration, it has kept what it promised", async () => {
  const rounds = new KillRounds(join(folder, "rounds"), 16);
  const kinds: KilledIn[] = ["creation", "migration", "migration", "saves", "saves"];
  for (let i = 0; i < 5; i++) kinds.push("saves", "backup", "restore");
  for (const kind of kinds) await rounds.round(kind);
  await rounds.end();
  expect(rounds.broken).toEqual([]);
  expect(rounds.acknowledged).toBeGreaterThan(0);
});
