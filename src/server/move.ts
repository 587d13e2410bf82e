import { type SQL, sql } from "drizzle-orm";
import type { Database, Transaction } from "./database/database.ts";

/*
 * A library from one database into another, row by row. Values go as PostgreSQL's own text for their type, so that none of them is
 * changed by a language in between; and every row that arrived is compared with the one that left.
 */

/** In an order in which each finds what it refers to. What is of one server's day alone (sign-ins, invitations, links, attempts, plans for the Shelf) stays behind. */
const TABLES = ["people", "instruments", "players", "passages", "originals", "practice_sessions", "practised", "gifts", "teachings", "ledger"] as const;
type Table = (typeof TABLES)[number];

/** Rows that go in one go. */
const AT_ONCE = 25;

/** Why a library cannot be moved; nothing was changed then. */
export class CannotMove extends Error {}

/** Copies everything of everybody into a library that holds nothing yet, all or nothing; says how many rows of each table that were. */
export async function moveLibrary(from: Database, to: Database): Promise<Record<Table, number>> {
  // One moment of the source, whatever is saved there meanwhile.
  return from.transaction(
    (source) =>
      to.transaction(async (target) => {
        for (const tx of [source, target]) await tx.execute(sql`set local timezone to 'UTC'`);
        const there = await rowsOf<{ n: number }>(
          target,
          sql`select (select count(*) from passages) + (select count(*) from practice_sessions) + (select count(*) from people where passphrase is not null) as n`,
        );
        if (Number(there[0]!.n) > 0) throw new CannotMove("There is a library there already. A backup of one can be restored into it instead.");
        await target.execute(sql`delete from people`);
        const moved = {} as Record<Table, number>;
        for (const table of TABLES) moved[table] = await copy(source, target, table);
        for (const table of TABLES) {
          const [left, arrived] = [await sumOf(source, table), await sumOf(target, table)];
          if (left !== arrived) throw new CannotMove(`The rows of ${table} that arrived are not those that left.`);
        }
        return moved;
      }),
    { isolationLevel: "repeatable read", accessMode: "read only" },
  );
}

async function copy(source: Transaction, target: Transaction, table: Table): Promise<number> {
  const columns = await rowsOf<{ name: string; type: string }>(
    target,
    sql`select attname as name, format_type(atttypid, atttypmod) as type from pg_attribute
      where attrelid = ${`public.${table}`}::regclass and attnum > 0 and not attisdropped order by attnum`,
  );
  // A trigger has written it along with the passages; the one that left may know of passages that were lost.
  if (table === "ledger") await target.execute(sql`delete from ledger`);
  const key = table === "people" || table === "practised" || table === "teachings" ? sql`id` : table === "originals" ? sql`owner, passage_id` : sql`owner, id`;
  const name = sql.identifier(table);
  const read = sql.join(
    columns.map((column) => sql`${sql.identifier(column.name)}::text`),
    sql`, `,
  );
  // Rows that a restore has under way are none of the library.
  const isIts = columns.some((column) => column.name === "staged") ? sql`staged is null` : sql`true`;
  let count = 0;
  for (;;) {
    const rows = await rowsOf<Record<string, string | null>>(
      source,
      sql`select ${read} from ${name} where ${isIts} order by ${key} limit ${AT_ONCE} offset ${count}`,
    );
    if (rows.length === 0) return count;
    const values = rows.map((row) => {
      const cells = columns.map((column): SQL => sql`${row[column.name]}::text::${sql.raw(column.type)}`);
      return sql`(${sql.join(cells, sql`, `)})`;
    });
    const names = sql.join(
      columns.map((column) => sql.identifier(column.name)),
      sql`, `,
    );
    await target.execute(sql`insert into ${name} (${names}) values ${sql.join(values, sql`, `)}`);
    count += rows.length;
  }
}

/** A sum over every row of a table, whatever their order. */
async function sumOf(tx: Transaction, table: Table): Promise<string> {
  const isIts = table === "passages" || table === "practice_sessions" ? sql`staged is null` : sql`true`;
  const [row] = await rowsOf<{ sum: string }>(
    tx,
    sql`select count(*) || ' ' || coalesce(md5(string_agg(md5(t::text), '' order by md5(t::text))), '') as sum from ${sql.identifier(table)} t where ${isIts}`,
  );
  return row!.sum;
}

async function rowsOf<T>(tx: Transaction, query: SQL): Promise<T[]> {
  return ((await tx.execute(query)) as { rows: T[] }).rows;
}
