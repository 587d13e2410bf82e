import { type ChildProcess, execFileSync, spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import type { AddressInfo } from "node:net";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as after } from "node:timers/promises";
import pg from "pg";

/** A PostgreSQL server of our own in a temporary directory. */
export interface Cluster {
  /** Of the database "postgres"; others of the cluster differ in the last part. */
  url: string;
  /** The server's directory: its size is that of everything in it. */
  directory: string;
  start(): Promise<void>;
  /** "immediate" as a crash does, "fast" as an operator does. */
  stop(how: "fast" | "immediate"): Promise<void>;
  /** Stops it and removes all of it. */
  remove(): Promise<void>;
}

/** Where Debian's package has its programs. */
const DEBIAN = "/usr/lib/postgresql";

function binaries(): string {
  const newest = existsSync(DEBIAN) ? Math.max(...readdirSync(DEBIAN).map(Number).filter(Number.isFinite)) : Number.NEGATIVE_INFINITY;
  if (!Number.isFinite(newest)) throw new Error(`No PostgreSQL in ${DEBIAN}: install Debian's package postgresql (npm test does).`);
  return join(DEBIAN, String(newest), "bin");
}

/** PostgreSQL refuses to run as root: then it runs as the user that its package made. */
function whoRuns(): { uid?: number; gid?: number } {
  if (process.getuid?.() !== 0) return {};
  const number = (flag: string) => Number(execFileSync("id", [flag, "postgres"], { encoding: "utf8" }));
  return { uid: number("-u"), gid: number("-g") };
}

export async function freePort(): Promise<number> {
  const server = createServer().listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as AddressInfo;
  server.close();
  await once(server, "close");
  return port;
}

/** Makes and starts one. Without `durable` it does not wait for the disk: for tests in which nothing is killed. */
export async function startCluster({ durable = false, settings = [] as readonly string[], under = tmpdir() } = {}): Promise<Cluster> {
  const bin = binaries();
  const who = whoRuns();
  const root = mkdtempSync(join(under, "rest-hand-postgres-"));
  if (who.uid !== undefined) chownSync(root, who.uid, who.gid!);
  const directory = join(root, "data");
  const made = spawnSync(join(bin, "initdb"), ["-D", directory, "-U", "postgres", "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync"], {
    ...who,
    cwd: root,
    encoding: "utf8",
  });
  if (made.status !== 0) throw new Error(`initdb: ${made.stderr}`);
  const port = await freePort();
  const url = `postgres://postgres@127.0.0.1:${port}/postgres`;
  const options = [`port=${port}`, "listen_addresses=127.0.0.1", `unix_socket_directories=${root}`, "max_connections=200", ...settings];
  if (!durable) options.push("fsync=off", "synchronous_commit=off", "full_page_writes=off");
  let child: ChildProcess | null = null;
  const start = async () => {
    child = spawn(join(bin, "postgres"), ["-D", directory, ...options.flatMap((option) => ["-c", option])], { ...who, cwd: root, stdio: "ignore" });
    const gone = once(child, "exit").then(() => true);
    while (!(await answers(url))) if (await Promise.race([gone, after(50, false)])) throw new Error(`PostgreSQL did not start on port ${port}`);
  };
  const stop = async (how: "fast" | "immediate") => {
    if (!child) return;
    const gone = once(child, "exit");
    child.kill(how === "fast" ? "SIGINT" : "SIGQUIT");
    await gone;
    child = null;
  };
  await start();
  return {
    url,
    directory,
    start,
    stop,
    remove: async () => {
      await stop("immediate");
      rmSync(root, { recursive: true, force: true });
    },
  };
}

async function answers(url: string): Promise<boolean> {
  const client = new pg.Client(url);
  client.on("error", () => {});
  try {
    await client.connect();
    await client.query("select 1");
    return true;
  } catch {
    return false;
  } finally {
    await client.end().catch(() => {});
  }
}

/** The URL of a new and empty database of a cluster. */
export async function newDatabase(cluster: string): Promise<string> {
  const name = `library_${crypto.randomUUID().replaceAll("-", "")}`;
  const client = new pg.Client(cluster);
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  return new URL(`/${name}`, cluster).href;
}
