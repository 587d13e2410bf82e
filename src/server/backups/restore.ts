import { eq, sql } from "drizzle-orm";
import type { Doubles, Restored, RestoreItem, RestorePreview } from "../../api/wire.ts";
import type { BackedUpPassage, BackedUpSetup, LibraryBackup } from "../../core/formats/backup/backup.ts";
import type { Passage, Player } from "../../core/passage/schema.ts";
import { asText } from "../../core/passage/text.ts";
import { canonical } from "../canonical.ts";
import type { Database } from "../database/open.ts";
import { instruments, originals, passages, players } from "../database/schema.ts";
import { documentOf, removeUnneeded } from "../library.ts";

type Reader = Pick<Database, "select">;

/** What a backup would change; nothing is written. */
export async function previewOf(db: Reader, backup: LibraryBackup): Promise<RestorePreview> {
  const here = await contentsOf(db);
  const known = new Set<string>();
  for (const table of [instruments, players]) for (const row of await db.select({ canonical: table.canonical }).from(table)) known.add(row.canonical);
  return {
    savedAt: backup.savedAt,
    passages: backup.passages.map((passage) => itemOf(passage, here)),
    newSetups: [...backup.instruments, ...backup.players].filter(({ named, value }) => named && !known.has(canonical(value))).map(({ name }) => name),
  };
}

/** Brings back what a backup holds, all of it or nothing. */
export async function restore(db: Database, backup: LibraryBackup, doubles: Doubles): Promise<Restored> {
  return db.transaction(async (tx) => {
    const here = await contentsOf(tx);
    const refs = { instruments: await restoreSetup(tx, "instruments", backup.instruments), players: await restoreSetup(tx, "players", backup.players) };
    const done: Restored = { added: 0, replaced: 0, leftAsTheyAre: 0 };
    for (const backed of backup.passages) {
      const { state } = itemOf(backed, here);
      const values = {
        title: backed.passage.title,
        document: documentOf(backed.passage),
        instrumentId: refs.instruments.get(backed.instrument)!,
        playerId: refs.players.get(backed.player)!,
      };
      const moments = { createdAt: new Date(backed.createdAt), openedAt: dateOf(backed.openedAt), deletedAt: dateOf(backed.deletedAt) };
      if (state === "same" || (state === "double" && doubles === "keep")) {
        done.leftAsTheyAre++;
        continue;
      }
      if (state === "binned" || (state === "double" && doubles === "replace")) {
        await tx
          .update(passages)
          .set({ ...values, deletedAt: moments.deletedAt, updatedAt: sql`now()`, version: sql`greatest(${passages.version}, ${backed.version}) + 1` })
          .where(eq(passages.id, backed.id));
        await keepOriginal(tx, backed.id, backed.original);
        done.replaced++;
        continue;
      }
      const copied = state === "double";
      const title = copied ? `${asText(backed.passage.title.slice(0, 180))} (from backup)` : backed.passage.title;
      const [row] = await tx
        .insert(passages)
        .values({
          ...values,
          ...moments,
          ...(copied ? {} : { id: backed.id }),
          title,
          document: { ...values.document, title },
          version: backed.version,
          updatedAt: new Date(backed.updatedAt),
        })
        .returning({ id: passages.id });
      await keepOriginal(tx, row!.id, backed.original);
      done.added++;
    }
    await removeUnneeded(tx);
    return done;
  });
}

type Transaction = Parameters<Parameters<Database["transaction"]>[0]>[0];

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
    hasDefault ||= isDefault;
    ids.set(id, row!.id);
  }
  return ids;
}

async function keepOriginal(tx: Transaction, passageId: string, original: BackedUpPassage["original"]): Promise<void> {
  // A backup without it may have had no room for it: what is here stays.
  if (!original) return;
  await tx.delete(originals).where(eq(originals.passageId, passageId));
  await tx.insert(originals).values({ passageId, ...original });
}

interface Contents {
  byId: Map<string, { title: string; updatedAt: Date; deletedAt: Date | null; content: string }>;
  /** Contents of the passages on the shelf. */
  onShelf: Set<string>;
}

async function contentsOf(db: Reader): Promise<Contents> {
  const rows = await db
    .select({
      id: passages.id,
      title: passages.title,
      updatedAt: passages.updatedAt,
      deletedAt: passages.deletedAt,
      document: passages.document,
      instrument: instruments.value,
      player: players.value,
    })
    .from(passages)
    .innerJoin(instruments, eq(instruments.id, passages.instrumentId))
    .innerJoin(players, eq(players.id, passages.playerId));
  const read = rows.map((row) => ({ ...row, content: contentOf({ ...row.document, instrument: row.instrument, player: row.player }) }));
  return { byId: new Map(read.map((row) => [row.id, row])), onShelf: new Set(read.filter((row) => !row.deletedAt).map((row) => row.content)) };
}

function itemOf({ id, passage, deletedAt, updatedAt }: BackedUpPassage, { byId, onShelf }: Contents): RestoreItem {
  const here = byId.get(id);
  const content = contentOf(passage);
  const item = { id, title: passage.title, inBin: deletedAt !== null, updatedAt };
  if (!here) return { ...item, state: onShelf.has(content) ? "same" : "new", here: null };
  if (here.content === content) return { ...item, state: here.deletedAt && !deletedAt ? "binned" : "same", here: null };
  return { ...item, state: "double", here: { title: here.title, updatedAt: here.updatedAt.toISOString(), inBin: here.deletedAt !== null } };
}

function contentOf(passage: Passage): string {
  return canonical(passage);
}

function dateOf(moment: string | null): Date | null {
  return moment === null ? null : new Date(moment);
}
