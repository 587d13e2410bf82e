import { createHash } from "node:crypto";
import { eq, sql } from "drizzle-orm";
import type { NextStep } from "../api/wire.ts";
import type { Limits } from "../core/document/plan.ts";
import type { Passage } from "../core/passage/schema.ts";
import type { DrillState } from "../core/practice/schedule.ts";
import type { PlanSummary } from "../core/summary.ts";
import { canonical } from "./canonical.ts";
import type { Database } from "./database/database.ts";
import { shelfPlans } from "./database/schema.ts";
import { engineHash } from "./work/engine-hash.ts";
import type { WorkPool } from "./work/pool.ts";

/** As many as a Shelf shows; each takes some 10 kB. */
const MOST_REMEMBERED = 1000;

/** Who used one writes it down not oftener; one that nobody used for so long goes. */
const USED_EVERY = sql`interval '1 day'`;
const UNUSED = sql`interval '30 days'`;

/** Plans of passages for the Shelf, remembered by everything they depend on: by this server, and in the database for all of them. */
export class Summaries {
  private readonly known = new Map<string, Promise<unknown>>();
  /** The last one asked for. They are made one after the other, so that they take no thread from whoever waits for something. */
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly pool: WorkPool,
    private readonly db: Database,
  ) {}

  /** Removes plans that nobody used lately. */
  async sweep(): Promise<void> {
    await this.db.delete(shelfPlans).where(sql`${shelfPlans.usedAt} < now() - ${UNUSED}`);
  }

  of(passage: Passage): Promise<PlanSummary> {
    return this.remembered("summary", passage, () => this.pool.run("summary", passage));
  }

  /** Up to which tempo the hands keep up, and up to which nothing rings astray. */
  limitsOf(passage: Passage): Promise<Limits> {
    return this.remembered("limits", passage, () => this.pool.run("limits", passage));
  }

  /** What to begin with when it is practised next: a session's first drill, after what was practised; what is due later rests, and what is asked for comes first. */
  nextOf(passage: Passage, states: readonly DrillState[], by: number, asked: readonly string[]): Promise<NextStep> {
    const practised = { history: states.flatMap(({ lately }) => lately), resting: states.filter(({ due }) => due > by).map(({ id }) => id), asked };
    return this.remembered(`next${JSON.stringify(practised)}`, passage, () => this.pool.run("firstDrill", { passage, ...practised }));
  }

  private remembered<T>(kind: string, passage: Passage, make: () => Promise<T>): Promise<T> {
    const key = createHash("sha256")
      .update(`${engineHash()}${kind}${canonical(passage)}`)
      .digest("hex");
    const known = this.known.get(key);
    if (known) return known as Promise<T>;
    const made = this.kept<T>(key).then((kept) => (kept ? kept.plan : this.inTurn(key, make)));
    this.known.set(key, made);
    made.catch(() => this.known.delete(key));
    if (this.known.size > MOST_REMEMBERED) this.known.delete(this.known.keys().next().value as string);
    return made;
  }

  private inTurn<T>(key: string, make: () => Promise<T>): Promise<T> {
    const making = async () => {
      const plan = await make();
      // A database that has no room, or is away, costs nothing but that it is made anew.
      await this.db
        .insert(shelfPlans)
        .values({ key, plan: JSON.stringify(plan) })
        .onConflictDoNothing()
        .catch(() => {});
      return plan;
    };
    const made = this.last.then(making, making);
    this.last = made;
    return made;
  }

  private async kept<T>(key: string): Promise<{ plan: T } | null> {
    try {
      const [row] = await this.db
        .select({ plan: shelfPlans.plan, isOld: sql<boolean>`${shelfPlans.usedAt} < now() - ${USED_EVERY}` })
        .from(shelfPlans)
        .where(eq(shelfPlans.key, key));
      if (row?.isOld) await this.db.update(shelfPlans).set({ usedAt: sql`now()` }).where(eq(shelfPlans.key, key));
      return row ? { plan: JSON.parse(row.plan) as T } : null;
    } catch {
      return null;
    }
  }
}
