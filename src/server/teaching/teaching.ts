import { and, asc, eq, type SQL } from "drizzle-orm";
import type { AnyPgColumn } from "drizzle-orm/pg-core";
import type { StudentReport, Teachings } from "../../api/wire.ts";
import { reportOf } from "../../core/practice/report.ts";
import type { Database } from "../database/database.ts";
import { people, teachings } from "../database/schema.ts";
import { Practice } from "../practice.ts";

/** Whom somebody teaches, and who teaches them. */
export class Teaching {
  constructor(
    private readonly db: Database,
    private readonly person: string,
  ) {}

  /** As a student. */
  private withTeacher(id: string): SQL | undefined {
    return and(eq(teachings.student, this.person), eq(teachings.id, id));
  }

  /** As a teacher. */
  private withStudent(id: string): SQL | undefined {
    return and(eq(teachings.teacher, this.person), eq(teachings.id, id));
  }

  async list(): Promise<Teachings> {
    const others = (mine: AnyPgColumn, theirs: AnyPgColumn) =>
      this.db
        .select({ id: teachings.id, name: people.name, shows: teachings.shows })
        .from(teachings)
        .innerJoin(people, eq(people.id, theirs))
        .where(eq(mine, this.person))
        .orderBy(asc(people.name));
    const teachers = await others(teachings.student, teachings.teacher);
    const students = await others(teachings.teacher, teachings.student);
    return { teachers: teachers.map(({ shows, ...teacher }) => ({ ...teacher, sees: shows })), students };
  }

  /** Lets a teacher see what is practised, or no more; false where they are none. */
  async show(id: string, shows: boolean): Promise<boolean> {
    const done = await this.db.update(teachings).set({ shows }).where(this.withTeacher(id)).returning({ id: teachings.id });
    return done.length > 0;
  }

  /** Ends it, as a student or as a teacher; what was given stays. */
  end(id: string, as: "student" | "teacher"): Promise<boolean> {
    const which = as === "student" ? this.withTeacher(id) : this.withStudent(id);
    return this.db
      .delete(teachings)
      .where(which)
      .returning({ id: teachings.id })
      .then((gone) => gone.length > 0);
  }

  /** What a student practised since a moment; without figures where it is not shown, null where there is no such student. */
  async report(id: string, since: Date, dayOf: (at: Date) => string): Promise<StudentReport | null> {
    const [row] = await this.db
      .select({ student: teachings.student, shows: teachings.shows, name: people.name })
      .from(teachings)
      .innerJoin(people, eq(people.id, teachings.student))
      .where(this.withStudent(id));
    if (!row) return null;
    const sessions = row.shows ? await new Practice(this.db, row.student).list(since) : null;
    return { name: row.name, report: sessions && reportOf(sessions, dayOf) };
  }
}
