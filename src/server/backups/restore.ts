import { setImmediate as turn } from "node:timers/promises";
import { eq, sql } from "drizzle-orm";
import type { Doubles, Restored, RestoreItem, RestorePreview } from "../../api/wire.ts";
import type { BackedUpSetup } from "../../core/formats/backup/backup.ts";
import type { Player } from "../../core/passage/schema.ts";
import { asText } from "../../core/passage/text.ts";
import { canonical } from "../canonical.ts";
import type { Database } from "../database/open.ts";
import { instruments, ledger, originals, passages, players } from "../database/schema.ts";
import { removeUnneeded } from "../library.ts";
import type { JobOptions } from "../work/pool.ts";
import type { ReadRow, ReadRows } from "./rows.ts";

type Reader = Pick<Database, "select">;
type Transaction = Parameters<Parameters<Database["transaction"]>[0]>[0];

/** What a backup would change; nothing is written. */
export async function previewOf(db: Reader, backup: ReadRows): Promise<RestorePreview> {
  const look = await lookOf(db, backup);
  const named = new Set<string>();
  for (const table of [instruments, players])
    for (const row of await db.select({ canonical: table.canonical, named: table.named }).from(table)) if (row.named) named.add(row.canonical);
  const items: RestoreItem[] = [];
  for (const row of backup.passages) items.push(await look(row));
  return {
    savedAt: backup.savedAt,
    passages: items,
    newSetups: [...backup.instruments, ...backup.players].filter((item) => item.named && !named.has(canonical(item.value))).map(({ name }) => name),
  };
}

/** Whether a restore would do anything to what is here: one that does not is no reason for a backup. */
export function changesSomething({ passages: items, newSetups }: RestorePreview, doubles: Doubles): boolean {
  return newSetups.length > 0 || items.some(({ state }) => state === "new" || state === "binned" || (state === "double" && doubles !== "keep"));
}

/** Brings back what a backup holds, all of it or nothing; stopped in the middle, nothing. */
export async function restore(db: Database, backup: ReadRows, doubles: Doubles, { onProgress, signal }: JobOptions): Promise<Restored> {
  return db.transaction(async (tx) => {
    const look = await lookOf(tx, backup);
    const refs = { instruments: await restoreSetup(tx, "instruments", backup.instruments), players: await restoreSetup(tx, "players", backup.players) };
    const done: Restored = { added: 0, replaced: 0, leftAsTheyAre: 0 };
    const added: ReadRow[] = [];
    for (const [i, row] of backup.passages.entries()) {
      onProgress?.(i, backup.passages.length);
      // The server answers others in between; the database itself is this transaction's, which is why it is short.
      await turn();
      signal?.throwIfAborted();
      const { state } = await look(row);
      if (state === "new") {
        added.push(row);
        if (added.length === AT_ONCE) await addAll(tx, added.splice(0), refs);
        done.added++;
      } else done[await restoreOne(tx, row, state, doubles, refs)]++;
    }
    await addAll(tx, added, refs);
    await removeUnneeded(tx);
    return done;
  });
}

interface References {
  instruments: ReadonlyMap<string, string>;
  players: ReadonlyMap<string, string>;
}

/** Passages written in one go. */
const AT_ONCE = 25;

function valuesOf(row: ReadRow, refs: References) {
  return {
    title: row.title,
    // The text as it is.
    document: sql`${row.document}`,
    card: row.card,
    instrumentId: refs.instruments.get(row.instrument)!,
    playerId: refs.players.get(row.player)!,
  };
}

function momentsOf(row: ReadRow) {
  return { createdAt: new Date(row.createdAt), openedAt: dateOf(row.openedAt), deletedAt: dateOf(row.deletedAt) };
}

/** Adds passages that are not here. */
async function addAll(tx: Transaction, rows: readonly ReadRow[], refs: References): Promise<void> {
  if (rows.length === 0) return;
  await tx
    .insert(passages)
    .values(rows.map((row) => ({ id: row.id, ...valuesOf(row, refs), ...momentsOf(row), version: row.version, updatedAt: new Date(row.updatedAt) })));
  for (const row of rows) await keepOriginal(tx, row.id, row.original);
}

/** What is done with a passage that is here in some way. */
async function restoreOne(
  tx: Transaction,
  row: ReadRow,
  state: Exclude<RestoreItem["state"], "new">,
  doubles: Doubles,
  refs: References,
): Promise<keyof Restored> {
  if (state === "same" || (state === "double" && doubles === "keep")) return "leftAsTheyAre";
  const [values, moments] = [valuesOf(row, refs), momentsOf(row)];
  if (state === "binned" || (state === "double" && doubles === "replace")) {
    await tx
      .update(passages)
      .set({ ...values, deletedAt: moments.deletedAt, updatedAt: sql`now()`, version: sql`greatest(${passages.version}, ${row.version}) + 1` })
      .where(eq(passages.id, row.id));
    await keepOriginal(tx, row.id, row.original);
    return "replaced";
  }
  const title = `${asText(row.title.slice(0, 180))} (from backup)`;
  const [made] = await tx
    .insert(passages)
    .values({
      ...values,
      ...moments,
      title,
      document: { ...JSON.parse(row.document), title },
      version: row.version,
      updatedAt: new Date(row.updatedAt),
    })
    .returning({ id: passages.id });
  await keepOriginal(tx, made!.id, row.original);
  return "added";
}

/** Brings back instruments or players; equal ones are reused. Says under which id each is here now. */
async function restoreSetup(tx: Transaction, kind: "instruments" | "players", backed: readonly BackedUpSetup<unknown>[]): Promise<Map<string, string>> {
  // Both tables have the same columns; only the type of the value differs.
  const table = (kind === "instruments" ? instruments : players) as typeof players;
  const rows = await tx.select({ id: table.id, canonical: table.canonical, named: table.named, isDefault: table.isDefault }).from(table);
  const byValue = new Map(rows.map((row) => [row.canonical, row]));
  const taken = new Set(rows.map(({ id }) => id));
  // One at most, also of a backup that has several.
  let hasDefault = rows.some(({ isDefault }) => isDefault);
  const ids = new Map<string, string>();
  for (const { id, name, value, named, isDefault, createdAt } of backed) {
    const text = canonical(value);
    const known = byValue.get(text);
    if (known) {
      ids.set(id, known.id);
      if (named && !known.named) await tx.update(table).set({ name, named }).where(eq(table.id, known.id));
      if (isDefault && !hasDefault) {
        await tx.update(table).set({ isDefault }).where(eq(table.id, known.id));
        hasDefault = true;
      }
      continue;
    }
    const [row] = await tx
      .insert(table)
      .values({
        ...(taken.has(id) ? {} : { id }),
        name,
        value: value as Player,
        canonical: text,
        named,
        isDefault: isDefault && !hasDefault,
        createdAt: new Date(createdAt),
      })
      .returning({ id: table.id });
    ids.set(id, row!.id);
    hasDefault ||= isDefault;
  }
  return ids;
}

async function keepOriginal(tx: Transaction, passageId: string, original: ReadRow["original"]): Promise<void> {
  // A backup without it may have had no room for it: what is here stays.
  if (!original) return;
  await tx.delete(originals).where(eq(originals.passageId, passageId));
  await tx.insert(originals).values({ passageId, ...original });
}

/** What is here of every passage of a backup. Contents are compared by their sums; only where those differ are they read. */
async function lookOf(db: Reader, backup: ReadRows): Promise<(row: ReadRow) => Promise<RestoreItem>> {
  const rows = await db
    .select({
      id: passages.id,
      title: passages.title,
      updatedAt: passages.updatedAt,
      deletedAt: passages.deletedAt,
      checksum: ledger.checksum,
      instrument: instruments.canonical,
      player: players.canonical,
    })
    .from(passages)
    .innerJoin(ledger, eq(ledger.id, passages.id))
    .innerJoin(instruments, eq(instruments.id, passages.instrumentId))
    .innerJoin(players, eq(players.id, passages.playerId));
  const byId = new Map(rows.map((row) => [row.id, row]));
  const setups = new Map([...backup.instruments, ...backup.players].map(({ id, value }) => [id, canonical(value)]));
  const isLike = (row: ReadRow, here: Here) => here.instrument === setups.get(row.instrument) && here.player === setups.get(row.player);
  const isEqual = async (row: ReadRow, here: Here) => {
    if (!isLike(row, here)) return false;
    if (here.checksum === row.checksum) return true;
    // An older version wrote keys in another order.
    const [now] = await db.select({ document: passages.document }).from(passages).where(eq(passages.id, here.id));
    return now !== undefined && canonical(now.document) === canonical(JSON.parse(row.document));
  };
  const onShelf = new Map<string, Here[]>();
  for (const row of rows) if (!row.deletedAt) onShelf.set(row.title, [...(onShelf.get(row.title) ?? []), row]);
  return async (row) => {
    const { id, title, deletedAt, updatedAt } = row;
    const item = { id, title, inBin: deletedAt !== null, updatedAt };
    const here = byId.get(id);
    if (!here) {
      let state: RestoreItem["state"] = "new";
      for (const other of onShelf.get(title) ?? []) if (await isEqual(row, other)) state = "same";
      return { ...item, state, here: null };
    }
    if (await isEqual(row, here)) return { ...item, state: here.deletedAt && !deletedAt ? "binned" : "same", here: null };
    return { ...item, state: "double", here: { title: here.title, updatedAt: here.updatedAt.toISOString(), inBin: here.deletedAt !== null } };
  };
}

interface Here {
  id: string;
  title: string;
  updatedAt: Date;
  deletedAt: Date | null;
  checksum: string;
  instrument: string;
  player: string;
}

function dateOf(moment: string | null): Date | null {
  return moment === null ? null : new Date(moment);
}
