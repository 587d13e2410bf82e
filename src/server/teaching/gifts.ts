import { createHash } from "node:crypto";
import { and, asc, eq, inArray, isNull, type SQL, sql } from "drizzle-orm";
import type { AskedDrill, Gift } from "../../api/wire.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { upgraded } from "../../core/passage/upgrade.ts";
import { canonical } from "../canonical.ts";
import { type Database, type Transaction, writing } from "../database/database.ts";
import { gifts, passages, people, teachings } from "../database/schema.ts";
import { insertPassage, readPassage, removeUnneeded, replacePassage } from "../library.ts";

/** A passage on its way to students, and what is asked for with it. */
export interface Giving {
  /** The passage in the teacher's library. */
  origin: string;
  passage: Passage;
  note: string;
  drills: AskedDrill[];
}

/** What came of giving something to one student. */
type Given = "copies" | "offers" | "same";

type Row = typeof gifts.$inferSelect;

/**
 * Passages that a teacher gave: each student has a copy that is their own. Given once more, a newer one is offered, and takes the
 * place of the copy when the student wants it; work on the copy is kept beside it.
 */
export class Gifts {
  constructor(
    private readonly db: Database,
    private readonly person: string,
  ) {}

  private is(id: string): SQL | undefined {
    return and(eq(gifts.owner, this.person), eq(gifts.id, id));
  }

  /** Gives a passage to students, by the ids of the teachings; null where one of them is none, and then nobody has it. */
  async give(to: readonly string[], giving: Giving): Promise<Record<Given, number> | null> {
    const students = await this.db
      .select({ id: teachings.student })
      .from(teachings)
      .where(and(eq(teachings.teacher, this.person), inArray(teachings.id, [...to])));
    if (students.length < new Set(to).size) return null;
    const [teacher] = await this.db.select({ name: people.name }).from(people).where(eq(people.id, this.person));
    const counts = { copies: 0, offers: 0, same: 0 };
    for (const { id } of students) counts[await writing(this.db, id, (tx) => this.giveTo(tx, id, teacher!.name, giving))]++;
    return counts;
  }

  private async giveTo(tx: Transaction, student: string, teacherName: string, { origin, passage, note, drills }: Giving): Promise<Given> {
    const sum = sumOf(passage);
    const isIt = and(eq(gifts.owner, student), eq(gifts.teacher, this.person), eq(gifts.origin, origin));
    const [known] = await tx.select().from(gifts).where(isIt);
    if (!known) {
      const passageId = await insertPassage(tx, student, passage);
      await tx.insert(gifts).values({ owner: student, passageId, teacher: this.person, teacherName, origin, sum, note, drills });
      return "copies";
    }
    const isSame = known.sum === sum;
    // What was offered before and not taken has been overtaken.
    await tx
      .update(gifts)
      .set({ note, drills, teacherName, offer: isSame ? null : JSON.stringify(passage) })
      .where(isIt);
    return isSame ? "same" : "offers";
  }

  /** What was given to somebody and does not lie in the bin. */
  async list(): Promise<Gift[]> {
    const rows = await this.db
      .select({ gift: gifts })
      .from(gifts)
      .innerJoin(passages, and(eq(passages.owner, gifts.owner), eq(passages.id, gifts.passageId)))
      .where(and(eq(gifts.owner, this.person), isNull(passages.deletedAt), isNull(passages.staged)))
      .orderBy(asc(gifts.givenAt));
    return rows.map(({ gift }) => wireOf(gift));
  }

  /** The drills that are asked for in a passage, by their ids. */
  async askedOf(passage: string): Promise<string[]> {
    const rows = await this.db
      .select({ drills: gifts.drills })
      .from(gifts)
      .where(and(eq(gifts.owner, this.person), eq(gifts.passageId, passage)));
    return rows.flatMap(({ drills }) => drills.map(({ id }) => id));
  }

  /** Puts what is offered in the place of the copy; what was changed in the copy is kept as another passage. Null where nothing is offered. */
  async take(id: string): Promise<{ passage: string; kept: string | null } | null> {
    return writing(this.db, this.person, async (tx) => {
      const [gift] = await tx.select().from(gifts).where(this.is(id));
      if (!gift?.offer) return null;
      const which = and(eq(passages.owner, this.person), eq(passages.id, gift.passageId));
      const offered = upgraded(JSON.parse(gift.offer)) as Passage;
      const mine = await readPassage(tx, and(which, isNull(passages.deletedAt)));
      if (!mine) return null;
      const isWorkedOn = sumOf(mine.passage) !== gift.sum;
      const kept = isWorkedOn ? await insertPassage(tx, this.person, { ...mine.passage, title: copyTitle(mine.passage.title) }) : null;
      await replacePassage(tx, this.person, offered, which);
      await tx
        .update(gifts)
        .set({ sum: sumOf(offered), offer: null, givenAt: sql`now()` })
        .where(this.is(id));
      await removeUnneeded(tx, this.person);
      return { passage: gift.passageId, kept };
    });
  }

  /** Leaves the copy as it is; false where nothing is offered. */
  async leave(id: string): Promise<boolean> {
    return writing(this.db, this.person, async (tx) => {
      const [gift] = await tx.select({ offer: gifts.offer }).from(gifts).where(this.is(id));
      if (!gift?.offer) return false;
      await tx.update(gifts).set({ offer: null }).where(this.is(id));
      return true;
    });
  }
}

/** Titles have 200 characters at most. */
const LONGEST_TITLE = 200;

function copyTitle(title: string): string {
  const end = " (my copy)";
  return title.slice(0, LONGEST_TITLE - end.length) + end;
}

function sumOf(passage: Passage): string {
  return createHash("md5").update(canonical(passage)).digest("hex");
}

function wireOf({ id, passageId, teacherName, givenAt, note, drills, offer }: Row): Gift {
  return { id, passage: passageId, by: teacherName, givenAt: givenAt.toISOString(), note, drills, isOffered: offer !== null };
}
