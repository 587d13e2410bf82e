import type { PGlite } from "@electric-sql/pglite";
import type { BackedUpSetup, LibraryBackup } from "../../core/formats/backup/backup.ts";
import { type Instrument, instrumentSchema, type Player, playerSchema } from "../../core/passage/schema.ts";
import type { StoredDocument } from "../database/schema.ts";

type Reader = Pick<PGlite, "query">;

/** Rows as JSON: an older schema has fewer columns, and what it lacks has the value a migration would give it. */
interface SetupRow {
  id: string;
  name: string;
  value: unknown;
  named?: boolean;
  is_default?: boolean;
  created_at: string;
}

interface PassageRow {
  id: string;
  document: StoredDocument;
  instrument_id: string;
  player_id: string;
  version: number;
  created_at: string;
  updated_at: string;
  opened_at?: string | null;
  deleted_at: string | null;
}

/** All of a library, read at one moment; works on every schema from the first one on. */
export async function snapshotOf(client: PGlite): Promise<LibraryBackup> {
  return client.transaction(async (tx) => {
    const [instruments, players] = [await setupRows(tx, "instruments"), await setupRows(tx, "players")];
    const rows = await tx.query<{ row: PassageRow }>("select to_jsonb(t) as row from passages t order by created_at, id");
    const there = await tx.query<{ is: boolean }>("select to_regclass('public.originals') is not null as is");
    const kept = there.rows[0]!.is
      ? (await tx.query<{ passage_id: string; name: string; bytes: Uint8Array }>("select passage_id, name, bytes from originals")).rows
      : [];
    const originals = new Map(kept.map(({ passage_id, name, bytes }) => [passage_id, { name, bytes }]));
    const values = {
      instruments: new Map(instruments.map(({ id, value }) => [id, value as Instrument])),
      players: new Map(players.map(({ id, value }) => [id, value as Player])),
    };
    return {
      savedAt: new Date().toISOString(),
      instruments: instruments.map((item) => ({ ...item, value: instrumentSchema.parse(item.value) })),
      players: players.map((item) => ({ ...item, value: playerSchema.parse(item.value) })),
      passages: rows.rows.map(({ row }) => ({
        id: row.id,
        version: row.version,
        createdAt: iso(row.created_at),
        updatedAt: iso(row.updated_at),
        openedAt: row.opened_at ? iso(row.opened_at) : null,
        deletedAt: row.deleted_at ? iso(row.deleted_at) : null,
        instrument: row.instrument_id,
        player: row.player_id,
        passage: { ...row.document, instrument: values.instruments.get(row.instrument_id)!, player: values.players.get(row.player_id)! },
        original: originals.get(row.id) ?? null,
      })),
    };
  });
}

async function setupRows(tx: Reader, table: "instruments" | "players"): Promise<BackedUpSetup<unknown>[]> {
  const { rows } = await tx.query<{ row: SetupRow }>(`select to_jsonb(t) as row from ${table} t order by created_at, id`);
  return rows.map(({ row }) => ({
    id: row.id,
    name: row.name,
    value: row.value,
    named: row.named ?? false,
    isDefault: row.is_default ?? false,
    createdAt: iso(row.created_at),
  }));
}

function iso(moment: string): string {
  return new Date(moment).toISOString();
}
