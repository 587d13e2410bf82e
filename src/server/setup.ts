import { createHash } from "node:crypto";
import { and, asc, count, eq, gt, inArray, isNull, ne, or, type SQL, sql } from "drizzle-orm";
import type { SetupItem, SetupKind } from "../api/wire.ts";
import type { Player } from "../core/passage/schema.ts";
import { canonical } from "./canonical.ts";
import { type Database, ITS_INSTRUMENT, ITS_PLAYER, type Reader, type Transaction, writing } from "./database/database.ts";
import { instruments, passages, players, setupTable } from "./database/schema.ts";
import type { WorkPool } from "./work/pool.ts";

/** Passages looked at in one go. */
const AT_ONCE = 20;

export type SetupResult<K extends SetupKind> =
  | { outcome: "done"; item: SetupItem<K>; changedPassages: number }
  | { outcome: "missing" }
  /** It has been changed since. */
  | { outcome: "stale" }
  /** Another one has the same value. */
  | { outcome: "double"; name: string }
  /** A passage would not fit any more: it needs a string or a fret that is not there. */
  | { outcome: "misfit"; title: string; says: string };

export type RemoveResult = { outcome: "done" } | { outcome: "missing" } | { outcome: "stale" } | { outcome: "used"; passages: number };

/** Somebody's instruments and players. Changing one changes every passage that uses it; every write is one transaction. */
export class Setup {
  constructor(
    private readonly db: Database,
    private readonly owner: string,
    private readonly pool: WorkPool,
  ) {}

  private writing<T>(write: (tx: Transaction) => Promise<T>): Promise<T> {
    return writing(this.db, this.owner, write);
  }

  private is(kind: SetupKind, id: string): SQL | undefined {
    const table = setupTable(kind);
    return and(eq(table.owner, this.owner), eq(table.id, id));
  }

  /** Passages that use one. */
  private uses(kind: SetupKind, id: string): SQL | undefined {
    return and(eq(passages.owner, this.owner), eq(PASSAGE_COLUMNS[kind], id));
  }

  private usersOf(db: Reader, kind: SetupKind, id: string): Promise<User[]> {
    return db.select({ id: passages.id, version: passages.version }).from(passages).where(this.uses(kind, id)).orderBy(asc(passages.id));
  }

  async list<K extends SetupKind>(kind: K): Promise<SetupItem<K>[]> {
    return this.items(kind, this.db);
  }

  async create<K extends SetupKind>(kind: K, name: string, value: SetupItem<K>["value"]): Promise<SetupResult<K>> {
    const table = setupTable(kind);
    return this.writing(async (tx) => {
      const [double] = await tx
        .select({ id: table.id, name: table.name, named: table.named })
        .from(table)
        .where(and(eq(table.owner, this.owner), eq(table.canonical, canonical(value))));
      if (double?.named) return { outcome: "double", name: double.name };
      const row = { owner: this.owner, name, value: value as Player, canonical: canonical(value), named: true };
      const [made] = double
        ? await tx.update(table).set({ name, named: true }).where(this.is(kind, double.id)).returning({ id: table.id })
        : await tx.insert(table).values(row).returning({ id: table.id });
      return { outcome: "done", item: (await this.items(kind, tx, made!.id))[0]!, changedPassages: 0 };
    });
  }

  /** `basedOn` is the version that the writer knew; null where it did not say. */
  async change<K extends SetupKind>(kind: K, id: string, name: string, value: SetupItem<K>["value"], basedOn: string | null): Promise<SetupResult<K>> {
    const table = setupTable(kind);
    // Looked through before anything is held up; where one of them is saved meanwhile, once more.
    const users = await this.usersOf(this.db, kind, id);
    const misfit = await this.misfit(kind, id, value, users);
    if (misfit) return misfit;
    const result = await this.writing(async (tx): Promise<SetupResult<K> | { outcome: "overtaken" }> => {
      if (JSON.stringify(await this.usersOf(tx, kind, id)) !== JSON.stringify(users)) return { outcome: "overtaken" };
      const [now] = await tx.select({ name: table.name, canonical: table.canonical }).from(table).where(this.is(kind, id));
      if (!now) return { outcome: "missing" };
      if (basedOn !== null && basedOn !== versionOf(now)) return { outcome: "stale" };
      const [double] = await tx
        .select({ name: table.name })
        .from(table)
        .where(and(eq(table.owner, this.owner), eq(table.canonical, canonical(value)), ne(table.id, id)));
      if (double) return { outcome: "double", name: double.name };
      let changedPassages = 0;
      if (now.canonical !== canonical(value)) {
        // Whoever has such a passage open learns from the version that it is another one now.
        const changed = await tx
          .update(passages)
          .set({ version: sql`${passages.version} + 1` })
          .where(this.uses(kind, id))
          .returning({ id: passages.id });
        changedPassages = changed.length;
      }
      await tx
        .update(table)
        .set({ name, value: value as Player, canonical: canonical(value), named: true })
        .where(this.is(kind, id));
      return { outcome: "done", item: (await this.items(kind, tx, id))[0]!, changedPassages };
    });
    return result.outcome === "overtaken" ? this.change(kind, id, name, value, basedOn) : result;
  }

  /** The first passage that would not fit any more; null where all would, or where nothing of it changes. */
  private async misfit<K extends SetupKind>(
    kind: K,
    id: string,
    value: SetupItem<K>["value"],
    users: readonly User[],
  ): Promise<(SetupResult<K> & { outcome: "misfit" }) | null> {
    const table = setupTable(kind);
    const [now] = await this.db.select({ canonical: table.canonical }).from(table).where(this.is(kind, id));
    if (!now || now.canonical === canonical(value)) return null;
    for (let at = 0; at < users.length; at += AT_ONCE) {
      const rows = await this.db
        .select({ title: passages.title, document: sql<string>`${passages.document}::text`, instrument: instruments.value, player: players.value })
        .from(passages)
        .innerJoin(instruments, ITS_INSTRUMENT)
        .innerJoin(players, ITS_PLAYER)
        .where(
          and(
            eq(passages.owner, this.owner),
            inArray(
              passages.id,
              users.slice(at, at + AT_ONCE).map((user) => user.id),
            ),
          ),
        );
      const changed = rows.map(({ title: _title, ...texts }) => ({ ...texts, [kind === "instruments" ? "instrument" : "player"]: value }));
      const faults = await this.pool.run("checkPassages", changed);
      for (const [i, fault] of faults.entries()) if (fault) return { outcome: "misfit", title: rows[i]!.title, says: `${fault.place}: ${fault.says}` };
    }
    return null;
  }

  /** Takes it for new passages; false when it is not there. */
  async setDefault(kind: SetupKind, id: string): Promise<boolean> {
    const table = setupTable(kind);
    return this.writing(async (tx) => {
      const rows = await tx.select({ id: table.id }).from(table).where(this.is(kind, id));
      if (rows.length === 0) return false;
      await tx
        .update(table)
        .set({ isDefault: sql`${table.id} = ${id}` })
        .where(eq(table.owner, this.owner));
      return true;
    });
  }

  async remove(kind: SetupKind, id: string, basedOn: string | null): Promise<RemoveResult> {
    const table = setupTable(kind);
    return this.writing(async (tx): Promise<RemoveResult> => {
      const [item] = await this.items(kind, tx, id);
      if (!item) return { outcome: "missing" };
      if (basedOn !== null && basedOn !== item.version) return { outcome: "stale" };
      const users = await this.usersOf(tx, kind, id);
      if (users.length > 0) return { outcome: "used", passages: users.length };
      await tx.delete(table).where(this.is(kind, id));
      return { outcome: "done" };
    });
  }

  private async items<K extends SetupKind>(kind: K, db: Reader, id?: string): Promise<SetupItem<K>[]> {
    const table = setupTable(kind);
    const rows = await db
      .select({
        id: table.id,
        name: table.name,
        value: table.value,
        canonical: table.canonical,
        isDefault: table.isDefault,
        passages: count(passages.id),
      })
      .from(table)
      .leftJoin(passages, and(kind === "instruments" ? ITS_INSTRUMENT : ITS_PLAYER, isNull(passages.staged)))
      .where(id === undefined ? eq(table.owner, this.owner) : this.is(kind, id))
      .groupBy(table.owner, table.id)
      // What is there for a passage alone goes with it.
      .having(({ passages: n }) => or(table.named, table.isDefault, gt(n, 0)))
      .orderBy(asc(table.createdAt), asc(table.name), asc(table.id));
    return rows.map(({ canonical: text, ...row }) => ({ ...row, version: versionOf({ name: row.name, canonical: text }) })) as unknown as SetupItem<K>[];
  }
}

/** A passage that uses an instrument or a player. */
interface User {
  id: string;
  version: number;
}

/** Known by what it says: the same name and value are the same version, whoever wrote them. */
function versionOf(row: { name: string; canonical: string }): string {
  return createHash("sha256").update(`${row.name}\n${row.canonical}`).digest("hex").slice(0, 16);
}

const PASSAGE_COLUMNS = { instruments: passages.instrumentId, players: passages.playerId } as const;
