import { createHash, randomUUID } from "node:crypto";
import { setImmediate as turn } from "node:timers/promises";
import { isDeepStrictEqual } from "node:util";
import { and, eq, inArray, isNotNull, isNull, type SQL, sql } from "drizzle-orm";
import { alias } from "drizzle-orm/pg-core";
import type { Doubles, Restored, RestoreItem, RestorePreview, SetupKind } from "../../api/wire.ts";
import type { BackedUpSetup } from "../../core/formats/backup/backup.ts";
import type { Player } from "../../core/passage/schema.ts";
import { asText } from "../../core/passage/text.ts";
import { canonical } from "../canonical.ts";
import { type Database, IN_LEDGER, ITS_INSTRUMENT, ITS_PLAYER, type Reader, type Transaction, writing } from "../database/database.ts";
import { gifts, instruments, ledger, links, originals, passages, players, practiceSessions, practised, setupTable } from "../database/schema.ts";
import { removeUnneeded } from "../library.ts";
import { standMissing } from "../practice.ts";
import { Refusal } from "../problems.ts";
import type { JobOptions } from "../work/pool.ts";
import { type Batch, bringInPractice, isPracticeUnchanged, newSessionsOf, removeStagedPractice, stagePractice } from "./restore-practice.ts";
import type { ReadRow, ReadRows } from "./rows.ts";

/** What a restore does to the database: recordings lie beside it. */
type DatabasePreview = Omit<RestorePreview, "newRecordings">;

/** What a backup would change; nothing is written. */
export async function previewOf(db: Reader, owner: string, backup: ReadRows, verdicts: Verdicts = new Map()): Promise<DatabasePreview> {
  const look = await lookOf(db, owner, backup, verdicts);
  const named = new Set<string>();
  for (const table of [instruments, players])
    for (const row of await db.select({ canonical: table.canonical, named: table.named }).from(table).where(eq(table.owner, owner)))
      if (row.named) named.add(row.canonical);
  const items: RestoreItem[] = [];
  for (const row of backup.passages) items.push(await look(row));
  return {
    savedAt: backup.savedAt,
    passages: items,
    newSetups: [...backup.instruments, ...backup.players].filter((item) => item.named && !named.has(canonical(item.value))).map(({ name }) => name),
    newSessions: await newSessionsOf(db, owner, backup.practice),
  };
}

/** Whether a restore would do anything to what is here: one that does not is no reason for a backup. */
export function changesSomething({ passages: items, newSetups, newSessions }: DatabasePreview, doubles: Doubles): boolean {
  return (
    newSetups.length > 0 || newSessions > 0 || items.some(({ state }) => state === "new" || state === "binned" || (state === "double" && doubles !== "keep"))
  );
}

/** So often it is begun anew when the passages in question change meanwhile. */
const MOST_TIMES = 5;

/**
 * Brings back into somebody's library what a backup holds, all of it or nothing; stopped in the middle, nothing. Texts are written beforehand, a few at
 * a time, as staged rows that are no part of the library, so that others have their turn; one short transaction makes them so.
 */
export async function restore(
  db: Database,
  owner: string,
  backup: ReadRows,
  doubles: Doubles,
  { onProgress, signal }: JobOptions,
  verdicts: Verdicts = new Map(),
): Promise<Restored> {
  for (let time = 1; time <= MOST_TIMES; time++) {
    const likeness = await likenessOf(db, owner);
    const look = await lookOf(db, owner, backup, verdicts);
    const intended: Intended[] = [];
    /** By the id in the backup: the id here, where the same passage is here under another. */
    const elsewhere = new Map<string, string>();
    for (const row of backup.passages) {
      const { state, as } = await look(row);
      intended.push({ row, state });
      if (as !== row.id) elsewhere.set(row.id, as);
    }
    const written = writtenOf(intended, doubles);
    const batch = { owner, id: randomUUID(), since: new Date().toISOString() };
    const outlived = { ...batch, id: randomUUID() };
    try {
      const refs = await stage(db, backup, written, batch, { onProgress, signal });
      const practice = await stagePractice(db, backup.practice, elsewhere, batch, signal);
      const isDone = await writing(db, owner, async (tx) => {
        if ((await likenessOf(tx, owner)) !== likeness) {
          const again = await lookOf(tx, owner, backup, verdicts);
          for (const { row, state } of intended) if ((await again(row)).state !== state) return false;
        }
        if (!isDeepStrictEqual(refs, await referencesOf(tx, owner, backup, written))) return false;
        if (!(await isPracticeUnchanged(tx, practice))) return false;
        signal?.throwIfAborted();
        await bringIn(tx, backup, batch, outlived);
        await bringInPractice(tx, practice);
        return true;
      });
      if (isDone) await standMissing(db, owner);
      const replaced = intended.filter((item) => replaces(item, doubles)).length;
      if (isDone) return { added: written.length - replaced, replaced, leftAsTheyAre: intended.length - written.length };
    } finally {
      for (const rows of [batch, outlived]) await removeBatch(db, rows);
    }
  }
  throw new Refusal({ status: 409, title: "The library kept changing. Nothing was brought back.", detail: "Try again when nobody is writing." });
}

/** Removes what restores have left that were killed: rows that are no part of any library, written before a moment. */
export async function removeStaged(db: Database, before: Date): Promise<void> {
  const left = new Map<string, Batch>();
  // Those of an older version say no moment.
  for (const table of [passages, practiceSessions])
    for (const { owner, staged } of await db
      .selectDistinct({ owner: table.owner, staged: STAGED_AS(table) })
      .from(table)
      .where(isNotNull(table.staged)))
      if (staged.since === null || staged.since < before.toISOString()) left.set(`${owner} ${staged.id}`, { owner, ...staged, since: staged.since ?? "" });
  for (const batch of left.values()) await removeBatch(db, batch);
}

const STAGED_AS = (table: typeof passages | typeof practiceSessions) =>
  sql<{ id: string; since: string | null }>`jsonb_build_object('id', ${table.staged} ->> 'batch', 'since', ${table.staged} ->> 'since')`;

/** Removes rows of a batch that are no part of the library: what was not brought in, and what was replaced. A few at a time. */
async function removeBatch(db: Database, batch: Batch): Promise<void> {
  const { owner } = batch;
  await removeStagedPractice(db, batch);
  for (let isMore = true; isMore; await turn())
    isMore = await writing(db, owner, async (tx) => {
      const some = tx.select({ id: passages.id }).from(passages).where(isOf(batch)).limit(MOST_REMOVED);
      const gone = await tx
        .delete(passages)
        .where(and(eq(passages.owner, owner), inArray(passages.id, some)))
        .returning({ id: passages.id });
      if (gone.length < MOST_REMOVED) await removeUnneeded(tx, owner);
      return gone.length === MOST_REMOVED;
    });
}

/** Rows deleted in one go. */
const MOST_REMOVED = 100;

/** A passage of a backup, and what there is of it here. */
interface Intended {
  row: ReadRow;
  state: RestoreItem["state"];
}

/** A row to be written, and the id it will have. */
interface Written {
  row: ReadRow;
  becomes: string;
}

/** Written in one go: so many rows, or so many characters of documents. */
const MOST_ROWS = 10;
const MOST_TEXT = 100_000;

function replaces({ state }: Intended, doubles: Doubles): boolean {
  return state === "binned" || (state === "double" && doubles === "replace");
}

function writtenOf(intended: readonly Intended[], doubles: Doubles): Written[] {
  return intended.flatMap((item): Written[] => {
    const { row, state } = item;
    if (state === "new" || replaces(item, doubles)) return [{ row, becomes: row.id }];
    return state === "double" && doubles === "both" ? [{ row: renamed(row), becomes: randomUUID() }] : [];
  });
}

/** The same passage under a name that says where it comes from. */
function renamed(row: ReadRow): ReadRow {
  const title = `${asText(row.title.slice(0, 180))} (from backup)`;
  const document = JSON.stringify({ ...JSON.parse(row.document), title });
  return { ...row, title, document, checksum: createHash("md5").update(document).digest("hex") };
}

/** Writes the staged rows; says which rows of the setup they refer to. */
async function stage(db: Database, backup: ReadRows, written: readonly Written[], batch: Batch, { onProgress, signal }: JobOptions): Promise<References> {
  const refs: References = new Map();
  for (let at = 0; at < written.length; ) {
    await turn();
    signal?.throwIfAborted();
    const some: Written[] = [];
    for (let text = 0; at < written.length && some.length < MOST_ROWS && text < MOST_TEXT; at++) {
      onProgress?.(at, written.length);
      some.push(written[at]!);
      text += written[at]!.row.document.length;
    }
    for (const [id, now] of await writing(db, batch.owner, (tx) => stageSome(tx, backup, some, batch))) refs.set(id, now);
  }
  return refs;
}

async function stageSome(tx: Transaction, backup: ReadRows, some: readonly Written[], batch: Batch): Promise<References> {
  const { owner, id: of, since } = batch;
  const refs = await referencesOf(tx, owner, backup, some);
  const staged = some.map(({ row, becomes }) => ({ id: randomUUID(), row, becomes }));
  await tx.insert(passages).values(
    staged.map(({ id, row, becomes }) => ({
      owner,
      id,
      title: row.title,
      // The text as it is.
      document: sql`${row.document}`,
      card: row.card,
      instrumentId: refs.get(row.instrument)!,
      playerId: refs.get(row.player)!,
      version: row.version,
      updatedAt: new Date(row.updatedAt),
      createdAt: new Date(row.createdAt),
      openedAt: dateOf(row.openedAt),
      deletedAt: dateOf(row.deletedAt),
      staged: { batch: of, since, becomes, checksum: row.checksum },
    })),
  );
  for (const { id, row } of staged) if (row.original) await tx.insert(originals).values({ owner, passageId: id, ...row.original });
  return refs;
}

/** Makes the staged rows part of the library. Nothing long is written: texts and files are where they will be. */
async function bringIn(tx: Transaction, backup: ReadRows, batch: Batch, outlived: Batch): Promise<void> {
  const { owner } = batch;
  await restoreSetup(tx, owner, "instruments", backup.instruments);
  await restoreSetup(tx, owner, "players", backup.players);
  const becomes = sql`(${passages.staged} ->> 'becomes')::uuid`;
  // A backup without it may have had no room for it: what is here stays.
  await tx
    .update(originals)
    .set({ passageId: sql`${passages.id}` })
    .from(passages)
    .where(
      and(
        isOf(batch),
        eq(originals.owner, owner),
        eq(originals.passageId, becomes),
        sql`not exists (select 1 from ${originals} own where own.owner = ${passages.owner} and own.passage_id = ${passages.id})`,
      ),
    );
  for (const table of [practiceSessions, practised, gifts, links])
    await tx
      .update(table)
      .set({ passageId: sql`${passages.id}` })
      .from(passages)
      .where(and(isOf(batch), eq(table.owner, owner), eq(table.passageId, becomes)));
  // What is replaced steps aside and is deleted later: deleting texts takes its time.
  await tx
    .update(passages)
    .set({
      id: sql`gen_random_uuid()`,
      staged: sql`jsonb_build_object('batch', ${outlived.id}::text, 'since', ${outlived.since}::text, 'becomes', ${passages.id})`,
    })
    .where(and(eq(passages.owner, owner), inArray(passages.id, tx.select({ id: becomes }).from(passages).where(isOf(batch)))));
  await tx.execute(
    sql`insert into ${ledger} (owner, id, title, checksum) select ${passages.owner}, ${becomes}, ${passages.title}, ${passages.staged} ->> 'checksum' from ${passages} where ${isOf(batch)}
      on conflict (owner, id) do update set title = excluded.title, checksum = excluded.checksum`,
  );
  const old = alias(passages, "old");
  await tx
    .update(passages)
    .set({
      id: becomes,
      staged: null,
      createdAt: sql`${old.createdAt}`,
      openedAt: sql`${old.openedAt}`,
      updatedAt: sql`now()`,
      version: sql`greatest(${old.version}, ${passages.version}) + 1`,
    })
    .from(old)
    .where(
      and(
        isOf(batch),
        eq(old.owner, owner),
        sql`${old.staged} ->> 'batch' = ${outlived.id}`,
        sql`${old.staged} ->> 'becomes' = ${passages.staged} ->> 'becomes'`,
      ),
    );
  await tx.update(passages).set({ id: becomes, staged: null }).where(isOf(batch));
}

/** A sum over which passages there are, in which version, and which of them lie in the bin. */
async function likenessOf(db: Reader, owner: string): Promise<string | null> {
  const each = sql`${passages.id}::text || ' ' || ${passages.version} || ' ' || coalesce(${passages.deletedAt}::text, '')`;
  const [row] = await db
    .select({ sum: sql<string | null>`md5(string_agg(${each}, ',' order by ${passages.id}))` })
    .from(passages)
    .where(and(eq(passages.owner, owner), isNull(passages.staged)));
  return row!.sum;
}

function isOf({ owner, id }: Batch): SQL | undefined {
  return and(eq(passages.owner, owner), sql`${passages.staged} ->> 'batch' = ${id}`);
}

/** By the id in the backup: the id here of an instrument or a player. */
type References = Map<string, string>;

/** Rows of the setup that some passages need: equal ones are reused, others are there for these passages alone so far. */
async function referencesOf(tx: Transaction, owner: string, backup: ReadRows, written: readonly Written[]): Promise<References> {
  const refs: References = new Map();
  for (const kind of KINDS) {
    const table = setupTable(kind);
    const needed = new Set(written.map(({ row }) => row[kind === "instruments" ? "instrument" : "player"]));
    for (const { id, name, value, createdAt } of backup[kind]) {
      if (!needed.has(id)) continue;
      const row = { owner, name, value: value as Player, canonical: canonical(value), createdAt: new Date(createdAt) };
      const find = () =>
        tx
          .select({ id: table.id })
          .from(table)
          .where(and(eq(table.owner, owner), eq(table.canonical, row.canonical)));
      let [here] = await find();
      if (!here) {
        // Under its own id, unless another has it.
        await tx
          .insert(table)
          .values({ id, ...row })
          .onConflictDoNothing();
        await tx.insert(table).values(row).onConflictDoNothing();
        [here] = await find();
      }
      refs.set(id, here!.id);
    }
  }
  return refs;
}

/** Names instruments and players as the backup does, and adds those that no passage needs. */
async function restoreSetup(tx: Transaction, owner: string, kind: SetupKind, backed: readonly BackedUpSetup<unknown>[]): Promise<void> {
  const table = setupTable(kind);
  const is = (id: string) => and(eq(table.owner, owner), eq(table.id, id));
  const rows = await tx
    .select({ id: table.id, canonical: table.canonical, named: table.named, isDefault: table.isDefault })
    .from(table)
    .where(eq(table.owner, owner));
  const byValue = new Map(rows.map((row) => [row.canonical, row]));
  const taken = new Set(rows.map(({ id }) => id));
  // One at most, also of a backup that has several.
  let hasDefault = rows.some(({ isDefault }) => isDefault);
  for (const { id, name, value, named, isDefault, createdAt } of backed) {
    const text = canonical(value);
    const known = byValue.get(text);
    const becomesDefault = isDefault && !hasDefault;
    hasDefault ||= isDefault;
    if (known) {
      if (named && !known.named) await tx.update(table).set({ name, named }).where(is(known.id));
      if (becomesDefault) await tx.update(table).set({ isDefault }).where(is(known.id));
    } else if (named || becomesDefault) {
      const ownId = taken.has(id) ? {} : { id };
      await tx
        .insert(table)
        .values({ owner, ...ownId, name, value: value as Player, canonical: text, named, isDefault: becomesDefault, createdAt: new Date(createdAt) });
    }
  }
}

const KINDS = ["instruments", "players"] as const satisfies readonly SetupKind[];

/** Whether texts say the same, found out once: by the id of the passage here, its sum, and the sum in the backup. */
export type Verdicts = Map<string, boolean>;

/** So long, in ms, are texts compared before others have their turn. */
const LONGEST_STRETCH_MS = 20;

/** What is here of every passage of a backup. Contents are compared by their sums; only where those differ are they read. */
async function lookOf(db: Reader, owner: string, backup: ReadRows, verdicts: Verdicts): Promise<(row: ReadRow) => Promise<RestoreItem & { as: string }>> {
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
    .innerJoin(ledger, IN_LEDGER)
    .innerJoin(instruments, ITS_INSTRUMENT)
    .innerJoin(players, ITS_PLAYER)
    .where(eq(passages.owner, owner));
  const byId = new Map(rows.map((row) => [row.id, row]));
  const setups = new Map([...backup.instruments, ...backup.players].map(({ id, value }) => [id, canonical(value)]));
  const isLike = (row: ReadRow, here: Here) => here.instrument === setups.get(row.instrument) && here.player === setups.get(row.player);
  let begun = performance.now();
  const isEqual = async (row: ReadRow, here: Here) => {
    if (!isLike(row, here)) return false;
    if (here.checksum === row.checksum) return true;
    const pair = `${here.id} ${here.checksum} ${row.checksum}`;
    let isSame = verdicts.get(pair);
    if (isSame === undefined) {
      // Comparing texts takes its time: others have their turn.
      if (performance.now() - begun > LONGEST_STRETCH_MS) {
        await turn();
        begun = performance.now();
      }
      // An older version wrote keys in another order.
      const [now] = await db
        .select({ document: passages.document })
        .from(passages)
        .where(and(eq(passages.owner, owner), eq(passages.id, here.id)));
      isSame = now !== undefined && canonical(now.document) === canonical(JSON.parse(row.document));
      verdicts.set(pair, isSame);
    }
    return isSame;
  };
  const onShelf = new Map<string, Here[]>();
  for (const row of rows) if (!row.deletedAt) onShelf.set(row.title, [...(onShelf.get(row.title) ?? []), row]);
  return async (row) => {
    const { id, title, deletedAt, updatedAt } = row;
    const item = { id, as: id, title, inBin: deletedAt !== null, updatedAt };
    const here = byId.get(id);
    if (!here) {
      for (const other of onShelf.get(title) ?? []) if (await isEqual(row, other)) return { ...item, as: other.id, state: "same", here: null };
      return { ...item, state: "new", here: null };
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
