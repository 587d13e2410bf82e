import { createHash, randomUUID } from "node:crypto";
import { setImmediate as turn } from "node:timers/promises";
import { and, inArray, isNotNull, isNull, sql } from "drizzle-orm";
import { mergedSession, type PracticeSession } from "../../core/practice/record.ts";
import { canonical } from "../canonical.ts";
import type { Database } from "../database/open.ts";
import { passages, practiceSessions, practised } from "../database/schema.ts";
import { sessionOf } from "../practice.ts";

type Reader = Pick<Database, "select">;
type Transaction = Parameters<Parameters<Database["transaction"]>[0]>[0];

/** Written, and compared, in one go; others have their turn in between. */
const AT_ONCE = 50;

/** How many sessions of a backup are not here. */
export async function newSessionsOf(db: Reader, backed: readonly PracticeSession[]): Promise<number> {
  const here = await db.select({ id: practiceSessions.id }).from(practiceSessions).where(isNull(practiceSessions.staged));
  const known = new Set(here.map(({ id }) => id));
  return backed.filter(({ id }) => !known.has(id)).length;
}

/** What was written beforehand of the sessions of a backup. */
export interface StagedPractice {
  batch: string;
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
  batch: string,
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
        inArray(
          practiceSessions.id,
          some.map(({ id }) => id),
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
      return [{ id: randomUUID(), figure, startedAt: new Date(record.startedAt), record, staged: { batch, becomes: id, passage: becomesOf } }];
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
function inThePlaceOf(tx: Transaction, batch: string) {
  return and(isNull(practiceSessions.staged), inArray(practiceSessions.id, tx.select({ id: BECOMES }).from(practiceSessions).where(isOf(batch))));
}

const BECOMES = sql`(${practiceSessions.staged} ->> 'becomes')::uuid`;

/** Makes the staged sessions part of the log. */
export async function bringInPractice(tx: Transaction, { batch }: StagedPractice): Promise<void> {
  await tx.delete(practiceSessions).where(inThePlaceOf(tx, batch));
  const passage = sql`(${practiceSessions.staged} ->> 'passage')::uuid`;
  // How they stand is worked out afterwards: what has no standing is without one until then.
  const reached = tx.select({ id: passage }).from(practiceSessions).where(isOf(batch));
  await tx.delete(practised).where(inArray(practised.passageId, reached));
  const figures = tx.select({ figure: practiceSessions.figure }).from(practiceSessions).where(isOf(batch));
  await tx.delete(practised).where(inArray(practised.figure, figures));
  await tx
    .update(practiceSessions)
    .set({ id: BECOMES, staged: null, passageId: sql`(select p.id from ${passages} p where p.id = ${passage} and p.staged is null)` })
    .where(isOf(batch));
}

/** Removes sessions that are no part of the log, of one batch or of all. */
export async function removeStagedPractice(db: Pick<Database, "transaction">, batch?: string): Promise<void> {
  await db.transaction((tx) => tx.delete(practiceSessions).where(batch === undefined ? isNotNull(practiceSessions.staged) : isOf(batch)));
}

function isOf(batch: string) {
  return sql`${practiceSessions.staged} ->> 'batch' = ${batch}`;
}

function sumOf(session: PracticeSession): string {
  return createHash("md5").update(canonical(session)).digest("hex");
}
