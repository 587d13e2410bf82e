import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as after } from "node:timers/promises";
import { PGlite } from "@electric-sql/pglite";
import { drizzle } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import { unpackBackup } from "../../core/formats/backup/backup.ts";
import { parsePassage } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { seeded } from "../../core/test/random-passages.ts";
import { endServer, type ServerProcess, startServer } from "./server-process.ts";

/* Rounds in which a server is killed in the middle of something, and its successor is asked what is left. */

export const KILLED_IN = ["saves", "backup", "restore", "creation", "migration"] as const;
export type KilledIn = (typeof KILLED_IN)[number];

const [riff, other, third] = demoPassages() as [Passage, Passage, Passage];

interface Stored {
  id: string;
  version: number;
  passage: Passage;
}

/** One directory over many rounds, in which servers follow each other. */
export class KillRounds {
  /** What did not hold, a sentence each. */
  readonly broken: string[] = [];
  acknowledged = 0;
  private readonly random: () => number;
  private readonly directory: string;
  private old: string | null = null;
  private server: Promise<ServerProcess> | null = null;
  private rounds = 0;

  constructor(
    private readonly root: string,
    seed: number,
  ) {
    this.random = seeded(seed);
    this.directory = join(root, "library-of-rounds");
    mkdirSync(this.directory, { recursive: true });
  }

  async round(kind: KilledIn): Promise<void> {
    this.rounds++;
    await this[kind]();
  }

  async end(): Promise<void> {
    const { server } = this;
    this.server = null;
    if (server) await endServer(await server, "SIGKILL");
  }

  /** Saves one after the other: every one that was answered is there afterwards, and nothing but what was sent. */
  private async saves(): Promise<void> {
    const { id, version } = await this.made(riff);
    const { url } = await this.running();
    let answered = version;
    const saving = (async () => {
      for (let based = version; ; based++) {
        const saved = await put(url, id, based, { ...riff, title: `Save ${based + 1}` }).catch(() => null);
        if (saved?.status !== 200) return;
        answered = based + 1;
        this.acknowledged++;
      }
    })();
    await this.killWithin(600);
    await saving;
    const now = await this.read(id);
    if (!now) return this.fail(`a passage of ${answered} saves is gone`);
    if (now.version < answered || now.version > answered + 1) this.fail(`${answered} saves were answered, ${now.version} are there`);
    if (now.version > 1 && now.passage.title !== `Save ${now.version}`) this.fail(`save ${now.version} is called ${now.passage.title}`);
    if (!parsePassage(now.passage).ok) this.fail("a saved passage cannot be read");
  }

  /** A backup that is there is whole, and the library is as it was. */
  private async backup(): Promise<void> {
    await this.made(other);
    const before = await this.titles();
    const asking = fetch(`${(await this.running()).url}api/backups`, { method: "POST" }).catch(() => null);
    await this.killWithin(900);
    await asking;
    if ((await this.titles()).join() !== before.join()) this.fail("a backup changed the library");
    const folder = join(this.directory, "backups");
    for (const name of existsSync(folder) ? readdirSync(folder).filter((file) => file.endsWith(".zip")) : [])
      if (!unpackBackup(new Uint8Array(readFileSync(join(folder, name)))).ok) this.fail(`the backup ${name} cannot be read`);
  }

  /** A restore is there as a whole or not at all. */
  private async restore(): Promise<void> {
    const own = [await this.made({ ...third, title: "One" }), await this.made({ ...third, title: "Two" }), await this.made({ ...third, title: "Three" })];
    const zip = await (await fetch(`${(await this.running()).url}api/backup`)).arrayBuffer();
    for (const { id } of own) {
      const { version } = (await this.read(id))!;
      await put((await this.running()).url, id, version, { ...third, title: "Changed" });
    }
    const asking = fetch(`${(await this.running()).url}api/restore?doubles=replace`, {
      method: "POST",
      headers: { "Content-Type": "application/zip" },
      body: zip,
    }).catch(() => null);
    await this.killWithin(900);
    const isAnswered = (await asking)?.ok ?? false;
    const now = await Promise.all(own.map(async ({ id }) => (await this.read(id))?.passage.title ?? "gone"));
    if (now.join() !== "One,Two,Three" && (isAnswered || now.join() !== "Changed,Changed,Changed")) this.fail(`a restore left ${now.join(", ")}`);
  }

  /** A library whose creation was broken off is created anew. */
  private async creation(): Promise<void> {
    await this.twice(join(this.root, `created-${this.rounds}`), 6000, async (server) => {
      if ((await listOf(server)).length !== 0) this.fail("a new library is not empty");
    });
  }

  /** A library of an older version whose migration was broken off is whole. */
  private async migration(): Promise<void> {
    this.old ??= await oldLibrary(join(this.root, "old"));
    const directory = join(this.root, `migrated-${this.rounds}`);
    cpSync(this.old, directory, { recursive: true });
    await this.twice(directory, 3000, async (server) => {
      const titles = (await listOf(server)).map(({ title }) => title);
      if (titles.sort().join() !== OLD_TITLES.join()) this.fail(`after a migration there is ${titles.join(", ") || "nothing"}`);
      const read = (await (await fetch(`${server.url}api/passages/${(await listOf(server))[0]!.id}`)).json()) as Stored;
      if (!parsePassage(read.passage).ok) this.fail("a migrated passage cannot be read");
    });
  }

  /** Starts a server and kills it before long; the next one is asked. */
  private async twice(directory: string, mostMs: number, ask: (server: ServerProcess) => Promise<void>): Promise<void> {
    mkdirSync(directory, { recursive: true });
    const first = await startServer(directory, { untilReady: false });
    await after(this.random() * mostMs);
    await endServer(first, "SIGKILL");
    const second = await startServer(directory);
    if (second.url === "") this.fail(`the next server did not start: ${second.errors().trim()}`);
    else await ask(second);
    await endServer(second, "SIGKILL");
  }

  private fail(says: string): void {
    this.broken.push(`round ${this.rounds}: ${says}`);
  }

  private async running(): Promise<ServerProcess> {
    this.server ??= startServer(this.directory);
    const server = await this.server;
    if (server.url === "") throw new Error(`no server: ${server.errors()}`);
    return server;
  }

  private async killWithin(ms: number): Promise<void> {
    await after(this.random() * ms);
    await this.end();
  }

  private async made(passage: Passage): Promise<Stored> {
    const { url } = await this.running();
    const answer = await fetch(`${url}api/passages`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(passage) });
    return (await answer.json()) as Stored;
  }

  private async read(id: string): Promise<Stored | null> {
    const answer = await fetch(`${(await this.running()).url}api/passages/${id}`);
    return answer.ok ? ((await answer.json()) as Stored) : null;
  }

  private async titles(): Promise<string[]> {
    return (await listOf(await this.running())).map(({ title }) => title).sort();
  }
}

async function put(url: string, id: string, based: number, passage: Passage): Promise<Response> {
  const headers = { "Content-Type": "application/json", "If-Match": `"${based}"` };
  const answer = await fetch(`${url}api/passages/${id}`, { method: "PUT", headers, body: JSON.stringify(passage) });
  await answer.arrayBuffer();
  return answer;
}

async function listOf({ url }: ServerProcess): Promise<{ id: string; title: string }[]> {
  return (await (await fetch(`${url}api/passages`)).json()) as { id: string; title: string }[];
}

const OLD_TITLES = [riff, other, third].map(({ title }) => title).sort();

/** A library as the version before last left it: documents as jsonb, no ledger. */
async function oldLibrary(directory: string): Promise<string> {
  const migrations = join(directory, "..", "old-migrations");
  cpSync("src/server/database/migrations", migrations, { recursive: true });
  const journal = JSON.parse(readFileSync(join(migrations, "meta/_journal.json"), "utf8"));
  writeFileSync(join(migrations, "meta/_journal.json"), JSON.stringify({ ...journal, entries: journal.entries.slice(0, 4) }));
  mkdirSync(directory, { recursive: true });
  const client = new PGlite(join(directory, "library"));
  await migrate(drizzle({ client }), { migrationsFolder: migrations });
  for (const [i, { instrument, player, ...document }] of [riff, other, third].entries()) {
    const id = (n: number) => `00000000-0000-4000-8000-0000000${n}${i}00`;
    await client.query("insert into instruments (id, name, value, canonical) values ($1, 'i', $2, $3)", [id(10), instrument, `i${i}`]);
    await client.query("insert into players (id, name, value, canonical) values ($1, 'p', $2, $3)", [id(20), player, `p${i}`]);
    await client.query("insert into passages (title, document, instrument_id, player_id) values ($1, $2, $3, $4)", [document.title, document, id(10), id(20)]);
  }
  await client.close();
  return directory;
}
