import { once } from "node:events";
import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { PGlite } from "@electric-sql/pglite";
import { drizzle } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import { MIGRATIONS, threadFile } from "../places.ts";
import { CHANGES, type Ears, type OpenDatabase, type Sql } from "./database.ts";
import { DURABLE_PARAMS, DurableNodeFS } from "./durable-fs.ts";
import * as schema from "./schema.ts";
import { syncDirectory } from "./sync-directory.ts";

/** A data directory that this program will not touch, and why: what is in it could be somebody's work. */
export class LibraryNotUnderstood extends Error {}

/**
 * Opens the library's database in a directory that this process has locked, creating it when it is not there and nothing speaks
 * of one that was: a library that is missing beside its backups is asked about, and a folder that is no database is left alone
 * (LibraryNotUnderstood). Creation happens beside and is renamed into place, so that a kill in the middle leaves nothing half
 * made. Migrations are applied before it is handed out; before any is applied to a library, `backUp` is called with it as it is.
 */
export async function openDatabase(
  directory: string,
  backUp: (client: Sql) => Promise<void>,
  { newestBackup = null, mayCreate = false }: { newestBackup?: string | null; mayCreate?: boolean } = {},
): Promise<OpenDatabase> {
  const place = join(directory, "library");
  const fresh = join(directory, "library.new");
  rmSync(fresh, { recursive: true, force: true });
  const state = stateOf(place);
  if (state === "foreign")
    throw new LibraryNotUnderstood(
      `${place} holds files, but no database that this program knows (no ${VERSION_FILE}). Nothing in it was touched. Move it away, or bring back what is missing.`,
    );
  if (state === "missing") {
    if (newestBackup !== null && !mayCreate)
      throw new LibraryNotUnderstood(
        `There is no library in ${place}, but a backup of one: ${newestBackup}. If it was moved, bring it back; to begin with an empty one, into which the backup can be restored, start with NEW_LIBRARY=yes.`,
      );
    await createdIn(fresh);
    rmSync(place, { recursive: true, force: true });
    renameSync(fresh, place);
    syncDirectory(directory);
  }
  const client = await openPlace(place);
  try {
    if (await waitsForMigration(client)) await backUp(client);
    return await migrated(client);
  } catch (error) {
    await client.close();
    throw error;
  }
}

/** Creates a database in a thread of its own: what that takes of memory, more than all that comes after, goes with the thread. */
async function createdIn(place: string): Promise<void> {
  const worker = new Worker(threadFile("create"), { workerData: place });
  const [code] = await once(worker, "exit");
  if (code !== 0) throw new Error(`the database could not be created in ${place}`);
}

/** PostgreSQL writes its version here first of all. */
const VERSION_FILE = "PG_VERSION";

/** Whether a library is at a place, none, or something that is none. */
export function stateOf(place: string): "there" | "missing" | "foreign" {
  if (!existsSync(place)) return "missing";
  if (existsSync(join(place, VERSION_FILE))) return "there";
  return statSync(place).isDirectory() && readdirSync(place).length === 0 ? "missing" : "foreign";
}

/** Whether a library stands that a newer version of this program has migrations for. */
async function waitsForMigration(client: PGlite): Promise<boolean> {
  const { rows } = await client.query<{ there: boolean }>(
    "select to_regclass('drizzle.__drizzle_migrations') is not null and to_regclass('public.passages') is not null as there",
  );
  if (!rows[0]!.there) return false;
  const applied = await client.query<{ n: number }>("select count(*)::int as n from drizzle.__drizzle_migrations");
  const journal = JSON.parse(readFileSync(join(MIGRATIONS, "meta", "_journal.json"), "utf8")) as { entries: unknown[] };
  return applied.rows[0]!.n < journal.entries.length;
}

/** Applies the migrations to a running PGlite and wraps it. */
export async function migrated(client: PGlite): Promise<OpenDatabase> {
  const db = drizzle({ client, schema });
  await migrate(db, { migrationsFolder: MIGRATIONS });
  const listen = async ({ onTold }: Ears) => void (await client.listen(CHANGES, onTold));
  return { db, client, listen, close: () => client.close() };
}

/** The database at a place as it is, without migrations. */
export async function openPlace(directory: string): Promise<PGlite> {
  const startParams = [...PGlite.defaultStartParams.filter((param) => param !== "-F"), ...DURABLE_PARAMS];
  const client = new PGlite({ fs: new DurableNodeFS(directory), startParams });
  await client.waitReady;
  return client;
}
