import { setImmediate as turn } from "node:timers/promises";
import { z } from "zod";
import type { BackedUpSetup } from "../../core/formats/backup/backup.ts";
import type { OnProgress } from "../../core/formats/imported.ts";
import { instrumentSchema, playerSchema } from "../../core/passage/schema.ts";
import { type PracticeSession, practiceSessionSchema } from "../../core/practice/record.ts";
import type { Sql } from "../database/database.ts";
import type { LibraryRows, PassageRow } from "./rows.ts";

/** Columns as JSON: an older schema has fewer, and what it lacks has the value a migration would give it. */
interface SetupColumns {
  id: string;
  name: string;
  value: unknown;
  named?: boolean;
  is_default?: boolean;
  created_at: string;
}

interface PassageColumns {
  id: string;
  title: string;
  instrument_id: string;
  player_id: string;
  version: number;
  created_at: string;
  updated_at: string;
  opened_at?: string | null;
  deleted_at: string | null;
}

/** In the order in which they were made, as exactly as a backup knows it. */
const MADE = "date_trunc('milliseconds', created_at), id";

/** Rows read in one go; others have their turn in between. */
const AT_ONCE = 20;
/** So often it is begun anew when the setup changes meanwhile. */
const MOST_TIMES = 5;

export interface Snapshot extends LibraryRows {
  /** Titles, or ids, of what could not be read from its table. */
  unread: string[];
}

/**
 * All of somebody's library, or of the only one of a schema that knows no owners, each passage as it is at its own moment, so that nobody waits for it; works on every schema from the first
 * one on. Where the setup changes meanwhile it begins anew: passages and what they refer to belong together.
 */
export async function snapshotOf(client: Sql, owner: string | null, onProgress: OnProgress = () => {}, signal?: AbortSignal): Promise<Snapshot> {
  for (let time = 1; ; time++) {
    const setup = await setupOf(client, owner);
    const passages: PassageRow[] = [];
    const unread: string[] = [];
    const ids = await idsOf(client, owner);
    for (let at = 0; at < ids.length; at += AT_ONCE) {
      signal?.throwIfAborted();
      onProgress(at, ids.length);
      const some = ids.slice(at, at + AT_ONCE);
      try {
        passages.push(...(await passagesOf(client, owner, some)));
      } catch {
        // A damaged page: one by one, so that it costs those alone that lie on it.
        for (const id of some)
          await passagesOf(client, owner, [id]).then(
            (own) => passages.push(...own),
            () => unread.push(id),
          );
      }
      await turn();
    }
    const after = await setupOf(client, owner);
    if (JSON.stringify(after) === JSON.stringify(setup) || time === MOST_TIMES) {
      const practice = await practiceOf(client, owner);
      return { savedAt: new Date().toISOString(), ...after, passages, practice: practice.read, recordings: [], unread: [...unread, ...practice.unread] };
    }
  }
}

/** What was practised; a session that cannot be read is left out and named. An older schema has none. */
async function practiceOf(client: Sql, owner: string | null): Promise<{ read: PracticeSession[]; unread: string[] }> {
  const found = { read: [] as PracticeSession[], unread: [] as string[] };
  if (!(await isThere(client, "practice_sessions"))) return found;
  const rows = await client
    .query<{ id: string; passage: string | null; figure: string | null; record: object }>(
      `select id, passage_id as passage, figure, record from practice_sessions where ${await rowsOf(client, "practice_sessions", owner)} order by started_at, id`,
    )
    .then(
      (read) => read.rows,
      () => null,
    );
  if (rows === null) return { read: [], unread: ["what was practised"] };
  for (const { record, ...row } of rows) {
    const read = practiceSessionSchema.safeParse({ ...record, ...row });
    if (read.success) found.read.push(read.data);
    else found.unread.push(`a session of practice (${row.id})`);
  }
  return found;
}

/** Of every passage, those in the ledger alone too; in the order in which they were made. */
async function idsOf(client: Sql, owner: string | null): Promise<string[]> {
  const hasLedger = await isThere(client, "ledger");
  try {
    return (await client.query<{ id: string }>(`select id from passages where ${await rowsOf(client, "passages", owner)} order by ${MADE}`)).rows.map(
      ({ id }) => id,
    );
  } catch (error) {
    if (!hasLedger) throw error;
    return (await client.query<{ id: string }>(`select id from ledger where ${await rowsOf(client, "ledger", owner)} order by id`)).rows.map(({ id }) => id);
  }
}

async function passagesOf(client: Sql, owner: string | null, ids: readonly string[]): Promise<PassageRow[]> {
  const hasOriginals = await isThere(client, "originals");
  const { rows } = await client.query<{ columns: PassageColumns; document: string }>(
    `select to_jsonb(t) - 'document' - 'card' as columns, t.document::text as document from passages t
      where ${await rowsOf(client, "passages", owner)} and id = any($1::uuid[]) order by ${MADE}`,
    [ids],
  );
  const originals = hasOriginals
    ? (
        await client.query<{ passage_id: string; name: string; bytes: Uint8Array }>(
          `select passage_id, name, bytes from originals where ${await rowsOf(client, "originals", owner)} and passage_id = any($1::uuid[])`,
          [ids],
        )
      ).rows
    : [];
  const kept = new Map(originals.map(({ passage_id, name, bytes }) => [passage_id, { name, bytes: new Uint8Array(bytes) }]));
  return rows.map(({ columns, document }) => ({
    id: columns.id,
    title: columns.title,
    version: columns.version,
    createdAt: iso(columns.created_at),
    updatedAt: iso(columns.updated_at),
    openedAt: columns.opened_at ? iso(columns.opened_at) : null,
    deletedAt: columns.deleted_at ? iso(columns.deleted_at) : null,
    instrument: columns.instrument_id,
    player: columns.player_id,
    document,
    original: kept.get(columns.id) ?? null,
  }));
}

async function setupOf(client: Sql, owner: string | null): Promise<Pick<LibraryRows, "instruments" | "players">> {
  return {
    instruments: (await setupRows(client, owner, "instruments")).map((item) => ({ ...item, value: instrumentSchema.parse(item.value) })),
    players: (await setupRows(client, owner, "players")).map((item) => ({ ...item, value: playerSchema.parse(item.value) })),
  };
}

async function setupRows(client: Sql, owner: string | null, table: "instruments" | "players"): Promise<BackedUpSetup<unknown>[]> {
  const { rows } = await client.query<{ row: SetupColumns }>(
    `select to_jsonb(t) as row from ${table} t where ${await rowsOf(client, table, owner)} order by ${MADE}`,
  );
  return rows.map(({ row }) => ({
    id: row.id,
    name: row.name,
    value: row.value,
    named: row.named ?? false,
    isDefault: row.is_default ?? false,
    createdAt: iso(row.created_at),
  }));
}

/** Whose libraries there are; null for the only one of a schema that knows no owners. */
export async function ownersOf(client: Sql): Promise<(string | null)[]> {
  if (!(await isThere(client, "people"))) return [null];
  return (await client.query<{ id: string }>("select id from people order by id")).rows.map(({ id }) => id);
}

/** The condition for rows of somebody's library, or of all of them, that are none a restore has written beforehand; an older schema has neither. */
export async function rowsOf(client: Sql, table: string, owner: string | null): Promise<string> {
  const { rows } = await client.query<{ name: string }>(
    "select column_name as name from information_schema.columns where table_schema = 'public' and table_name = $1 and column_name in ('owner', 'staged')",
    [table],
  );
  const has = new Set(rows.map(({ name }) => name));
  const conditions = [...(has.has("staged") ? ["staged is null"] : []), ...(has.has("owner") && owner !== null ? [`owner = '${z.uuid().parse(owner)}'`] : [])];
  return conditions.length > 0 ? conditions.join(" and ") : "true";
}

/** Whether this schema has a table. */
export async function isThere(client: Sql, table: string): Promise<boolean> {
  const { rows } = await client.query<{ there: boolean }>("select to_regclass($1) is not null as there", [`public.${table}`]);
  return rows[0]!.there;
}

function iso(moment: string): string {
  return new Date(moment).toISOString();
}
