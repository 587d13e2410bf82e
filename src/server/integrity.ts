import { setImmediate as turn } from "node:timers/promises";
import { instrumentSchema, playerSchema } from "../core/passage/schema.ts";
import { practiceSessionSchema } from "../core/practice/record.ts";
import type { StoredTexts } from "./backups/rows.ts";
import { isThere, rowsOf } from "./backups/snapshot.ts";
import type { Sql } from "./database/database.ts";
import type { PassageFault } from "./library.ts";
import type { WorkPool } from "./work/pool.ts";

/** What a look at every row of a library found. */
export interface Integrity {
  passages: PassageFault[];
  /** What is wrong beside passages, a sentence each. */
  others: string[];
  /** How many passages can be read. */
  readable: number;
}

interface Row extends StoredTexts {
  id: string;
  title: string;
  isIntact: boolean;
}

/** Passages looked at in one go; others have their turn in between. */
const AT_ONCE = 10;

/**
 * Looks at every row of somebody's library, or of the only one of a schema that knows no owners: whether what the ledger knows is there with the text that was written, and whether it can be read. Changes
 * nothing, and works on every schema from the first one on.
 */
export async function integrityOf(client: Sql, owner: string | null, pool: WorkPool): Promise<Integrity> {
  const found: Integrity = { passages: [], others: [], readable: 0 };
  const setup = new Map<string, unknown>();
  for (const [table, schema] of [
    ["instruments", instrumentSchema],
    ["players", playerSchema],
  ] as const)
    for (const { id, name, value } of await readAll<{ id: string; name: string; value: unknown }>(
      client,
      `select id, name, value from ${table} where ${await rowsOf(client, table, owner)}`,
      table,
      found,
    )) {
      setup.set(id, value);
      if (!schema.safeParse(value).success) found.others.push(`"${name}" among the ${table} cannot be read`);
    }
  const hasLedger = await isThere(client, "ledger");
  const index = hasLedger ? "ledger" : "passages";
  const isOwn = await rowsOf(client, "ledger", owner);
  const known = await readAll<{ id: string; title: string }>(
    client,
    `select id, title from ${index} where ${await rowsOf(client, index, owner)} order by id`,
    "passages",
    found,
  );
  if (hasLedger) await lookForStrangers(client, owner, found);
  for (let at = 0; at < known.length; at += AT_ONCE) {
    const rows: Row[] = [];
    for (const { id, title } of known.slice(at, at + AT_ONCE)) {
      const row = await passageOf(client, id, hasLedger, isOwn, setup);
      if (typeof row !== "string") rows.push(row);
      else found.passages.push({ id, title, says: row, isLost: row === LOST });
    }
    const faults = await pool.run(
      "checkPassages",
      rows.map(({ document, instrument, player }) => ({ document, instrument, player })),
    );
    for (const [i, { id, title, isIntact }] of rows.entries()) {
      const fault = faults[i];
      const says = fault ? `${fault.place}: ${fault.says}` : isIntact ? null : "its text is not the one that was written";
      if (says === null) found.readable++;
      else found.passages.push({ id, title, says, isLost: false });
    }
    await turn();
  }
  if (await isThere(client, "practice_sessions")) await lookAtPractice(client, owner, found);
  return found;
}

/** Whether every session of practice can be read, and whether there are as many as were counted when the last one was written. */
async function lookAtPractice(client: Sql, owner: string | null, found: Integrity): Promise<void> {
  const sessions = await readAll<{ id: string; passage: string | null; figure: string | null; record: object }>(
    client,
    `select id, passage_id as passage, figure, record from practice_sessions where ${await rowsOf(client, "practice_sessions", owner)}`,
    "practice",
    found,
  );
  const many = new Map<string, number>();
  for (const { record, ...row } of sessions) {
    if (!practiceSessionSchema.safeParse({ ...record, ...row }).success) found.others.push(`The session of practice ${row.id} cannot be read`);
    const of = row.passage ?? row.figure ?? "";
    many.set(of, (many.get(of) ?? 0) + 1);
  }
  const standing = await rowsOf(client, "practised", owner);
  const counted = await readAll<{ of: string; title: string; sessions: number }>(
    client,
    `select coalesce(s.passage_id::text, s.figure) as of, coalesce(l.title, s.figure) as title, s.sessions
      from (select * from practised where ${standing}) s left join (select * from ledger where ${await rowsOf(client, "ledger", owner)}) l on l.id = s.passage_id`,
    "standings",
    found,
  );
  for (const { of, title, sessions: count } of counted) {
    const lost = count - (many.get(of) ?? 0);
    if (lost > 0) found.others.push(`${lost} of ${count} sessions of practice of "${title}" are missing from their table`);
  }
}

const LOST = "it is missing from its table";

/** The row of a passage, or why there is none. */
async function passageOf(client: Sql, id: string, hasLedger: boolean, isOwn: string, setup: ReadonlyMap<string, unknown>): Promise<Row | string> {
  const intact = hasLedger ? `md5(document::text) = (select checksum from ledger l where ${isOwn} and l.id = p.id)` : "true";
  try {
    const { rows } = await client.query<{ title: string; document: string; instrument_id: string; player_id: string; intact: boolean }>(
      `select title, document::text as document, instrument_id, player_id, ${intact} as intact from passages p where ${isOwn} and id = $1`,
      [id],
    );
    const [row] = rows;
    if (!row) return LOST;
    const { title, document, instrument_id, player_id } = row;
    return { id, title, document, instrument: setup.get(instrument_id), player: setup.get(player_id), isIntact: row.intact };
  } catch (error) {
    return `its page of the database is damaged${messageOf(error)}`;
  }
}

/** Rows that the ledger does not know: the ledger itself has lost something. */
async function lookForStrangers(client: Sql, owner: string | null, found: Integrity): Promise<void> {
  try {
    const { rows } = await client.query<{ title: string }>(
      `select title from passages where ${await rowsOf(client, "passages", owner)}
        and id not in (select id from ledger where ${await rowsOf(client, "ledger", owner)})`,
    );
    for (const { title } of rows) found.others.push(`The passage "${title}" is in no list of what there is`);
  } catch (error) {
    found.others.push(`The table of passages cannot be read through${messageOf(error)}`);
  }
}

async function readAll<T>(client: Sql, query: string, table: string, found: Integrity): Promise<T[]> {
  try {
    return (await client.query<T>(query)).rows;
  } catch (error) {
    found.others.push(`The table of ${table} cannot be read${messageOf(error)}`);
    return [];
  }
}

export function messageOf(error: unknown): string {
  return error instanceof Error && error.message ? `: ${error.message}` : "";
}
