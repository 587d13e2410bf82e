import { and, desc, eq, gt, ne, or, sql } from "drizzle-orm";
import type { Person, SignIn } from "../../api/wire.ts";
import type { Database } from "../database/database.ts";
import { people, signIns } from "../database/schema.ts";
import { newSecret, sumOf } from "./secrets.ts";

/** Who does not come for so many days has to sign in anew. */
export const STAYS_DAYS = 60;
/** A secret is replaced when it is so old; the one before it holds for what is on its way. */
const RENEWED_EVERY = sql`interval '1 day'`;
const BEFORE_HOLDS = sql`interval '2 minutes'`;
/** Not oftener is it written down that somebody was here. */
const SEEN_EVERY = sql`interval '1 hour'`;

/** Who is asking, where, and under which secret from now on where that is a new one. */
export interface SignedIn {
  person: Person;
  id: string;
  renewed: string | null;
}

/** Where people are signed in. */
export class SignIns {
  constructor(private readonly db: Database) {}

  /** Signs somebody in; returns the secret for their browser. */
  async begin(person: string, agent: string): Promise<string> {
    const secret = newSecret();
    await this.db.insert(signIns).values({ person, agent, secret: sumOf(secret) });
    return secret;
  }

  /** Who signed in with a secret; null where nobody did, or too long ago. */
  async find(secret: string): Promise<SignedIn | null> {
    const sum = sumOf(secret);
    const isIt = or(eq(signIns.secret, sum), and(eq(signIns.before, sum), gt(signIns.renewedAt, sql`now() - ${BEFORE_HOLDS}`)));
    const [row] = await this.db
      .select({
        id: signIns.id,
        isDue: sql<boolean>`${signIns.secret} = ${sum} and ${signIns.renewedAt} < now() - ${RENEWED_EVERY}`,
        isUnseen: sql<boolean>`${signIns.seenAt} < now() - ${SEEN_EVERY}`,
        person: { id: people.id, name: people.name, mayInvite: people.mayInvite },
      })
      .from(signIns)
      .innerJoin(people, eq(people.id, signIns.person))
      .where(and(isIt, gt(signIns.seenAt, sql`now() - make_interval(days => ${STAYS_DAYS})`)));
    if (!row) return null;
    const { id, isDue, isUnseen, person } = row;
    const renewed = isDue ? await this.renew(id, sum) : null;
    if (isUnseen) await this.db.update(signIns).set({ seenAt: sql`now()` }).where(eq(signIns.id, id));
    return { person, id, renewed };
  }

  /** Null where another request has renewed it meanwhile. */
  private async renew(id: string, sum: string): Promise<string | null> {
    const secret = newSecret();
    const done = await this.db
      .update(signIns)
      .set({ secret: sumOf(secret), before: sum, renewedAt: sql`now()` })
      .where(and(eq(signIns.id, id), eq(signIns.secret, sum)))
      .returning({ id: signIns.id });
    return done.length > 0 ? secret : null;
  }

  async list(person: string, here: string): Promise<SignIn[]> {
    const rows = await this.db.select().from(signIns).where(eq(signIns.person, person)).orderBy(desc(signIns.seenAt));
    return rows.map(({ id, agent, createdAt, seenAt }) => ({
      id,
      agent,
      since: createdAt.toISOString(),
      seenAt: seenAt.toISOString(),
      isHere: id === here,
    }));
  }

  /** Signs somebody out in one place. */
  async end(person: string, id: string): Promise<boolean> {
    const gone = await this.db
      .delete(signIns)
      .where(and(eq(signIns.person, person), eq(signIns.id, id)))
      .returning({ id: signIns.id });
    return gone.length > 0;
  }

  /** Signs somebody out everywhere, or everywhere but in one place. */
  async endAll(person: string, but?: string): Promise<void> {
    await this.db.delete(signIns).where(and(eq(signIns.person, person), but === undefined ? undefined : ne(signIns.id, but)));
  }

  /** Removes those that have ended by themselves. */
  async sweep(): Promise<void> {
    await this.db.delete(signIns).where(sql`${signIns.seenAt} < now() - make_interval(days => ${STAYS_DAYS})`);
  }
}
