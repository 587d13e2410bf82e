import { drizzle } from "drizzle-orm/node-postgres";
import { migrate } from "drizzle-orm/node-postgres/migrator";
import pg from "pg";
import type { Logger } from "pino";
import { type Database, MIGRATIONS, type OpenDatabase } from "./database.ts";
import * as schema from "./schema.ts";

/** Connections of one server, and in ms how long it waits for one, for an answer, and for the next statement of a transaction. */
const POOL = {
  max: 10,
  connectionTimeoutMillis: 5_000,
  idleTimeoutMillis: 30_000,
  statement_timeout: 30_000,
  idle_in_transaction_session_timeout: 30_000,
  keepAlive: true,
  application_name: "rest-hand",
} as const;

/** Held by the one server that applies migrations; any number that this program alone uses. */
const MIGRATION_LOCK = 7_410_001;

/**
 * Opens a library on a PostgreSQL server (15 or newer) by its URL, and applies the migrations that it has not had yet; of several
 * servers that start at once one does, and the others wait for it. `most` connections are used at a time.
 */
export async function openPostgres(url: string, log: Logger, most: number = POOL.max): Promise<OpenDatabase> {
  const pool = new pg.Pool({ ...POOL, connectionString: url, max: most });
  // A connection that is lost is noticed by whoever uses it, or not used again.
  const note = (error: Error) => log.warn({ err: error }, "a connection to the database was lost");
  pool.on("error", note);
  pool.on("connect", (client) => client.on("error", note));
  try {
    await migrateOnce(pool);
  } catch (error) {
    await pool.end();
    throw error;
  }
  return { db: databaseOn(pool), client: pool, close: () => pool.end() };
}

async function migrateOnce(pool: pg.Pool): Promise<void> {
  const client = await pool.connect();
  try {
    // However long the others take.
    await client.query("set statement_timeout = 0");
    await client.query("select pg_advisory_lock($1)", [MIGRATION_LOCK]);
    await migrate(drizzle({ client }), { migrationsFolder: MIGRATIONS });
  } finally {
    // With its connection the lock goes.
    client.release(true);
  }
}

/** Each transaction has a connection that is given back however it ends: Drizzle's own keeps one on which none could be begun. */
function databaseOn(pool: pg.Pool): Database {
  const db = drizzle({ client: pool, schema });
  db.transaction = async (work, config) => {
    const client = await pool.connect();
    try {
      return await drizzle({ client, schema }).transaction(work, config);
    } finally {
      client.release();
    }
  };
  return db;
}
