import { createHash } from "node:crypto";
import { and, asc, count, eq, ne, sql } from "drizzle-orm";
import type { SetupItem, SetupKind } from "../api/wire.ts";
import { parsePassage } from "../core/passage/parse.ts";
import type { Player } from "../core/passage/schema.ts";
import { canonical } from "./canonical.ts";
import type { Database } from "./database/open.ts";
import { instruments, passages, players } from "./database/schema.ts";

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

/** Instruments and players. Changing one changes every passage that uses it; every write is one transaction. */
export class Setup {
  constructor(private readonly db: Database) {}

  async list<K extends SetupKind>(kind: K): Promise<SetupItem<K>[]> {
    return this.items(kind, this.db);
  }

  async create<K extends SetupKind>(kind: K, name: string, value: SetupItem<K>["value"]): Promise<SetupResult<K>> {
    const table = tableOf(kind);
    return this.db.transaction(async (tx) => {
      const [double] = await tx
        .select({ id: table.id, name: table.name, named: table.named })
        .from(table)
        .where(eq(table.canonical, canonical(value)));
      if (double?.named) return { outcome: "double", name: double.name };
      const row = { name, value: value as Player, canonical: canonical(value), named: true };
      const [made] = double
        ? await tx.update(table).set({ name, named: true }).where(eq(table.id, double.id)).returning({ id: table.id })
        : await tx.insert(table).values(row).returning({ id: table.id });
      return { outcome: "done", item: (await this.items(kind, tx, made!.id))[0]!, changedPassages: 0 };
    });
  }

  /** `basedOn` is the version that the writer knew; null where it did not say. */
  async change<K extends SetupKind>(kind: K, id: string, name: string, value: SetupItem<K>["value"], basedOn: string | null): Promise<SetupResult<K>> {
    const table = tableOf(kind);
    return this.db.transaction(async (tx): Promise<SetupResult<K>> => {
      const [now] = await tx.select({ name: table.name, canonical: table.canonical }).from(table).where(eq(table.id, id));
      if (!now) return { outcome: "missing" };
      if (basedOn !== null && basedOn !== versionOf(now)) return { outcome: "stale" };
      const [double] = await tx
        .select({ name: table.name })
        .from(table)
        .where(and(eq(table.canonical, canonical(value)), ne(table.id, id)));
      if (double) return { outcome: "double", name: double.name };
      let changedPassages = 0;
      if (now.canonical !== canonical(value)) {
        const users = await tx
          .select({ id: passages.id, document: passages.document, instrument: instruments.value, player: players.value })
          .from(passages)
          .innerJoin(instruments, eq(instruments.id, passages.instrumentId))
          .innerJoin(players, eq(players.id, passages.playerId))
          .where(eq(PASSAGE_COLUMNS[kind], id));
        for (const user of users) {
          const checked = parsePassage({
            ...user.document,
            instrument: user.instrument,
            player: user.player,
            [kind === "instruments" ? "instrument" : "player"]: value,
          });
          if (!checked.ok) return { outcome: "misfit", title: user.document.title, says: `${checked.faults[0]!.place}: ${checked.faults[0]!.says}` };
        }
        // Whoever has such a passage open learns from the version that it is another one now.
        await tx
          .update(passages)
          .set({ version: sql`${passages.version} + 1` })
          .where(eq(PASSAGE_COLUMNS[kind], id));
        changedPassages = users.length;
      }
      await tx
        .update(table)
        .set({ name, value: value as Player, canonical: canonical(value), named: true })
        .where(eq(table.id, id));
      return { outcome: "done", item: (await this.items(kind, tx, id))[0]!, changedPassages };
    });
  }

  /** Takes it for new passages; false when it is not there. */
  async setDefault(kind: SetupKind, id: string): Promise<boolean> {
    const table = tableOf(kind);
    return this.db.transaction(async (tx) => {
      const rows = await tx.select({ id: table.id }).from(table).where(eq(table.id, id));
      if (rows.length === 0) return false;
      await tx.update(table).set({ isDefault: sql`${table.id} = ${id}` });
      return true;
    });
  }

  async remove(kind: SetupKind, id: string, basedOn: string | null): Promise<RemoveResult> {
    const table = tableOf(kind);
    return this.db.transaction(async (tx): Promise<RemoveResult> => {
      const [item] = await this.items(kind, tx, id);
      if (!item) return { outcome: "missing" };
      if (basedOn !== null && basedOn !== item.version) return { outcome: "stale" };
      if (item.passages > 0) return { outcome: "used", passages: item.passages };
      await tx.delete(table).where(eq(table.id, id));
      return { outcome: "done" };
    });
  }

  private async items<K extends SetupKind>(kind: K, db: Pick<Database, "select">, id?: string): Promise<SetupItem<K>[]> {
    const table = tableOf(kind);
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
      .leftJoin(passages, eq(PASSAGE_COLUMNS[kind], table.id))
      .where(id === undefined ? undefined : eq(table.id, id))
      .groupBy(table.id)
      .orderBy(asc(table.createdAt), asc(table.name), asc(table.id));
    return rows.map(({ canonical: text, ...row }) => ({ ...row, version: versionOf({ name: row.name, canonical: text }) })) as unknown as SetupItem<K>[];
  }
}

/** Known by what it says: the same name and value are the same version, whoever wrote them. */
function versionOf(row: { name: string; canonical: string }): string {
  return createHash("sha256").update(`${row.name}\n${row.canonical}`).digest("hex").slice(0, 16);
}

/** Both tables have the same columns; only the type of the value differs. */
function tableOf(kind: SetupKind): typeof players {
  return (kind === "instruments" ? instruments : players) as typeof players;
}

const PASSAGE_COLUMNS = { instruments: passages.instrumentId, players: passages.playerId } as const;
