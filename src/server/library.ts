import { and, desc, eq, isNotNull, isNull, type SQL, sql } from "drizzle-orm";
import type { ListedPassage, StoredPassage } from "../api/wire.ts";
import type { OriginalFile } from "../core/formats/backup/backup.ts";
import { SCHOOL_KEYS, schoolOf } from "../core/hands/schools.ts";
import { INSTRUMENT_KINDS } from "../core/music/instruments.ts";
import type { Instrument, Passage, Player } from "../core/passage/schema.ts";
import { upgraded } from "../core/passage/upgrade.ts";
import type { StoredTexts } from "./backups/rows.ts";
import { canonical } from "./canonical.ts";
import { type Database, ITS_INSTRUMENT, ITS_ORIGINAL, ITS_PLAYER, type Reader, type Transaction, writing } from "./database/database.ts";
import { instruments, ledger, originals, passages, players } from "./database/schema.ts";
import { contentsOf, type StoredDocument } from "./document.ts";

export type SaveResult = { outcome: "saved"; stored: StoredPassage } | { outcome: "stale"; version: number } | { outcome: "missing" };

/** All reading and writing of somebody's library; every write is one transaction. */
export class Library {
  constructor(
    private readonly db: Database,
    private readonly owner: string,
    /** By id: passages that cannot be read, as far as that has been noticed. */
    private readonly faults = new Map<string, PassageFault>(),
  ) {}

  /** A passage of this library. */
  private is(id: string): SQL | undefined {
    return and(eq(passages.owner, this.owner), eq(passages.id, id));
  }

  /** Every passage of the shelf or the bin, the newest first. Nothing of the music is read: one that is damaged costs no other. */
  async list(where: "shelf" | "bin"): Promise<ListedPassage[]> {
    const isHere = and(eq(passages.owner, this.owner), isNull(passages.staged), where === "bin" ? isNotNull(passages.deletedAt) : isNull(passages.deletedAt));
    const lost = where === "shelf" ? [...this.faults.values()].filter(({ isLost }) => isLost) : [];
    let listed: ListedPassage[];
    try {
      listed = await this.listed(isHere);
    } catch {
      // A damaged page of the table: one after the other, so that it costs those alone that lie on it.
      listed = [];
      for (const { id } of await this.db.select({ id: ledger.id }).from(ledger).where(eq(ledger.owner, this.owner)))
        listed.push(...(await this.listed(and(isHere, eq(passages.id, id))).catch(() => [])));
      listed.sort((a, b) => b.updatedAt.localeCompare(a.updatedAt));
    }
    const here = new Set(listed.map(({ id }) => id));
    return [...listed, ...lost.filter(({ id }) => !here.has(id)).map(nameAlone)];
  }

  private async listed(condition: SQL | undefined): Promise<ListedPassage[]> {
    const rows = await this.db
      .select({ ...MOMENTS, title: passages.title, card: passages.card, instrument: instruments.value })
      .from(passages)
      .innerJoin(instruments, ITS_INSTRUMENT)
      .leftJoin(originals, ITS_ORIGINAL)
      .where(condition)
      .orderBy(desc(passages.updatedAt), passages.title);
    return rows.map(({ title, card, instrument, ...row }) => {
      const fault = this.faults.get(row.id)?.says;
      return { ...momentsOf(row), title, ...card, kind: instrument.kind, strings: instrument.tuning.length, ...(fault === undefined ? {} : { fault }) };
    });
  }

  /** Takes note of a passage that cannot be read, so that lists name it. */
  noteFault(fault: PassageFault): void {
    this.faults.set(fault.id, fault);
  }

  /** The texts of a passage, to be looked into before they are read; null when there is none. */
  async texts(id: string): Promise<(StoredTexts & { title: string }) | null> {
    const [row] = await this.db
      .select({ title: passages.title, document: sql<string>`${passages.document}::text`, instrument: instruments.value, player: players.value })
      .from(passages)
      .innerJoin(instruments, ITS_INSTRUMENT)
      .innerJoin(players, ITS_PLAYER)
      .where(this.is(id));
    return row ?? null;
  }

  /** What there is of a passage, as it is stored; not looked into. */
  async find(id: string): Promise<StoredPassage | null> {
    return readPassage(this.db, this.is(id));
  }

  /** All of a passage but its music. */
  private async moments(id: string): Promise<Omit<StoredPassage, "passage"> | null> {
    const [row] = await this.db.select(MOMENTS).from(passages).leftJoin(originals, ITS_ORIGINAL).where(this.is(id));
    return row ? momentsOf(row) : null;
  }

  /** Notes that a passage was put on the bench. */
  async noteOpened(id: string): Promise<void> {
    await this.db.update(passages).set({ openedAt: sql`now()` }).where(this.is(id));
  }

  async count(): Promise<number> {
    const [row] = await this.db
      .select({ n: sql<number>`count(*)::int` })
      .from(passages)
      .where(and(eq(passages.owner, this.owner), isNull(passages.staged)));
    return row?.n ?? 0;
  }

  /** Adds a passage, with the file it came from if that is to be kept. */
  async create(passage: Passage, original: OriginalFile | null = null): Promise<StoredPassage> {
    const [id] = await this.createAll([passage], original);
    return { ...(await this.moments(id!))!, passage };
  }

  /** The file a passage was imported from; null where none was kept. */
  async original(id: string): Promise<OriginalFile | null> {
    const [row] = await this.db
      .select({ name: originals.name, bytes: originals.bytes })
      .from(originals)
      .where(and(eq(originals.owner, this.owner), eq(originals.passageId, id)));
    return row ?? null;
  }

  /** Adds passages, all or none; the first counts as the newest. Returns their ids. */
  async createAll(added: readonly Passage[], original: OriginalFile | null = null): Promise<string[]> {
    return writing(this.db, this.owner, async (tx) => {
      const ids: string[] = [];
      for (const [i, passage] of added.entries()) {
        const id = await insertPassage(tx, this.owner, passage, i);
        if (original) await tx.insert(originals).values({ owner: this.owner, passageId: id, ...original });
        ids.push(id);
      }
      return ids;
    });
  }

  /**
   * Saves over the version the writer knew; a stale writer learns the current one and nothing changes. What was saved already and
   * is sent once more, because the answer was lost on its way, is saved.
   */
  async save(id: string, basedOn: number, passage: Passage): Promise<SaveResult> {
    const outcome = await writing(this.db, this.owner, async (tx) => {
      const done = await replacePassage(tx, this.owner, passage, and(this.is(id), eq(passages.version, basedOn)));
      await removeUnneeded(tx, this.owner);
      return done;
    });
    const now = await this.moments(id);
    if (!now) return { outcome: "missing" };
    if (outcome) this.faults.delete(id);
    else {
      if (now.deletedAt) return { outcome: "missing" };
      if (now.version !== basedOn + 1 || !(await this.holds(id, passage))) return { outcome: "stale", version: now.version };
    }
    return { outcome: "saved", stored: { ...now, passage } };
  }

  private async holds(id: string, passage: Passage): Promise<boolean> {
    const stored = await this.find(id);
    return stored !== null && canonical(stored.passage) === canonical(passage);
  }

  /** Moves a passage into the bin or out of it; false when there is none. */
  async setBinned(id: string, binned: boolean, basedOn: number | null = null): Promise<boolean> {
    return writing(this.db, this.owner, async (tx) => {
      const rows = await tx
        .update(passages)
        .set({ deletedAt: binned ? sql`now()` : null })
        .where(and(this.is(id), atVersion(basedOn)))
        .returning({ id: passages.id });
      return rows.length > 0;
    });
  }

  /** Deletes a passage that lies in the bin for good. */
  async removeFromBin(id: string, basedOn: number | null = null): Promise<boolean> {
    return writing(this.db, this.owner, async (tx) => {
      const rows = await tx
        .delete(passages)
        .where(and(this.is(id), isNotNull(passages.deletedAt), atVersion(basedOn)))
        .returning({ id: passages.id });
      return rows.length > 0;
    });
  }
}

const MOMENTS = {
  id: passages.id,
  version: passages.version,
  updatedAt: passages.updatedAt,
  openedAt: passages.openedAt,
  deletedAt: passages.deletedAt,
  original: originals.name,
} as const;

/** That a row still is what the writer knew; anything where the writer did not say. */
function atVersion(basedOn: number | null) {
  return basedOn === null ? undefined : eq(passages.version, basedOn);
}

/** What there is of a passage, as it is stored; null where there is none. */
export async function readPassage(db: Reader, which: SQL | undefined): Promise<StoredPassage | null> {
  const [row] = await db
    .select({ ...MOMENTS, document: passages.document, instrument: instruments.value, player: players.value })
    .from(passages)
    .innerJoin(instruments, ITS_INSTRUMENT)
    .innerJoin(players, ITS_PLAYER)
    .leftJoin(originals, ITS_ORIGINAL)
    .where(which);
  return row ? storedOf(row) : null;
}

/** Adds a passage to somebody's library; returns its id. It counts as so many seconds old. */
export async function insertPassage(tx: Transaction, owner: string, passage: Passage, secondsOld = 0): Promise<string> {
  const refs = await references(tx, owner, passage);
  const updatedAt = sql`now() - make_interval(secs => ${secondsOld})`;
  const [row] = await tx
    .insert(passages)
    .values({ owner, ...contentsOf(passage), updatedAt, ...refs })
    .returning({ id: passages.id });
  return row!.id;
}

/** Puts a passage in the place of one of somebody's that does not lie in the bin; false where there is none. */
export async function replacePassage(tx: Transaction, owner: string, passage: Passage, which: SQL | undefined): Promise<boolean> {
  const refs = await references(tx, owner, passage);
  const done = await tx
    .update(passages)
    .set({ ...contentsOf(passage), ...refs, version: sql`${passages.version} + 1`, updatedAt: sql`now()` })
    .where(and(eq(passages.owner, owner), which, isNull(passages.deletedAt)))
    .returning({ id: passages.id });
  return done.length > 0;
}

/** Rows of the passage's instrument and player: equal ones are reused. */
async function references(tx: Transaction, owner: string, passage: Passage): Promise<{ instrumentId: string; playerId: string }> {
  const instrument = { owner, name: instrumentName(passage.instrument), value: passage.instrument, canonical: canonical(passage.instrument) };
  const player = { owner, name: playerName(passage.player), value: passage.player, canonical: canonical(passage.player) };
  await tx
    .insert(instruments)
    .values(instrument)
    .onConflictDoNothing({ target: [instruments.owner, instruments.canonical] });
  await tx
    .insert(players)
    .values(player)
    .onConflictDoNothing({ target: [players.owner, players.canonical] });
  const [i] = await tx
    .select({ id: instruments.id })
    .from(instruments)
    .where(and(eq(instruments.owner, owner), eq(instruments.canonical, instrument.canonical)));
  const [p] = await tx
    .select({ id: players.id })
    .from(players)
    .where(and(eq(players.owner, owner), eq(players.canonical, player.canonical)));
  return { instrumentId: i!.id, playerId: p!.id };
}

/** Instruments and players that came with a passage and that no passage has any more. */
export async function removeUnneeded(tx: Transaction, owner: string): Promise<void> {
  await tx
    .delete(instruments)
    .where(
      and(
        eq(instruments.owner, owner),
        eq(instruments.named, false),
        eq(instruments.isDefault, false),
        sql`not exists (select 1 from ${passages} where ${ITS_INSTRUMENT})`,
      ),
    );
  await tx
    .delete(players)
    .where(
      and(eq(players.owner, owner), eq(players.named, false), eq(players.isDefault, false), sql`not exists (select 1 from ${passages} where ${ITS_PLAYER})`),
    );
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

/** A passage that cannot be read. */
export interface PassageFault {
  id: string;
  title: string;
  says: string;
  /** It is in the ledger alone. */
  isLost: boolean;
}

/** What a list has of a passage that was lost. */
function nameAlone({ id, title, says }: PassageFault): ListedPassage {
  const nothing = { tags: [], tempo: 0, goalTempo: null, kind: INSTRUMENT_KINDS[0], strings: 0, bars: 0 };
  const never = new Date(0).toISOString();
  return { id, version: 0, updatedAt: never, openedAt: null, deletedAt: null, original: null, title, ...nothing, fault: says };
}

interface Moments {
  id: string;
  version: number;
  updatedAt: Date;
  openedAt: Date | null;
  deletedAt: Date | null;
  original: string | null;
}

interface Row extends Moments {
  document: StoredDocument;
  instrument: Instrument;
  player: Player;
}

function momentsOf(row: Moments): Omit<StoredPassage, "passage"> {
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
