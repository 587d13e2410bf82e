import { createHash, randomUUID } from "node:crypto";
import { setImmediate as turn } from "node:timers/promises";
import { and, eq, inArray, isNull, sql } from "drizzle-orm";
import { mergedSession, type PracticeSession } from "../../core/practice/record.ts";
import { canonical } from "../canonical.ts";
import { type Database, type Reader, type Transaction, writing } from "../database/database.ts";
import { passages, practiceSessions, practised } from "../database/schema.ts";
import { sessionOf } from "../practice.ts";

/** Rows that a restore writes beforehand into somebody's library. */
export interface Batch {
  owner: string;
  id: string;
  /** When it was begun. */
  since: string;
}

/** Written, and compared, in one go; others have their turn in between. */
const AT_ONCE = 50;

/** How many sessions of a backup are not here. */
export async function newSessionsOf(db: Reader, owner: string, backed: readonly PracticeSession[]): Promise<number> {
  const here = await db
    .select({ id: practiceSessions.id })
    .from(practiceSessions)
    .where(and(eq(practiceSessions.owner, owner), isNull(practiceSessions.staged)));
  const known = new Set(here.map(({ id }) => id));
  return backed.filter(({ id }) => !known.has(id)).length;
}

/** What was written beforehand of the sessions of a backup. */
export interface StagedPractice {
  batch: Batch;
  /** Sessions that are here already and get something more, with the sum of how they are here. */
  known: Map<string, string>;
}

/**
 * Writes the sessions of a backup as rows that are no part of the log yet. One that is here already is brought together with what
 * is here: what happened in either has happened, and what was noted here stays.
 */
export async function stagePractice(
  db: Database,
  backed: readonly PracticeSession[],
  elsewhere: ReadonlyMap<string, string>,
  batch: Batch,
  signal?: AbortSignal,
): Promise<StagedPractice> {
  const known: StagedPractice["known"] = new Map();
  for (let at = 0; at < backed.length; at += AT_ONCE) {
    await turn();
    signal?.throwIfAborted();
    const some = backed.slice(at, at + AT_ONCE);
    const rows = await db
      .select()
      .from(practiceSessions)
      .where(
        and(
          eq(practiceSessions.owner, batch.owner),
          inArray(
            practiceSessions.id,
            some.map(({ id }) => id),
          ),
        ),
      );
    const here = new Map(rows.map((row) => [row.id, sessionOf(row)]));
    const values = some.flatMap((session) => {
      const now = here.get(session.id);
      const merged = now ? { ...mergedSession(session, now), passage: now.passage, figure: now.figure } : session;
      if (now && canonical(merged) === canonical(now)) return [];
      if (now) known.set(now.id, sumOf(now));
      const { id, passage, figure, ...record } = merged;
      const becomesOf = passage === null ? null : (elsewhere.get(passage) ?? passage);
      const staged = { batch: batch.id, since: batch.since, becomes: id, passage: becomesOf };
      return [{ owner: batch.owner, id: randomUUID(), figure, startedAt: new Date(record.startedAt), record, staged }];
    });
    if (values.length > 0) await db.insert(practiceSessions).values(values);
  }
  return { batch, known };
}

/** Whether sessions that are here are as they were when those of the backup were written. */
export async function isPracticeUnchanged(tx: Transaction, { batch, known }: StagedPractice): Promise<boolean> {
  const here = await tx.select().from(practiceSessions).where(inThePlaceOf(tx, batch));
  return here.length === known.size && here.every((row) => known.get(row.id) === sumOf(sessionOf(row)));
}

/** The sessions here that those of a batch will be. */
function inThePlaceOf(tx: Transaction, batch: Batch) {
  return and(
    eq(practiceSessions.owner, batch.owner),
    isNull(practiceSessions.staged),
    inArray(practiceSessions.id, tx.select({ id: BECOMES }).from(practiceSessions).where(isOf(batch))),
  );
}

const BECOMES = sql`(${practiceSessions.staged} ->> 'becomes')::uuid`;

/** Makes the staged sessions part of the log. */
export async function bringInPractice(tx: Transaction, { batch }: StagedPractice): Promise<void> {
  await tx.delete(practiceSessions).where(inThePlaceOf(tx, batch));
  const passage = sql`(${practiceSessions.staged} ->> 'passage')::uuid`;
  // How they stand is worked out afterwards: what has no standing is without one until then.
  const reached = tx.select({ id: passage }).from(practiceSessions).where(isOf(batch));
  await tx.delete(practised).where(and(eq(practised.owner, batch.owner), inArray(practised.passageId, reached)));
  const figures = tx.select({ figure: practiceSessions.figure }).from(practiceSessions).where(isOf(batch));
  await tx.delete(practised).where(and(eq(practised.owner, batch.owner), inArray(practised.figure, figures)));
  await tx
    .update(practiceSessions)
    .set({
      id: BECOMES,
      staged: null,
      passageId: sql`(select p.id from ${passages} p where p.owner = ${batch.owner} and p.id = ${passage} and p.staged is null)`,
    })
    .where(isOf(batch));
}

/** Removes sessions of a batch that are no part of the log. */
export async function removeStagedPractice(db: Database, batch: Batch): Promise<void> {
  await writing(db, batch.owner, (tx) => tx.delete(practiceSessions).where(isOf(batch)));
}

function isOf({ owner, id }: Batch) {
  return and(eq(practiceSessions.owner, owner), sql`${practiceSessions.staged} ->> 'batch' = ${id}`);
}

function sumOf(session: PracticeSession): string {
  return createHash("md5").update(canonical(session)).digest("hex");
}
