import { and, asc, eq, gt, isNotNull, ne, sql } from "drizzle-orm";
import type { Invitation, Person } from "../../api/wire.ts";
import { type Database, LOCAL_PERSON, type Transaction, writing } from "../database/database.ts";
import { invitations, passages, people, teachings } from "../database/schema.ts";
import { isPassphrase, keptOf } from "./passphrases.ts";
import { newSecret, sumOf } from "./secrets.ts";

/** How long an invitation can be taken, in ms. */
const INVITED_MS = 14 * 24 * 60 * 60 * 1000;

const PERSON = { id: people.id, name: people.name, mayInvite: people.mayInvite };

/** Who has an account here, and who was invited to have one. */
export class People {
  constructor(private readonly db: Database) {}

  /** Makes an account; null where the name is taken. The first one is that of whoever played here without a login, with all that is theirs. */
  async add(name: string, passphrase: string, mayInvite: boolean): Promise<Person | null> {
    const kept = await keptOf(passphrase);
    return writing(this.db, LOCAL_PERSON, (tx) => this.made(tx, { name, passphrase: kept, mayInvite }));
  }

  private async made(tx: Transaction, account: { name: string; passphrase: string; mayInvite: boolean }): Promise<Person | null> {
    if (await this.idOf(tx, account.name)) return null;
    const isFirst = (await tx.$count(people, isNotNull(people.passphrase))) === 0;
    const [person] = isFirst
      ? await tx
          .insert(people)
          .values({ id: LOCAL_PERSON, ...account })
          .onConflictDoUpdate({ target: people.id, set: account })
          .returning(PERSON)
      : await tx.insert(people).values(account).returning(PERSON);
    return person!;
  }

  /** On a machine of one's own: there is one player, whoever had an account. */
  async ensurePlayer(): Promise<void> {
    await this.db.insert(people).values({ id: LOCAL_PERSON, name: "player of this machine" }).onConflictDoNothing();
  }

  /** Whether anybody has an account. */
  async hasAny(): Promise<boolean> {
    const some = await this.db.select({ id: people.id }).from(people).where(isNotNull(people.passphrase)).limit(1);
    return some.length > 0;
  }

  /** Everybody with an account. */
  list(): Promise<Person[]> {
    return this.db.select(PERSON).from(people).where(isNotNull(people.passphrase)).orderBy(asc(people.name));
  }

  async find(name: string): Promise<Person | null> {
    const [person] = await this.db
      .select(PERSON)
      .from(people)
      .where(and(isCalled(name), isNotNull(people.passphrase)));
    return person ?? null;
  }

  /** Who it is whose name and passphrase these are; null for everybody else, after the same time. */
  async known(name: string, passphrase: string): Promise<Person | null> {
    const [row] = await this.db
      .select({ ...PERSON, passphrase: people.passphrase })
      .from(people)
      .where(isCalled(name));
    const isIt = await isPassphrase(passphrase, row?.passphrase ?? null);
    return isIt ? { id: row!.id, name: row!.name, mayInvite: row!.mayInvite } : null;
  }

  async setPassphrase(id: string, passphrase: string): Promise<void> {
    await this.db
      .update(people)
      .set({ passphrase: await keptOf(passphrase) })
      .where(eq(people.id, id));
  }

  /** Deletes an account and every row that is theirs. */
  async remove(id: string): Promise<void> {
    await writing(this.db, id, async (tx) => {
      // Before the instruments and players that they need.
      await tx.delete(passages).where(eq(passages.owner, id));
      await tx.delete(people).where(eq(people.id, id));
    });
  }

  /** Invites somebody; the secret is for the address that they are sent, and is nowhere else. */
  async invite(
    by: string,
    { note, mayInvite, asStudent }: Pick<Invitation, "note" | "mayInvite" | "asStudent">,
  ): Promise<{ invitation: Invitation; secret: string }> {
    const secret = newSecret();
    const expiresAt = new Date(Date.now() + INVITED_MS);
    const [row] = await this.db
      .insert(invitations)
      .values({ by, note, mayInvite, asStudent, secret: sumOf(secret), expiresAt })
      .returning({ id: invitations.id });
    return { invitation: { id: row!.id, note, mayInvite, asStudent, expiresAt: expiresAt.toISOString() }, secret };
  }

  /** Somebody's invitations that can still be taken. */
  async invitationsBy(by: string): Promise<Invitation[]> {
    const rows = await this.db
      .select()
      .from(invitations)
      .where(and(eq(invitations.by, by), isOpen()))
      .orderBy(asc(invitations.createdAt));
    return rows.map(({ id, note, mayInvite, asStudent, expiresAt }) => ({ id, note, mayInvite, asStudent, expiresAt: expiresAt.toISOString() }));
  }

  async withdraw(by: string, id: string): Promise<boolean> {
    const gone = await this.db
      .delete(invitations)
      .where(and(eq(invitations.by, by), eq(invitations.id, id)))
      .returning({ id: invitations.id });
    return gone.length > 0;
  }

  /** Makes the account that somebody was invited to have. An invitation is taken once. */
  async accept(secret: string, name: string, passphrase: string): Promise<Person | "no invitation" | "name taken"> {
    const isIt = isInvitation(secret);
    // Before anything that takes its time: whoever guesses costs nothing.
    if ((await this.db.$count(invitations, isIt)) === 0) return "no invitation";
    const kept = await keptOf(passphrase);
    return writing(this.db, LOCAL_PERSON, async (tx) => {
      const [invitation] = await tx.select().from(invitations).where(isIt);
      if (!invitation) return "no invitation";
      const person = await this.made(tx, { name, passphrase: kept, mayInvite: invitation.mayInvite });
      if (!person) return "name taken";
      await take(tx, invitation, person.id);
      return person;
    });
  }

  /** What there is to learn of an invitation from its address; null where it does not hold any more. */
  async invitation(secret: string): Promise<{ by: string; asStudent: boolean } | null> {
    const [row] = await this.db
      .select({ by: people.name, asStudent: invitations.asStudent })
      .from(invitations)
      .innerJoin(people, eq(people.id, invitations.by))
      .where(isInvitation(secret));
    return row ?? null;
  }

  /** Whoever has an account becomes the student of who invited them; false where there is no such invitation, or it is their own. */
  async join(secret: string, person: string): Promise<boolean> {
    return writing(this.db, LOCAL_PERSON, async (tx) => {
      const [invitation] = await tx
        .select()
        .from(invitations)
        .where(and(isInvitation(secret), eq(invitations.asStudent, true), ne(invitations.by, person)));
      if (invitation) await take(tx, invitation, person);
      return invitation !== undefined;
    });
  }

  /** Removes invitations that nobody took in time. */
  async sweep(): Promise<void> {
    await this.db.delete(invitations).where(sql`${invitations.expiresAt} < now()`);
  }

  private async idOf(tx: Transaction, name: string): Promise<string | undefined> {
    const [row] = await tx
      .select({ id: people.id })
      .from(people)
      .where(and(isCalled(name), isNotNull(people.passphrase)));
    return row?.id;
  }
}

/** An invitation is taken once. */
async function take(tx: Transaction, { id, by, asStudent }: typeof invitations.$inferSelect, person: string): Promise<void> {
  await tx.delete(invitations).where(eq(invitations.id, id));
  if (asStudent) await tx.insert(teachings).values({ teacher: by, student: person }).onConflictDoNothing();
}

function isInvitation(secret: string) {
  return and(eq(invitations.secret, sumOf(secret)), isOpen());
}

function isCalled(name: string) {
  return sql`lower(${people.name}) = lower(${name})`;
}

function isOpen() {
  return gt(invitations.expiresAt, sql`now()`);
}
