import { setTimeout as after } from "node:timers/promises";
import { drizzle } from "drizzle-orm/node-postgres";
import { migrate } from "drizzle-orm/node-postgres/migrator";
import pg from "pg";
import type { Logger } from "pino";
import { MIGRATIONS } from "../places.ts";
import { whyAway } from "./away.ts";
import { CHANGES, type Database, type Ears, type OpenDatabase } from "./database.ts";
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
  const closed = new AbortController();
  return {
    db: databaseOn(pool),
    client: pool,
    listen: (ears) => listenOn(url, ears, log, closed.signal),
    close: async () => {
      closed.abort();
      await pool.end();
    },
  };
}

/** How long it is waited before the database is listened to again, in ms. */
const LISTEN_AGAIN_MS = 500;

/** Listens on a connection of its own; where that is lost on the next one, and says that something may have been missed meanwhile. */
async function listenOn(url: string, { onTold, onGap }: Ears, log: Logger, closed: AbortSignal): Promise<void> {
  const listening = async (): Promise<pg.Client> => {
    const client = new pg.Client({
      connectionString: url,
      keepAlive: true,
      connectionTimeoutMillis: POOL.connectionTimeoutMillis,
      application_name: "rest-hand ears",
    });
    client.on("error", (error) => log.warn({ err: error }, "the connection that listens was lost"));
    client.on("notification", ({ payload }) => payload && onTold(payload));
    await client.connect();
    await client.query(`listen ${CHANGES}`);
    return client;
  };
  const keepListening = (client: pg.Client) => {
    const stop = () => void client.end().catch(() => {});
    closed.addEventListener("abort", stop, { once: true });
    client.once("end", async () => {
      closed.removeEventListener("abort", stop);
      for (;;) {
        if (closed.aborted) return;
        try {
          await after(LISTEN_AGAIN_MS, undefined, { signal: closed });
          keepListening(await listening());
          onGap();
          return;
        } catch {
          // Away still: once more, until it is there or this server ends.
        }
      }
    });
  };
  keepListening(await listening());
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

/** How long it is waited before a database that is away is asked once more, in ms. */
const ASK_AGAIN_MS = 1_000;

/** Opens a library on a PostgreSQL server; one that is away is waited for, and why is said meanwhile. */
export async function openOnceThere(url: string, log: Logger, say: (why: string) => void, signal: AbortSignal): Promise<OpenDatabase> {
  for (;;) {
    try {
      return await openPostgres(url, log);
    } catch (error) {
      const why = whyAway(error);
      if (why === null) throw error;
      say(`The library could not be opened yet because ${why}. It is tried again.`);
      log.warn({ err: error }, "the database is away");
      await after(ASK_AGAIN_MS, undefined, { signal });
    }
  }
}
