import { and, eq, sql } from "drizzle-orm";
import type { PgDatabase, PgQueryResultHKT } from "drizzle-orm/pg-core";
import * as schema from "./schema.ts";

/** The library's database, whichever PostgreSQL it is: embedded in this process, or a server. */
export type Database = PgDatabase<PgQueryResultHKT, typeof schema>;
export type Transaction = Parameters<Parameters<Database["transaction"]>[0]>[0];
export type Reader = Pick<Database, "select">;

/** Statements as text, for what must work on every schema from the first one on. */
export interface Sql {
  query<T>(text: string, values?: unknown[]): Promise<{ rows: T[] }>;
}

/** Hears what the triggers of the database tell of what was committed, by whichever server. */
export interface Ears {
  /** What was told: JSON. */
  onTold(told: string): void;
  /** Something may have been told that was not heard. */
  onGap(): void;
}

export interface OpenDatabase {
  db: Database;
  client: Sql;
  /** Listens until the database is closed. */
  listen(ears: Ears): Promise<void>;
  close(): Promise<void>;
}

/** What the triggers tell on. */
export const CHANGES = "rest_hand";

/** Who plays on a machine of their own, without a login. */
export const LOCAL_PERSON = "00000000-0000-4000-8000-000000000001";

/**
 * Writes to somebody's library in one transaction, one after the other: what it has read in there holds until it is done, on a
 * server with many connections as on the embedded database with its one.
 */
export function writing<T>(db: Pick<Database, "transaction">, owner: string, write: (tx: Transaction) => Promise<T>): Promise<T> {
  return db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${owner}, 0))`);
    return write(tx);
  });
}

const { instruments, ledger, originals, passages, players } = schema;

/* How rows belong together: what a row refers to has the same owner. */
export const ITS_INSTRUMENT = and(eq(instruments.owner, passages.owner), eq(instruments.id, passages.instrumentId));
export const ITS_PLAYER = and(eq(players.owner, passages.owner), eq(players.id, passages.playerId));
export const ITS_ORIGINAL = and(eq(originals.owner, passages.owner), eq(originals.passageId, passages.id));
export const IN_LEDGER = and(eq(ledger.owner, passages.owner), eq(ledger.id, passages.id));
