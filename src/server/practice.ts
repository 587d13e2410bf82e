import { setImmediate as turn } from "node:timers/promises";
import { and, asc, desc, eq, gte, inArray, isNull, or, type SQL, sql } from "drizzle-orm";
import type { ListedSession, Standing } from "../api/wire.ts";
import { outcomesOf } from "../core/practice/outcomes.ts";
import { type KeptTake, mergedSession, type PracticeSession } from "../core/practice/record.ts";
import { type DrillState, drillStatesOf } from "../core/practice/schedule.ts";
import { countsOf } from "../core/practice/takes.ts";
import { type Database, type Transaction, writing } from "./database/database.ts";
import { passages, practiceSessions, practised } from "./database/schema.ts";

type Row = typeof practiceSessions.$inferSelect;

/** What is practised: a passage, or a move without one. */
export interface Subject {
  passage: string | null;
  figure: string | null;
}

/** How drills stand is worked out from so many of the last sessions of a passage: nobody waits for a log of years. */
const LOOKED_BACK = 200;
const MOST_TAKES = 30;
/** Sessions read in one go. */
const AT_ONCE = 50;

/** What somebody practised, and how it stands. What lies in the bin is not there, until its passage comes out of it. */
export class Practice {
  constructor(
    private readonly db: Database,
    private readonly owner: string,
  ) {}

  private writing<T>(write: (tx: Transaction) => Promise<T>): Promise<T> {
    return writing(this.db, this.owner, write);
  }

  /** A session of this log. */
  private is(id: string): SQL | undefined {
    return and(eq(practiceSessions.owner, this.owner), eq(practiceSessions.id, id));
  }

  /** What is part of this log, and no row that a restore has written beforehand. */
  private get ofLog(): SQL | undefined {
    return and(eq(practiceSessions.owner, this.owner), isNull(practiceSessions.staged));
  }

  /** Sessions since a moment, the latest first. */
  async list(since: Date): Promise<ListedSession[]> {
    const found: ListedSession[] = [];
    for await (const { drills, tries, takes, ...session } of this.sessions(gte(practiceSessions.startedAt, since)))
      found.push({ ...session, outcomes: outcomesOf({ drills, tries }), takes: takes.map(countsOf) });
    return found.reverse();
  }

  /** Every session in full, in the order in which they were. */
  async all(): Promise<PracticeSession[]> {
    const found: PracticeSession[] = [];
    for await (const session of this.sessions()) found.push(session);
    return found;
  }

  /** Sessions in the order in which they were, some at a time, so that others have their turn. */
  private async *sessions(condition?: SQL): AsyncGenerator<PracticeSession> {
    const ids = await this.db
      .select({ id: practiceSessions.id })
      .from(practiceSessions)
      .leftJoin(passages, ITS_PASSAGE)
      .where(and(this.ofLog, isNull(passages.deletedAt), condition))
      .orderBy(asc(practiceSessions.startedAt), practiceSessions.id);
    for (let at = 0; at < ids.length; at += AT_ONCE) {
      const some = ids.slice(at, at + AT_ONCE).map(({ id }) => id);
      const rows = await this.db
        .select({ session: practiceSessions, title: passages.title })
        .from(practiceSessions)
        .leftJoin(passages, ITS_PASSAGE)
        .where(and(eq(practiceSessions.owner, this.owner), inArray(practiceSessions.id, some)));
      const byId = new Map(rows.map((row) => [row.session.id, row]));
      for (const id of some) {
        const row = byId.get(id);
        if (row) yield { ...sessionOf(row.session), ...(row.title === null ? {} : { title: row.title }) };
      }
      await turn();
    }
  }

  /** Takes of a passage, the latest first: as many as anyone looks back at. */
  async takes(passage: string): Promise<KeptTake[]> {
    const rows = await this.db
      .select({ takes: sql<KeptTake[]>`${practiceSessions.record} -> 'takes'` })
      .from(practiceSessions)
      .where(and(this.ofLog, eq(practiceSessions.passageId, passage), sql`jsonb_array_length(${practiceSessions.record} -> 'takes') > 0`))
      .orderBy(desc(practiceSessions.startedAt))
      .limit(MOST_TAKES);
    return rows
      .flatMap(({ takes }) => takes)
      .sort((a, b) => b.at.localeCompare(a.at))
      .slice(0, MOST_TAKES);
  }

  /** The ids of all takes, those in the bin as well; or of those of one passage. */
  async takeIds(passage?: string): Promise<Set<string>> {
    const rows = await this.db
      .select({ id: sql<string>`jsonb_path_query(${practiceSessions.record}, '$.takes[*].id') #>> '{}'` })
      .from(practiceSessions)
      .where(and(this.ofLog, passage === undefined ? undefined : eq(practiceSessions.passageId, passage)));
    return new Set(rows.map(({ id }) => id));
  }

  /** How everything stands that was ever practised. */
  async standings(): Promise<Standing[]> {
    const rows = await this.db
      .select({ ...STANDING, title: passages.title })
      .from(practised)
      .leftJoin(passages, and(eq(passages.owner, practised.owner), eq(passages.id, practised.passageId)))
      .where(and(eq(practised.owner, this.owner), isNull(passages.deletedAt)));
    return rows.map(({ passageId, figure, states, title }) => ({ passage: passageId, figure, title: title ?? "", drills: states }));
  }

  /** How the drills of a passage or of a move stand. */
  async standing(subject: Subject): Promise<DrillState[]> {
    const [row] = await this.db
      .select({ states: practised.states })
      .from(practised)
      .where(isOf(practised, this.owner, subject));
    return row?.states ?? [];
  }

  /** Keeps a session, together with what is known of it already. One of a passage that is gone stays under its title. */
  async save(sent: PracticeSession): Promise<PracticeSession> {
    return this.writing(async (tx) => {
      const [known] = await tx.select().from(practiceSessions).where(this.is(sent.id));
      const merged = known ? mergedSession(sessionOf(known), sent) : sent;
      const session = { ...merged, passage: known ? known.passageId : await whereItIs(tx, this.owner, sent.passage) };
      await write(tx, this.owner, session);
      await standAnew(tx, this.owner, session);
      return session;
    });
  }

  /** Changes what was noted about a session; null when there is none. */
  async note(id: string, note: string): Promise<PracticeSession | null> {
    return this.writing(async (tx) => {
      const [known] = await tx.select().from(practiceSessions).where(this.is(id));
      if (!known) return null;
      const session = { ...sessionOf(known), note };
      await write(tx, this.owner, session);
      return session;
    });
  }

  /** Says which takes went with it; null when there is none. */
  async remove(id: string): Promise<string[] | null> {
    return this.writing(async (tx) => {
      const [gone] = await tx.delete(practiceSessions).where(this.is(id)).returning();
      if (!gone) return null;
      await standAnew(tx, this.owner, { passage: gone.passageId, figure: gone.figure });
      return gone.record.takes.map((take) => take.id);
    });
  }

  /** The whole log, what lies in the bin as well. */
  async removeAll(): Promise<void> {
    await this.writing(async (tx) => {
      await tx.delete(practiceSessions).where(eq(practiceSessions.owner, this.owner));
      await tx.delete(practised).where(eq(practised.owner, this.owner));
    });
  }
}

const STANDING = { passageId: practised.passageId, figure: practised.figure, states: practised.states };

/** The passage that a session is of, where there is one. */
const ITS_PASSAGE = and(eq(passages.owner, practiceSessions.owner), eq(passages.id, practiceSessions.passageId));

function isOf(table: typeof practised | typeof practiceSessions, owner: string, { passage, figure }: Subject): SQL | undefined {
  const its = passage !== null ? eq(table.passageId, passage) : and(isNull(table.passageId), figure === null ? isNull(table.figure) : eq(table.figure, figure));
  return and(eq(table.owner, owner), its);
}

export function sessionOf({ id, passageId, figure, record }: Pick<Row, "id" | "passageId" | "figure" | "record">): PracticeSession {
  return { id, passage: passageId, figure, ...record };
}

/** A passage's id, if there still is one. */
async function whereItIs(tx: Transaction, owner: string, passage: string | null): Promise<string | null> {
  if (passage === null) return null;
  const [row] = await tx
    .select({ id: passages.id })
    .from(passages)
    .where(and(eq(passages.owner, owner), eq(passages.id, passage), isNull(passages.staged)));
  return row?.id ?? null;
}

/** Works out how everything stands that has sessions and no standing: a restore leaves that for later. Of one owner, or of all. */
export async function standMissing(db: Pick<Database, "selectDistinct" | "transaction">, owner?: string): Promise<void> {
  const subjects = await db
    .selectDistinct({ owner: practiceSessions.owner, passage: practiceSessions.passageId, figure: practiceSessions.figure })
    .from(practiceSessions)
    .leftJoin(
      practised,
      and(
        eq(practised.owner, practiceSessions.owner),
        or(eq(practised.passageId, practiceSessions.passageId), and(isNull(practiceSessions.passageId), eq(practised.figure, practiceSessions.figure))),
      ),
    )
    .where(and(isNull(practiceSessions.staged), isNull(practised.id), owner === undefined ? undefined : eq(practiceSessions.owner, owner)));
  for (const { owner: whose, ...subject } of subjects) await writing(db, whose, (tx) => standAnew(tx, whose, subject));
}

/** Writes a session, over the one of its id. */
export async function write(tx: Transaction, owner: string, { id, passage, figure, ...record }: PracticeSession): Promise<void> {
  const row = { passageId: passage, figure, startedAt: new Date(record.startedAt), record };
  await tx
    .insert(practiceSessions)
    .values({ owner, id, ...row })
    .onConflictDoUpdate({ target: [practiceSessions.owner, practiceSessions.id], set: row });
}

/** Works out anew how the drills of a passage or of a move stand. */
export async function standAnew(tx: Transaction, owner: string, { passage, figure }: Subject): Promise<void> {
  if (passage === null && figure === null) return;
  const subject = { passage, figure: passage === null ? figure : null };
  const own = and(isNull(practiceSessions.staged), isOf(practiceSessions, owner, subject));
  const sessions = await tx.$count(practiceSessions, own);
  await tx.delete(practised).where(isOf(practised, owner, subject));
  if (sessions === 0) return;
  const rows = await tx.select().from(practiceSessions).where(own).orderBy(desc(practiceSessions.startedAt)).limit(LOOKED_BACK);
  await tx.insert(practised).values({ owner, passageId: subject.passage, figure: subject.figure, sessions, states: drillStatesOf(rows.map(sessionOf)) });
}
