import { and, desc, eq, isNotNull, isNull, sql } from "drizzle-orm";
import type { StoredPassage } from "../api/wire.ts";
import type { OriginalFile } from "../core/formats/backup/backup.ts";
import { SCHOOL_KEYS, schoolOf } from "../core/hands/schools.ts";
import type { Instrument, Passage, Player } from "../core/passage/schema.ts";
import { upgraded } from "../core/passage/upgrade.ts";
import { canonical } from "./canonical.ts";
import type { Database } from "./database/open.ts";
import { instruments, originals, passages, players, type StoredDocument } from "./database/schema.ts";

export type SaveResult = { outcome: "saved"; stored: StoredPassage } | { outcome: "stale"; version: number } | { outcome: "missing" };

/** All reading and writing of the library; every write is one transaction. */
export class Library {
  constructor(private readonly db: Database) {}

  /** Every passage of the shelf or the bin as `read` has it; one that cannot be read comes by its name alone, and costs no other. */
  async list<T>(where: "shelf" | "bin", read: (stored: StoredPassage) => T, unreadable: (row: UnreadablePassage) => T): Promise<T[]> {
    const rows = await this.rows(where === "bin" ? isNotNull(passages.deletedAt) : isNull(passages.deletedAt)).orderBy(
      desc(passages.updatedAt),
      passages.title,
    );
    return rows.map((row) => {
      try {
        return read(storedOf(row));
      } catch (error) {
        return unreadable({ ...momentsOf(row), title: row.title, fault: (error as Error).message });
      }
    });
  }

  async find(id: string): Promise<StoredPassage | null> {
    const [row] = await this.rows(eq(passages.id, id));
    return row ? storedOf(row) : null;
  }

  /** Notes that a passage was put on the bench. */
  async noteOpened(id: string): Promise<void> {
    await this.db.update(passages).set({ openedAt: sql`now()` }).where(eq(passages.id, id));
  }

  async count(): Promise<number> {
    const [row] = await this.db.select({ n: sql<number>`count(*)::int` }).from(passages);
    return row?.n ?? 0;
  }

  /** Adds a passage, with the file it came from if that is to be kept. */
  async create(passage: Passage, original: OriginalFile | null = null): Promise<StoredPassage> {
    const [id] = await this.createAll([passage], original);
    return (await this.find(id!))!;
  }

  /** The file a passage was imported from; null where none was kept. */
  async original(id: string): Promise<OriginalFile | null> {
    const [row] = await this.db.select({ name: originals.name, bytes: originals.bytes }).from(originals).where(eq(originals.passageId, id));
    return row ?? null;
  }

  /** Adds passages, all or none; the first counts as the newest. Returns their ids. */
  async createAll(added: readonly Passage[], original: OriginalFile | null = null): Promise<string[]> {
    return this.db.transaction(async (tx) => {
      const ids: string[] = [];
      for (const [i, passage] of added.entries()) {
        const refs = await references(tx, passage);
        const updatedAt = sql`now() - make_interval(secs => ${i})`;
        const [row] = await tx
          .insert(passages)
          .values({ title: passage.title, document: documentOf(passage), updatedAt, ...refs })
          .returning({ id: passages.id });
        if (original) await tx.insert(originals).values({ passageId: row!.id, ...original });
        ids.push(row!.id);
      }
      return ids;
    });
  }

  /** Saves over the version the writer knew; a stale writer learns the current one and nothing changes. */
  async save(id: string, basedOn: number, passage: Passage): Promise<SaveResult> {
    const outcome = await this.db.transaction(async (tx) => {
      const refs = await references(tx, passage);
      const done = await tx
        .update(passages)
        .set({ title: passage.title, document: documentOf(passage), ...refs, version: sql`${passages.version} + 1`, updatedAt: sql`now()` })
        .where(and(eq(passages.id, id), eq(passages.version, basedOn), isNull(passages.deletedAt)))
        .returning({ id: passages.id });
      await removeUnneeded(tx);
      return done;
    });
    const stored = await this.find(id);
    if (!stored) return { outcome: "missing" };
    if (outcome.length === 0) return stored.deletedAt ? { outcome: "missing" } : { outcome: "stale", version: stored.version };
    return { outcome: "saved", stored };
  }

  /** Moves a passage into the bin or out of it; false when there is none. */
  async setBinned(id: string, binned: boolean, basedOn: number | null = null): Promise<boolean> {
    const rows = await this.db
      .update(passages)
      .set({ deletedAt: binned ? sql`now()` : null })
      .where(and(eq(passages.id, id), atVersion(basedOn)))
      .returning({ id: passages.id });
    return rows.length > 0;
  }

  /** Deletes a passage that lies in the bin for good. */
  async removeFromBin(id: string, basedOn: number | null = null): Promise<boolean> {
    const rows = await this.db
      .delete(passages)
      .where(and(eq(passages.id, id), isNotNull(passages.deletedAt), atVersion(basedOn)))
      .returning({ id: passages.id });
    return rows.length > 0;
  }

  private rows(condition: ReturnType<typeof eq>) {
    return this.db
      .select({
        id: passages.id,
        title: passages.title,
        version: passages.version,
        updatedAt: passages.updatedAt,
        openedAt: passages.openedAt,
        deletedAt: passages.deletedAt,
        document: passages.document,
        instrument: instruments.value,
        player: players.value,
        original: originals.name,
      })
      .from(passages)
      .innerJoin(instruments, eq(instruments.id, passages.instrumentId))
      .innerJoin(players, eq(players.id, passages.playerId))
      .leftJoin(originals, eq(originals.passageId, passages.id))
      .where(condition)
      .$dynamic();
  }
}

/** That a row still is what the writer knew; anything where the writer did not say. */
function atVersion(basedOn: number | null) {
  return basedOn === null ? undefined : eq(passages.version, basedOn);
}

type Transaction = Parameters<Parameters<Database["transaction"]>[0]>[0];

/** Rows of the passage's instrument and player: equal ones are reused. */
async function references(tx: Transaction, passage: Passage): Promise<{ instrumentId: string; playerId: string }> {
  const instrument = { name: instrumentName(passage.instrument), value: passage.instrument, canonical: canonical(passage.instrument) };
  const player = { name: playerName(passage.player), value: passage.player, canonical: canonical(passage.player) };
  await tx.insert(instruments).values(instrument).onConflictDoNothing({ target: instruments.canonical });
  await tx.insert(players).values(player).onConflictDoNothing({ target: players.canonical });
  const [i] = await tx.select({ id: instruments.id }).from(instruments).where(eq(instruments.canonical, instrument.canonical));
  const [p] = await tx.select({ id: players.id }).from(players).where(eq(players.canonical, player.canonical));
  return { instrumentId: i!.id, playerId: p!.id };
}

/** Instruments and players that came with a passage and that no passage has any more. */
export async function removeUnneeded(tx: Transaction): Promise<void> {
  await tx
    .delete(instruments)
    .where(
      and(
        eq(instruments.named, false),
        eq(instruments.isDefault, false),
        sql`not exists (select 1 from ${passages} where ${passages.instrumentId} = ${instruments.id})`,
      ),
    );
  await tx
    .delete(players)
    .where(and(eq(players.named, false), eq(players.isDefault, false), sql`not exists (select 1 from ${passages} where ${passages.playerId} = ${players.id})`));
}

const KIND_NAMES: Readonly<Record<Instrument["kind"], string>> = {
  "electric-guitar": "Electric guitar",
  "acoustic-guitar": "Steel-string acoustic",
  "nylon-guitar": "Nylon-string guitar",
  "electric-bass": "Electric bass",
};

function instrumentName(instrument: Instrument): string {
  const capo = instrument.capo > 0 ? `, capo ${instrument.capo}` : "";
  return `${KIND_NAMES[instrument.kind]} ${[...instrument.tuning].reverse().join(" ")}${capo}`;
}

function playerName(player: Player): string {
  const ways = SCHOOL_KEYS.flatMap((key) => {
    const { short, options } = schoolOf(key);
    const chosen = options.find(({ value }) => value === player[key]);
    return chosen ? [`${short}: ${chosen.says}`] : [];
  });
  return ["Player", ...ways].join(", ");
}

export function documentOf(passage: Passage): StoredDocument {
  const { instrument: _instrument, player: _player, ...document } = passage;
  return document;
}

/** What is known of a passage whose document cannot be read. */
export type UnreadablePassage = Omit<StoredPassage, "passage"> & { title: string; fault: string };

interface Row {
  id: string;
  title: string;
  version: number;
  updatedAt: Date;
  openedAt: Date | null;
  deletedAt: Date | null;
  document: StoredDocument;
  instrument: Instrument;
  player: Player;
  original: string | null;
}

function momentsOf(row: Row): Omit<StoredPassage, "passage"> {
  return {
    id: row.id,
    version: row.version,
    updatedAt: row.updatedAt.toISOString(),
    openedAt: row.openedAt?.toISOString() ?? null,
    deletedAt: row.deletedAt?.toISOString() ?? null,
    original: row.original,
  };
}

function storedOf(row: Row): StoredPassage {
  return {
    ...momentsOf(row),
    // Rows of an older version are brought up to date as they are read.
    passage: upgraded({ ...row.document, instrument: row.instrument, player: row.player }) as Passage,
  };
}
