import { existsSync, renameSync, rmSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { PGlite } from "@electric-sql/pglite";
import { drizzle, type PgliteDatabase } from "drizzle-orm/pglite";
import { migrate } from "drizzle-orm/pglite/migrator";
import { DURABLE_PARAMS, DurableNodeFS } from "./durable-fs.ts";
import * as schema from "./schema.ts";

export type Database = PgliteDatabase<typeof schema>;

export interface OpenDatabase {
  db: Database;
  close(): Promise<void>;
}

const MIGRATIONS = fileURLToPath(new URL("./migrations", import.meta.url));

/**
 * Opens the library's database in a directory that this process has locked, creating it when
 * it is not there. Creation happens beside and is renamed into place, so that a kill in the
 * middle leaves nothing half made. Migrations are applied before it is handed out.
 */
export async function openDatabase(directory: string): Promise<OpenDatabase> {
  const place = join(directory, "library");
  const fresh = join(directory, "library.new");
  rmSync(fresh, { recursive: true, force: true });
  if (!existsSync(place)) {
    const creating = await start(fresh);
    await creating.close();
    renameSync(fresh, place);
  }
  return migrated(await start(place));
}

/** Applies the migrations to a running PGlite and wraps it. */
export async function migrated(client: PGlite): Promise<OpenDatabase> {
  const db = drizzle({ client, schema });
  await migrate(db, { migrationsFolder: MIGRATIONS });
  return { db, close: () => client.close() };
}

async function start(directory: string): Promise<PGlite> {
  const startParams = [...PGlite.defaultStartParams.filter((param) => param !== "-F"), ...DURABLE_PARAMS];
  const client = new PGlite({ fs: new DurableNodeFS(directory), startParams });
  await client.waitReady;
  return client;
}
