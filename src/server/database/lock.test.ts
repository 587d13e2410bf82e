import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { mkdirSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { connect } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { afterAll, afterEach, describe, expect, it } from "vitest";
import { DirectoryInUse, lockDirectory } from "./lock.ts";

const root = mkdtempSync(join(tmpdir(), "rest-hand-lock-"));
const children = new Set<ChildProcess>();
afterEach(async () => {
  for (const child of children) child.kill("SIGKILL");
  children.clear();
});
afterAll(() => rmSync(root, { recursive: true, force: true }));

const fresh = () => mkdtempSync(join(root, "data-"));
const LOCK = pathToFileURL(join(import.meta.dirname, "lock.ts")).href;

/** A process that takes the lock and holds it; says "got" or "busy". In a network namespace of its own where asked. */
async function holder(directory: string, alone = false): Promise<{ child: ChildProcess; says: string }> {
  const code = `import(${JSON.stringify(LOCK)}).then((m) => m.lockDirectory(${JSON.stringify(directory)})).then(() => { console.log("got"); setInterval(() => {}, 1000); }, (e) => { console.log(e.name === "Error" && /in use/.test(e.message) ? "busy" : e.message); process.exit(1); })`;
  const node = [process.execPath, "--import", "tsx", "-e", code];
  const [command, ...args] = alone ? ["unshare", "-n", ...node] : node;
  const child = spawn(command!, args, { stdio: ["ignore", "pipe", "inherit"] });
  children.add(child);
  const [said] = (await once(child.stdout!, "data")) as [Buffer];
  return { child, says: said.toString().trim() };
}

describe("a data directory", () => {
  it("is held by one process alone, and free once that lets go", async () => {
    const directory = fresh();
    const first = await lockDirectory(directory);
    await expect(lockDirectory(directory)).rejects.toBeInstanceOf(DirectoryInUse);
    await first.release();
    const second = await lockDirectory(directory);
    await second.release();
  });
  it("leaves no heap of old locks behind", async () => {
    const directory = fresh();
    for (let k = 0; k < 5; k++) await (await lockDirectory(directory)).release();
    expect(readdirSync(join(directory, "lock"))).toEqual(["5.lock"]);
  });
  it("is free again after kill -9", async () => {
    const directory = fresh();
    const { child, says } = await holder(directory);
    expect(says).toBe("got");
    await expect(lockDirectory(directory)).rejects.toBeInstanceOf(DirectoryInUse);
    const gone = once(child, "exit");
    child.kill("SIGKILL");
    await gone;
    await (await lockDirectory(directory)).release();
  });
  it("stays held while its holder is too busy to answer anybody, however many ask", async () => {
    const directory = fresh();
    const { child, says } = await holder(directory);
    expect(says).toBe("got");
    // Stopped, it accepts nothing: those who ask wait in the kernel's queue until that is full.
    child.kill("SIGSTOP");
    const [name] = readdirSync(join(directory, "lock"));
    const asking = Array.from({ length: 700 }, () => connect(join(directory, "lock", name!)).on("error", () => {}));
    try {
      await new Promise((resolve) => setImmediate(resolve));
      await expect(lockDirectory(directory)).rejects.toBeInstanceOf(DirectoryInUse);
    } finally {
      for (const socket of asking) socket.destroy();
    }
  });
  it("goes to exactly one of many who want it at once, whoever held it before", async () => {
    const directory = fresh();
    for (let round = 0; round < 20; round++) {
      const tries = await Promise.allSettled(Array.from({ length: 8 }, () => lockDirectory(directory)));
      const got = tries.filter((attempt) => attempt.status === "fulfilled");
      expect(got).toHaveLength(1);
      await got[0]!.value.release();
    }
  });
  it("may lie as deep as a path can", async () => {
    const directory = join(fresh(), ...Array.from({ length: 12 }, (_, k) => `${k}-a-folder-with-a-long-name`));
    mkdirSync(directory, { recursive: true });
    const lock = await lockDirectory(directory);
    await expect(lockDirectory(directory)).rejects.toBeInstanceOf(DirectoryInUse);
    await lock.release();
  });
  // Two containers have network namespaces of their own; to make one needs rights that not every machine gives.
  const canSeparate = spawnSync("unshare", ["-n", "true"]).status === 0;
  it.runIf(canSeparate)("is held between network namespaces that share it", async () => {
    const directory = fresh();
    expect((await holder(directory, true)).says).toBe("got");
    expect((await holder(directory, true)).says).toBe("busy");
    await expect(lockDirectory(directory)).rejects.toBeInstanceOf(DirectoryInUse);
  });
});
