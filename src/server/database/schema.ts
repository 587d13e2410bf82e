import { boolean, customType, index, integer, jsonb, pgTable, text, timestamp, uuid } from "drizzle-orm/pg-core";
import type { Instrument, Player } from "../../core/passage/schema.ts";
import type { PracticeSession } from "../../core/practice/record.ts";
import type { DrillState } from "../../core/practice/schedule.ts";
import type { Card, StoredDocument } from "../document.ts";

/** A document as the text it was checked as: read and written many times as fast as jsonb, which nothing here needs. */
const documentText = customType<{ data: StoredDocument; driverData: string }>({
  dataType: () => "text",
  toDriver: (document) => JSON.stringify(document),
  fromDriver: (text) => JSON.parse(text) as StoredDocument,
});

const times = {
  createdAt: timestamp("created_at", { withTimezone: true }).notNull().defaultNow(),
};

/** What rows of the setup have besides their value. */
const setup = {
  /** Made or named by the player; others came with a passage and go when no passage needs them any more. */
  named: boolean("named").notNull().default(false),
  /** Taken for new passages. */
  isDefault: boolean("is_default").notNull().default(false),
};

export const instruments = pgTable("instruments", {
  id: uuid("id").primaryKey().defaultRandom(),
  name: text("name").notNull(),
  value: jsonb("value").$type<Instrument>().notNull(),
  /** Canonical text of the value: an import reuses an equal row. */
  canonical: text("canonical").notNull().unique(),
  ...setup,
  ...times,
});

export const players = pgTable("players", {
  id: uuid("id").primaryKey().defaultRandom(),
  name: text("name").notNull(),
  value: jsonb("value").$type<Player>().notNull(),
  canonical: text("canonical").notNull().unique(),
  ...setup,
  ...times,
});

/** What a restore knows of a row that it has written beforehand. */
export interface Staged {
  batch: string;
  /** The id that it will have; of what was replaced, the one that it had. */
  becomes: string;
  /** MD5 of the document's text, for the ledger; what was replaced needs none. */
  checksum?: string;
}

/** What a restore knows of a session of practice that it has written beforehand. */
export interface StagedSession {
  batch: string;
  /** The id that it will have, and the passage that it is of, if that is there then. */
  becomes: string;
  passage: string | null;
}

/** The table of instruments or of players: both have the same columns, only the type of the value differs. */
export function setupTable(kind: "instruments" | "players"): typeof players {
  return (kind === "instruments" ? instruments : players) as typeof players;
}

export const passages = pgTable(
  "passages",
  {
    id: uuid("id").primaryKey().defaultRandom(),
    title: text("title").notNull(),
    document: documentText("document").notNull(),
    card: jsonb("card").$type<Card>().notNull(),
    instrumentId: uuid("instrument_id")
      .notNull()
      .references(() => instruments.id),
    playerId: uuid("player_id")
      .notNull()
      .references(() => players.id),
    /** Counts the writes; a write names the one it was based on. */
    version: integer("version").notNull().default(1),
    updatedAt: timestamp("updated_at", { withTimezone: true }).notNull().defaultNow(),
    /** When it was last put on the bench. */
    openedAt: timestamp("opened_at", { withTimezone: true }),
    /** Set while the passage lies in the bin. */
    deletedAt: timestamp("deleted_at", { withTimezone: true }),
    /** Set while a restore is under way: the row is not part of the library yet. */
    staged: jsonb("staged").$type<Staged>(),
    ...times,
  },
  (table) => [index("passages_by_update").on(table.deletedAt, table.updatedAt)],
);

/**
 * What passages there are, kept apart from them by a trigger: which ones, and the MD5 of each document's text. A passage that
 * is here and not in its table was lost; one whose text has another sum was damaged.
 */
export const ledger = pgTable("ledger", {
  id: uuid("id").primaryKey(),
  title: text("title").notNull(),
  checksum: text("checksum").notNull(),
});

/** One row that is written to see whether anything can be. */
export const pulse = pgTable("pulse", {
  id: integer("id").primaryKey(),
  at: timestamp("at", { withTimezone: true }).notNull(),
});

const bytea = customType<{ data: Uint8Array }>({ dataType: () => "bytea" });

/** The file a passage was imported from, as it was. */
export const originals = pgTable("originals", {
  passageId: uuid("passage_id")
    .primaryKey()
    .references(() => passages.id, { onDelete: "cascade", onUpdate: "cascade" }),
  name: text("name").notNull(),
  bytes: bytea("bytes").notNull(),
});

/** Sessions of practice. They go with their passage, into the bin, out of it, and for good. */
export const practiceSessions = pgTable(
  "practice_sessions",
  {
    id: uuid("id").primaryKey(),
    passageId: uuid("passage_id").references(() => passages.id, { onDelete: "cascade", onUpdate: "cascade" }),
    /** A move that was practised without a passage. */
    figure: text("figure"),
    startedAt: timestamp("started_at", { withTimezone: true }).notNull(),
    record: jsonb("record").$type<Omit<PracticeSession, "id" | "passage" | "figure">>().notNull(),
    /** Set while a restore is under way: the row is not part of the log yet. */
    staged: jsonb("staged").$type<StagedSession>(),
  },
  (table) => [index("practice_by_passage").on(table.passageId, table.startedAt)],
);

/**
 * How the drills of a passage or of a move stand, made of all its sessions whenever one of them changes; and how many sessions
 * there are, so that lost ones are noticed.
 */
export const practised = pgTable("practised", {
  id: uuid("id").primaryKey().defaultRandom(),
  passageId: uuid("passage_id")
    .unique()
    .references(() => passages.id, { onDelete: "cascade", onUpdate: "cascade" }),
  figure: text("figure").unique(),
  sessions: integer("sessions").notNull(),
  states: jsonb("states").$type<DrillState[]>().notNull(),
});
