import { execFileSync } from "node:child_process";
import { chmodSync, cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as after } from "node:timers/promises";
import { runOnLibrary } from "../../src/cli/library-commands.ts";
import { demoPassages } from "../../src/core/test/demos.ts";
import { seeded } from "../../src/core/test/random-passages.ts";
import { openPlace } from "../../src/server/database/open.ts";
import { KILLED_IN, KillRounds } from "../../src/server/test/kill-rounds.ts";
import { endServer, type ServerProcess, startServer } from "../../src/server/test/server-process.ts";
import type { SoakOptions } from "./main.ts";

/* What can befall a library: its server killed, its disk full or taken away, its files damaged, a second server. */

export async function keepsWhatItPromised(options: SoakOptions): Promise<string[]> {
  const root = mkdtempSync(join(tmpdir(), "rest-hand-soak-"));
  try {
    const sound = await soundLibrary(join(root, "sound"));
    const broken: string[] = [];
    for (const run of [damaged, fullDisk, readOnly, twoServers, descriptors]) broken.push(...(await run(root, sound)));
    return [...broken, ...(await killed(root, options))];
  } finally {
    chmodAll(root);
    rmSync(root, { recursive: true, force: true });
  }
}

async function killed(root: string, { seed, rounds }: SoakOptions): Promise<string[]> {
  const run = new KillRounds(join(root, "rounds"), seed);
  mkdirSync(join(root, "rounds"), { recursive: true });
  const random = seeded(seed);
  for (let i = 0; i < rounds; i++) {
    // Creations and migrations begin a library of their own, and take longest.
    const kind = random() < 0.8 ? KILLED_IN[Math.floor(random() * 3)]! : KILLED_IN[3 + Math.floor(random() * 2)]!;
    await run.round(kind);
    process.stdout.write(`\r${i + 1} of ${rounds} rounds of kill -9, ${run.acknowledged} saves answered, ${run.broken.length} promises broken`);
  }
  process.stdout.write("\n");
  await run.end();
  return run.broken;
}

/** A data directory with the demo passages and a backup. */
async function soundLibrary(directory: string): Promise<string> {
  mkdirSync(directory);
  const server = await startServer(directory, { demo: true });
  await (await fetch(`${server.url}api/backups`, { method: "POST" })).text();
  await endServer(server, "SIGTERM");
  tables = await tablesOf(directory);
  return directory;
}

let copies = 0;
function copyOf(sound: string, root: string): string {
  const directory = join(root, `copy-${++copies}`);
  cpSync(sound, directory, { recursive: true, filter: (from) => !from.endsWith("/lock") });
  return directory;
}

const library = (directory: string, ...path: string[]) => join(directory, "library", ...path);
/** Files of the tables, as the sound library has them. */
let tables: Readonly<Record<"passages" | "texts" | "ledger" | "instruments" | "practice", string>>;
async function tablesOf(directory: string): Promise<typeof tables> {
  const client = await openPlace(library(directory));
  const { rows } = await client.query<typeof tables>(
    `select pg_relation_filepath('passages') as passages, pg_relation_filepath('ledger') as ledger, pg_relation_filepath('instruments') as instruments,
      pg_relation_filepath('practice_sessions') as practice,
      pg_relation_filepath((select reltoastrelid from pg_class where relname = 'passages')) as texts`,
  );
  await client.close();
  return rows[0]!;
}
const table = (directory: string, name: keyof typeof tables) => library(directory, tables[name]);
const overwrite = (file: string, from: number, length: number) => {
  const bytes = readFileSync(file);
  bytes.fill(0xa5, from, from + length);
  writeFileSync(file, bytes);
};
const wal = (directory: string) => library(directory, "pg_wal", readdirSync(library(directory, "pg_wal")).find((name) => /^[0-9A-F]{24}$/.test(name))!);

/** What can be damaged. After each the library is whole, or what is wrong is said, and a restore brings all of it back. */
const DAMAGES: Readonly<Record<string, (directory: string) => void>> = {
  "no PG_VERSION": (d) => rmSync(library(d, "PG_VERSION")),
  "PG_VERSION of another PostgreSQL": (d) => writeFileSync(library(d, "PG_VERSION"), "9\n"),
  "an empty control file": (d) => writeFileSync(library(d, "global", "pg_control"), ""),
  "a control file of noise": (d) => overwrite(library(d, "global", "pg_control"), 0, 4096),
  "no control file": (d) => rmSync(library(d, "global", "pg_control")),
  "no write-ahead log": (d) => rmSync(library(d, "pg_wal"), { recursive: true }),
  "a write-ahead log of noise": (d) => overwrite(wal(d), 0, 100_000),
  "a write-ahead log cut in half": (d) => truncateSync(wal(d), 4_000_000),
  "the table of passages is empty": (d) => truncateSync(table(d, "passages"), 0),
  "the page of the passages is noise": (d) => overwrite(table(d, "passages"), 0, 8192),
  "one byte of the passages": (d) => overwrite(table(d, "passages"), 8000, 1),
  "their texts cut in half": (d) => truncateSync(table(d, "texts"), Math.floor(statSync(table(d, "texts")).size / 16384) * 8192),
  "a page of their texts is noise": (d) => overwrite(table(d, "texts"), 8192, 8192),
  "one byte of their texts": (d) => overwrite(table(d, "texts"), 8192 + 5000, 1),
  "the ledger is empty": (d) => truncateSync(table(d, "ledger"), 0),
  "the table of practice is empty": (d) => truncateSync(table(d, "practice"), 0),
  "the page of practice is noise": (d) => overwrite(table(d, "practice"), 0, 8192),
  "the table of instruments is noise": (d) => overwrite(table(d, "instruments"), 0, 8192),
  "no base folder": (d) => rmSync(library(d, "base"), { recursive: true }),
  "no transaction status": (d) => rmSync(library(d, "pg_xact"), { recursive: true }),
  "no global folder": (d) => rmSync(library(d, "global"), { recursive: true }),
  "the library is a file": (d) => {
    rmSync(library(d), { recursive: true });
    writeFileSync(library(d), "a file");
  },
  "the library is gone": (d) => rmSync(library(d), { recursive: true }),
};

async function damaged(root: string, sound: string): Promise<string[]> {
  const broken: string[] = [];
  const count = demoPassages().length;
  for (const [name, damage] of Object.entries(DAMAGES)) {
    const directory = copyOf(sound, root);
    damage(directory);
    const server = await startServer(directory);
    let says: string;
    if (server.url === "") {
      says = "is not opened, and why is said";
      if (COSTS_A_PART.test(name)) broken.push(`${name}: the library does not open, though a part of it alone is damaged`);
      if (!server.errors().includes("library") || /undefined|at file:/.test(server.errors()))
        broken.push(`${name}: the server says "${server.errors().trim()}"`);
    } else {
      const { readable, faults } = await lookAt(server);
      says = `${readable} of ${count} read, ${faults} said to be lost`;
      if (readable < count && faults === 0) broken.push(`${name}: ${count - readable} passages are missing without a word`);
    }
    await endServer(server, "SIGKILL");
    const backups = join(directory, "backups");
    const backup = join(backups, readdirSync(backups).filter((file) => file.endsWith("-asked.zip"))[0]!);
    let out = "";
    const said = (text: string) => {
      out += text;
    };
    const status = await runOnLibrary("restore", [backup, directory], { out: said, err: said });
    if (status !== 0 || !out.includes(`${count} passages`)) broken.push(`${name}: the backup was not restored: ${out.trim()}`);
    else if (name !== "the library is gone" && !readdirSync(directory).some((file) => file.startsWith("library.before-")))
      broken.push(`${name}: what was there is not set aside`);
    process.stdout.write(`${name.padEnd(42)} ${says}; restored\n`);
    rmSync(directory, { recursive: true, force: true });
  }
  return broken;
}

/** How many passages can be opened, and how many the server says are lost. */
async function lookAt({ url }: ServerProcess): Promise<{ readable: number; faults: number }> {
  const answer = await fetch(`${url}api/passages`);
  const listed = answer.ok ? ((await answer.json()) as { id: string }[]) : [];
  let readable = 0;
  for (const { id } of listed) if ((await fetch(`${url}api/passages/${id}`)).ok) readable++;
  // The look at every row begins once the server is ready.
  for (let i = 0; i < 100; i++) {
    const health = (await (await fetch(`${url}api/health`)).json()) as { status: string; faults?: string[] };
    if (health.faults || health.status === "failed" || readable === demoPassages().length)
      return { readable, faults: health.faults?.length ?? (health.status === "failed" ? 1 : 0) };
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return { readable, faults: 0 };
}

const isRoot = process.getuid?.() === 0;

/** A disk that fills up: saves fail in words, nothing acknowledged is lost, and with room again all goes on. */
async function fullDisk(root: string, sound: string): Promise<string[]> {
  if (!isRoot) return skipped("a full disk: only root can make one");
  const disk = join(root, "small-disk");
  mkdirSync(disk);
  execFileSync("mount", ["-t", "tmpfs", "-o", "size=120m", "tmpfs", disk]);
  const broken: string[] = [];
  try {
    const directory = join(disk, "data");
    cpSync(sound, directory, { recursive: true, filter: (from) => !from.endsWith("/lock") });
    let server = await startServer(directory);
    const filler = join(disk, "filler");
    try {
      writeFileSync(filler, Buffer.alloc(200_000_000));
    } catch {
      // Full is what it is to be.
    }
    const answered: string[] = [];
    let refused = 0;
    for (let i = 0; i < 300 && refused < 3; i++) {
      const passage = { ...demoPassages()[0]!, title: `On a full disk ${i}` };
      const answer = await fetch(`${server.url}api/passages`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(passage),
      }).catch(() => null);
      if (answer?.status === 201) answered.push(passage.title);
      else refused++;
    }
    process.stdout.write(`a full disk: ${answered.length} saves answered, then ${refused} refused\n`);
    if (refused === 0) broken.push("a full disk: everything was answered");
    rmSync(filler);
    await endServer(server, "SIGKILL");
    server = await startServer(directory);
    const titles = new Set(((await (await fetch(`${server.url}api/passages`)).json()) as { title: string }[]).map(({ title }) => title));
    const lost = answered.filter((title) => !titles.has(title));
    if (lost.length > 0) broken.push(`a full disk: ${lost.length} of ${answered.length} answered saves are gone`);
    await endServer(server, "SIGTERM");
  } finally {
    execFileSync("umount", [disk]);
  }
  return broken;
}

/** A disk that cannot be written: said in words with the folder's name, exit 2, and nothing is touched. */
async function readOnly(root: string, sound: string): Promise<string[]> {
  if (!isRoot) return skipped("a read-only disk: only root can make one");
  const disk = join(root, "read-only-disk");
  mkdirSync(disk);
  execFileSync("mount", ["-t", "tmpfs", "-o", "size=200m", "tmpfs", disk]);
  try {
    const directory = join(disk, "data");
    cpSync(sound, directory, { recursive: true, filter: (from) => !from.endsWith("/lock") });
    execFileSync("mount", ["-o", "remount,ro", disk]);
    const server = await startServer(directory);
    const says = server.errors().trim();
    await endServer(server, "SIGKILL");
    process.stdout.write(`a read-only disk: exit ${server.child.exitCode}, "${says}"\n`);
    return server.child.exitCode === 2 && says.includes(directory) ? [] : [`a read-only disk: exit ${server.child.exitCode}: ${says}`];
  } finally {
    execFileSync("umount", [disk]);
  }
}

/** Of two servers on one directory the second one leaves, in whatever order they come. */
async function twoServers(root: string, sound: string): Promise<string[]> {
  const directory = copyOf(sound, root);
  const broken: string[] = [];
  for (let i = 0; i < 10; i++) {
    const both = await Promise.all([startServer(directory), startServer(directory)]);
    const running = both.filter(({ url }) => url !== "").length;
    if (running !== 1) broken.push(`two servers at once: ${running} run`);
    for (const server of both) await endServer(server, "SIGKILL");
  }
  process.stdout.write("two servers on one directory, ten times: one of them runs\n");
  return broken;
}

const TRIES = 5;

/** Damage to a table costs what lies there. */
const COSTS_A_PART = /table|passages|texts|ledger/;

/** Without files to open requests fail in words; with them again all goes on. */
async function descriptors(root: string, sound: string): Promise<string[]> {
  const directory = copyOf(sound, root);
  const server = await startServer(directory);
  const broken: string[] = [];
  const { pid } = server.child;
  const open = readdirSync(`/proc/${pid}/fd`).length;
  execFileSync("prlimit", ["--pid", String(pid), `--nofile=${open + 4}:4096`]);
  const answers = await Promise.all(
    Array.from({ length: 40 }, () =>
      fetch(`${server.url}api/backups`, { method: "POST" }).then(
        (answer) => answer.status,
        () => 0,
      ),
    ),
  );
  execFileSync("prlimit", ["--pid", String(pid), "--nofile=4096:4096"]);
  // A connection that came while there were none may still be turned away; the next ones are not.
  let last = "";
  for (let time = 1; time <= TRIES; time++) {
    last = await fetch(`${server.url}api/passages`, { signal: AbortSignal.timeout(5_000) }).then(
      (answer) => (answer.ok ? "" : String(answer.status)),
      (error: Error) => String(error.cause ?? error),
    );
    if (last === "") break;
    await after(500);
  }
  if (last !== "" || server.child.exitCode !== null)
    broken.push(`without descriptors: the server does not answer afterwards (${last}, exit ${server.child.exitCode}, ${server.errors().slice(-200)})`);
  process.stdout.write(`without descriptors: ${answers.filter((status) => status !== 201).length} of 40 backups refused, then all goes on\n`);
  await endServer(server, "SIGKILL");
  return broken;
}

function skipped(what: string): string[] {
  process.stdout.write(`not run: ${what}\n`);
  return [];
}

function chmodAll(root: string): void {
  if (existsSync(root)) chmodSync(root, 0o755);
}
