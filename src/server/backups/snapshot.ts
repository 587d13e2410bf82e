import { setImmediate as turn } from "node:timers/promises";
import type { PGlite } from "@electric-sql/pglite";
import type { BackedUpSetup } from "../../core/formats/backup/backup.ts";
import type { OnProgress } from "../../core/formats/imported.ts";
import { instrumentSchema, playerSchema } from "../../core/passage/schema.ts";
import { type PracticeSession, practiceSessionSchema } from "../../core/practice/record.ts";
import type { LibraryRows, PassageRow } from "./rows.ts";

type Reader = Pick<PGlite, "query">;

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

/** Rows read in one go; others have their turn in between. */
const AT_ONCE = 20;
/** So often it is begun anew when the setup changes meanwhile. */
const MOST_TIMES = 5;

export interface Snapshot extends LibraryRows {
  /** Titles, or ids, of what could not be read from its table. */
  unread: string[];
}

/**
 * All of a library, each passage as it is at its own moment, so that nobody waits for it; works on every schema from the first
 * one on. Where the setup changes meanwhile it begins anew: passages and what they refer to belong together.
 */
export async function snapshotOf(client: Reader, onProgress: OnProgress = () => {}, signal?: AbortSignal): Promise<Snapshot> {
  for (let time = 1; ; time++) {
    const setup = await setupOf(client);
    const passages: PassageRow[] = [];
    const unread: string[] = [];
    const ids = await idsOf(client);
    for (let at = 0; at < ids.length; at += AT_ONCE) {
      signal?.throwIfAborted();
      onProgress(at, ids.length);
      const some = ids.slice(at, at + AT_ONCE);
      try {
        passages.push(...(await passagesOf(client, some)));
      } catch {
        // A damaged page: one by one, so that it costs those alone that lie on it.
        for (const id of some)
          await passagesOf(client, [id]).then(
            (own) => passages.push(...own),
            () => unread.push(id),
          );
      }
      await turn();
    }
    const after = await setupOf(client);
    if (JSON.stringify(after) === JSON.stringify(setup) || time === MOST_TIMES) {
      const practice = await practiceOf(client);
      return { savedAt: new Date().toISOString(), ...after, passages, practice: practice.read, recordings: [], unread: [...unread, ...practice.unread] };
    }
  }
}

/** What was practised; a session that cannot be read is left out and named. An older schema has none. */
async function practiceOf(client: Reader): Promise<{ read: PracticeSession[]; unread: string[] }> {
  const found = { read: [] as PracticeSession[], unread: [] as string[] };
  if (!(await isThere(client, "practice_sessions"))) return found;
  const rows = await client
    .query<{ id: string; passage: string | null; figure: string | null; record: object }>(
      "select id, passage_id as passage, figure, record from practice_sessions where staged is null order by started_at, id",
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
async function idsOf(client: Reader): Promise<string[]> {
  const hasLedger = await isThere(client, "ledger");
  try {
    return (await client.query<{ id: string }>(`select id from passages where ${await isOfLibrary(client)} order by created_at, id`)).rows.map(({ id }) => id);
  } catch (error) {
    if (!hasLedger) throw error;
    return (await client.query<{ id: string }>("select id from ledger order by id")).rows.map(({ id }) => id);
  }
}

async function passagesOf(client: Reader, ids: readonly string[]): Promise<PassageRow[]> {
  const hasOriginals = await isThere(client, "originals");
  const { rows } = await client.query<{ columns: PassageColumns; document: string }>(
    "select to_jsonb(t) - 'document' - 'card' as columns, t.document::text as document from passages t where id = any($1::uuid[]) order by created_at, id",
    [ids],
  );
  const originals = hasOriginals
    ? (
        await client.query<{ passage_id: string; name: string; bytes: Uint8Array }>(
          "select passage_id, name, bytes from originals where passage_id = any($1::uuid[])",
          [ids],
        )
      ).rows
    : [];
  const kept = new Map(originals.map(({ passage_id, name, bytes }) => [passage_id, { name, bytes }]));
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

async function setupOf(client: Reader): Promise<Pick<LibraryRows, "instruments" | "players">> {
  return {
    instruments: (await setupRows(client, "instruments")).map((item) => ({ ...item, value: instrumentSchema.parse(item.value) })),
    players: (await setupRows(client, "players")).map((item) => ({ ...item, value: playerSchema.parse(item.value) })),
  };
}

async function setupRows(client: Reader, table: "instruments" | "players"): Promise<BackedUpSetup<unknown>[]> {
  const { rows } = await client.query<{ row: SetupColumns }>(`select to_jsonb(t) as row from ${table} t order by created_at, id`);
  return rows.map(({ row }) => ({
    id: row.id,
    name: row.name,
    value: row.value,
    named: row.named ?? false,
    isDefault: row.is_default ?? false,
    createdAt: iso(row.created_at),
  }));
}

/** The condition for passages that are no row that a restore has written beforehand; an older schema has none. */
export async function isOfLibrary(client: Reader): Promise<string> {
  const { rows } = await client.query(
    "select 1 from information_schema.columns where table_schema = 'public' and table_name = 'passages' and column_name = 'staged'",
  );
  return rows.length > 0 ? "staged is null" : "true";
}

/** Whether this schema has a table. */
export async function isThere(client: Reader, table: string): Promise<boolean> {
  const { rows } = await client.query<{ there: boolean }>("select to_regclass($1) is not null as there", [`public.${table}`]);
  return rows[0]!.there;
}

function iso(moment: string): string {
  return new Date(moment).toISOString();
}
