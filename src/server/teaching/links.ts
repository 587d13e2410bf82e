import { and, asc, eq, gt, isNull, sql } from "drizzle-orm";
import type { Passage } from "../../core/passage/schema.ts";
import type { Database } from "../database/database.ts";
import { links, passages, people } from "../database/schema.ts";
import { readPassage } from "../library.ts";
import { newSecret, sumOf } from "../people/secrets.ts";

const DAY_MS = 24 * 60 * 60 * 1000;

export interface Link {
  id: string;
  passage: string;
  expiresAt: string;
}

/** Addresses under which passages of somebody's can be read without an account, until a day. */
export class Links {
  constructor(
    private readonly db: Database,
    private readonly owner: string,
  ) {}

  /** Links that still hold. */
  async list(): Promise<Link[]> {
    const rows = await this.db
      .select()
      .from(links)
      .where(and(eq(links.owner, this.owner), holds()))
      .orderBy(asc(links.expiresAt));
    return rows.map(linkOf);
  }

  /** Makes one; its secret is for its address and nowhere else. Null where there is no such passage. */
  async make(passage: string, days: number): Promise<{ link: Link; secret: string } | null> {
    const isThere = and(eq(passages.owner, this.owner), eq(passages.id, passage), isNull(passages.deletedAt), isNull(passages.staged));
    if ((await this.db.$count(passages, isThere)) === 0) return null;
    const secret = newSecret();
    const [row] = await this.db
      .insert(links)
      .values({ owner: this.owner, passageId: passage, secret: sumOf(secret), expiresAt: new Date(Date.now() + days * DAY_MS) })
      .returning();
    return { link: linkOf(row!), secret };
  }

  /** From now on it leads nowhere. */
  async withdraw(id: string): Promise<boolean> {
    const gone = await this.db
      .delete(links)
      .where(and(eq(links.owner, this.owner), eq(links.id, id)))
      .returning({ id: links.id });
    return gone.length > 0;
  }
}

/** What lies under an address: the passage as it is now. Null where the link does not hold, or the passage lies in the bin. */
export async function sharedUnder(db: Database, secret: string): Promise<{ passage: Passage; by: string; expiresAt: string } | null> {
  const [row] = await db
    .select({ owner: links.owner, passage: links.passageId, expiresAt: links.expiresAt, by: people.name })
    .from(links)
    .innerJoin(people, eq(people.id, links.owner))
    .where(and(eq(links.secret, sumOf(secret)), holds()));
  if (!row) return null;
  const stored = await readPassage(db, and(eq(passages.owner, row.owner), eq(passages.id, row.passage), isNull(passages.deletedAt)));
  return stored && { passage: stored.passage, by: row.by, expiresAt: row.expiresAt.toISOString() };
}

/** Removes those that have ended. */
export async function sweepLinks(db: Database): Promise<void> {
  await db.delete(links).where(sql`${links.expiresAt} < now()`);
}

function linkOf({ id, passageId, expiresAt }: typeof links.$inferSelect): Link {
  return { id, passage: passageId, expiresAt: expiresAt.toISOString() };
}

function holds() {
  return gt(links.expiresAt, sql`now()`);
}
