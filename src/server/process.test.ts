import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";

const riff = JSON.parse(readFileSync("demo/1-bilge-pump.resthand.json", "utf8"));
const folder = mkdtempSync(join(tmpdir(), "rest-hand-"));
const running = new Set<ChildProcess>();

afterAll(() => {
  for (const child of running) child.kill("SIGKILL");
  rmSync(folder, { recursive: true, force: true });
});

interface Server {
  child: ChildProcess;
  url: string;
  errors: () => string;
}

/** Starts the real server as a process of its own on a free port; resolves when it says it is ready or ends. */
async function start(directory: string, demo = false): Promise<Server & { code: number | null }> {
  const code = `import("./src/server/main.ts").then((m) => m.serve({ demo: ${demo} }))`;
  const child = spawn(process.execPath, ["--import", "tsx", "-e", code], {
    env: { ...process.env, PORT: "0", HOST: "127.0.0.1", DATA_DIR: directory },
    stdio: ["ignore", "pipe", "pipe"],
  });
  running.add(child);
  let out = "";
  let errors = "";
  child.stderr!.on("data", (chunk) => {
    errors += chunk;
  });
  const ready = new Promise<string>((resolve) => {
    child.stdout!.on("data", (chunk) => {
      out += chunk;
      const match = /Ready: (http:\S+)/.exec(out);
      if (match) resolve(match[1]!);
    });
  });
  const ended = once(child, "exit").then(() => "");
  const url = await Promise.race([ready, ended]);
  return { child, url, errors: () => errors, code: child.exitCode };
}

async function kill({ child }: Server, signal: NodeJS.Signals): Promise<void> {
  const gone = child.exitCode === null && child.signalCode === null ? once(child, "exit") : Promise.resolve();
  child.kill(signal);
  await gone;
  running.delete(child);
}

const save = (server: Server, id: string, version: number, title: string) =>
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
    expect(second.code).toBe(1);
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
