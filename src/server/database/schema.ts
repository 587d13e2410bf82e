import { sql } from "drizzle-orm";
import {
  type AnyPgColumn,
  boolean,
  customType,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  unique,
  uniqueIndex,
  uuid,
} from "drizzle-orm/pg-core";
import type { AskedDrill } from "../../api/wire.ts";
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

/** Whose libraries there are. */
export const people = pgTable(
  "people",
  {
    id: uuid("id").primaryKey().defaultRandom(),
    name: text("name").notNull(),
    /** What a passphrase leaves behind (argon2id); null where there is none and nobody can sign in. */
    passphrase: text("passphrase"),
    /** May invite others. */
    mayInvite: boolean("may_invite").notNull().default(false),
    ...times,
  },
  // Names are told apart whatever their case.
  (table) => [uniqueIndex("people_by_name").on(sql`lower(${table.name})`)],
);

/** Where somebody is signed in. Of the secret that a browser holds, and of the one before it, only sums are here. */
export const signIns = pgTable(
  "sign_ins",
  {
    id: uuid("id").primaryKey().defaultRandom(),
    person: uuid("person")
      .notNull()
      .references(() => people.id, { onDelete: "cascade" }),
    secret: text("secret").notNull().unique(),
    before: text("before").unique(),
    /** The browser, as it calls itself. */
    agent: text("agent").notNull(),
    renewedAt: timestamp("renewed_at", { withTimezone: true }).notNull().defaultNow(),
    seenAt: timestamp("seen_at", { withTimezone: true }).notNull().defaultNow(),
    ...times,
  },
  (table) => [index("sign_ins_by_person").on(table.person), index("sign_ins_by_seen").on(table.seenAt)],
);

/** Invitations that nobody has taken yet; of the secret in their address only the sum is here. */
export const invitations = pgTable(
  "invitations",
  {
    id: uuid("id").primaryKey().defaultRandom(),
    by: uuid("by")
      .notNull()
      .references(() => people.id, { onDelete: "cascade" }),
    secret: text("secret").notNull().unique(),
    /** For whom it is, in the words of who invites. */
    note: text("note").notNull(),
    mayInvite: boolean("may_invite").notNull(),
    /** Whoever takes it is a student of who invited. */
    asStudent: boolean("as_student").notNull().default(false),
    expiresAt: timestamp("expires_at", { withTimezone: true }).notNull(),
    ...times,
  },
  (table) => [index("invitations_by_person").on(table.by)],
);

/** Who teaches whom. The student has taken an invitation for that, and can end it. */
export const teachings = pgTable(
  "teachings",
  {
    id: uuid("id").primaryKey().defaultRandom(),
    teacher: uuid("teacher")
      .notNull()
      .references(() => people.id, { onDelete: "cascade" }),
    student: uuid("student")
      .notNull()
      .references(() => people.id, { onDelete: "cascade" }),
    /** The student lets the teacher see what was practised and what came of it. */
    shows: boolean("shows").notNull().default(false),
    ...times,
  },
  (table) => [unique("teachings_once").on(table.teacher, table.student), index("teachings_by_student").on(table.student)],
);

/** How often something was tried lately that may not be tried too often: kept by rate-limiter-flexible. */
export const attempts = pgTable("attempts", {
  key: text("key").primaryKey(),
  points: integer("points").notNull(),
  expire: timestamp("expire", { withTimezone: true }),
});

/** Whose a row is; it goes with its owner. Ids are an owner's own: what is another's can neither be named nor collide. */
const owned = {
  owner: uuid("owner")
    .notNull()
    .references(() => people.id, { onDelete: "cascade" }),
};

/** What rows of the setup have besides their value. */
const setup = {
  ...owned,
  id: uuid("id").notNull().defaultRandom(),
  /** Made or named by the player; others came with a passage and go when no passage needs them any more. */
  named: boolean("named").notNull().default(false),
  /** Taken for new passages. */
  isDefault: boolean("is_default").notNull().default(false),
  name: text("name").notNull(),
  /** Canonical text of the value: an import reuses an equal row. */
  canonical: text("canonical").notNull(),
  ...times,
};

export const instruments = pgTable("instruments", { ...setup, value: jsonb("value").$type<Instrument>().notNull() }, (table) => [
  primaryKey({ columns: [table.owner, table.id] }),
  unique("instruments_by_value").on(table.owner, table.canonical),
]);

export const players = pgTable("players", { ...setup, value: jsonb("value").$type<Player>().notNull() }, (table) => [
  primaryKey({ columns: [table.owner, table.id] }),
  unique("players_by_value").on(table.owner, table.canonical),
]);

/** What a restore knows of a row that it has written beforehand. */
export interface Staged {
  batch: string;
  /** When the restore was begun. */
  since: string;
  /** The id that it will have; of what was replaced, the one that it had. */
  becomes: string;
  /** MD5 of the document's text, for the ledger; what was replaced needs none. */
  checksum?: string;
}

/** What a restore knows of a session of practice that it has written beforehand. */
export interface StagedSession {
  batch: string;
  since: string;
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
    ...owned,
    id: uuid("id").notNull().defaultRandom(),
    title: text("title").notNull(),
    document: documentText("document").notNull(),
    card: jsonb("card").$type<Card>().notNull(),
    instrumentId: uuid("instrument_id").notNull(),
    playerId: uuid("player_id").notNull(),
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
  (table) => [
    primaryKey({ columns: [table.owner, table.id] }),
    foreignKey({ columns: [table.owner, table.instrumentId], foreignColumns: [instruments.owner, instruments.id] }),
    foreignKey({ columns: [table.owner, table.playerId], foreignColumns: [players.owner, players.id] }),
    index("passages_by_update").on(table.owner, table.deletedAt, table.updatedAt),
    index("passages_by_instrument").on(table.owner, table.instrumentId),
    index("passages_by_player").on(table.owner, table.playerId),
    index("passages_staged").on(table.owner).where(sql`staged is not null`),
  ],
);

/** A passage of the same owner: what refers to one goes with it. */
const ofPassage = (table: { owner: AnyPgColumn; passageId: AnyPgColumn }) =>
  foreignKey({ columns: [table.owner, table.passageId], foreignColumns: [passages.owner, passages.id] })
    .onDelete("cascade")
    .onUpdate("cascade");

/**
 * What passages there are, kept apart from them by a trigger: which ones, and the MD5 of each document's text. A passage that
 * is here and not in its table was lost; one whose text has another sum was damaged.
 */
export const ledger = pgTable(
  "ledger",
  {
    ...owned,
    id: uuid("id").notNull(),
    title: text("title").notNull(),
    checksum: text("checksum").notNull(),
  },
  (table) => [primaryKey({ columns: [table.owner, table.id] })],
);

/** Plans for the Shelf, by a hash of all that they depend on: made once for all servers. They are made anew where they are missing. */
export const shelfPlans = pgTable(
  "shelf_plans",
  {
    key: text("key").primaryKey(),
    plan: text("plan").notNull(),
    usedAt: timestamp("used_at", { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index("shelf_plans_by_use").on(table.usedAt)],
);

/** One row that is written to see whether anything can be. */
export const pulse = pgTable("pulse", {
  id: integer("id").primaryKey(),
  at: timestamp("at", { withTimezone: true }).notNull(),
});

const bytea = customType<{ data: Uint8Array }>({ dataType: () => "bytea", fromDriver: (bytes) => new Uint8Array(bytes as Uint8Array) });

/** The file a passage was imported from, as it was. */
export const originals = pgTable(
  "originals",
  { ...owned, passageId: uuid("passage_id").notNull(), name: text("name").notNull(), bytes: bytea("bytes").notNull() },
  (table) => [primaryKey({ columns: [table.owner, table.passageId] }), ofPassage(table)],
);

/** Sessions of practice. They go with their passage, into the bin, out of it, and for good. */
export const practiceSessions = pgTable(
  "practice_sessions",
  {
    ...owned,
    id: uuid("id").notNull(),
    passageId: uuid("passage_id"),
    /** A move that was practised without a passage. */
    figure: text("figure"),
    startedAt: timestamp("started_at", { withTimezone: true }).notNull(),
    record: jsonb("record").$type<Omit<PracticeSession, "id" | "passage" | "figure">>().notNull(),
    /** Set while a restore is under way: the row is not part of the log yet. */
    staged: jsonb("staged").$type<StagedSession>(),
  },
  (table) => [
    primaryKey({ columns: [table.owner, table.id] }),
    ofPassage(table),
    index("practice_by_passage").on(table.owner, table.passageId, table.startedAt),
    index("practice_by_time").on(table.owner, table.startedAt),
    index("practice_staged").on(table.owner).where(sql`staged is not null`),
  ],
);

/**
 * How the drills of a passage or of a move stand, made of all its sessions whenever one of them changes; and how many sessions
 * there are, so that lost ones are noticed.
 */
export const practised = pgTable(
  "practised",
  {
    ...owned,
    id: uuid("id").primaryKey().defaultRandom(),
    passageId: uuid("passage_id"),
    figure: text("figure"),
    sessions: integer("sessions").notNull(),
    states: jsonb("states").$type<DrillState[]>().notNull(),
  },
  (table) => [ofPassage(table), unique("practised_by_passage").on(table.owner, table.passageId), unique("practised_by_figure").on(table.owner, table.figure)],
);

/**
 * Which passages of somebody's are copies of what a teacher gave, what it was that was given, what is asked for with it, and a newer
 * one that is offered in its place.
 */
export const gifts = pgTable(
  "gifts",
  {
    ...owned,
    id: uuid("id").notNull().defaultRandom(),
    passageId: uuid("passage_id").notNull(),
    /** Who gave it; null once their account is gone. */
    teacher: uuid("teacher").references(() => people.id, { onDelete: "set null" }),
    teacherName: text("teacher_name").notNull(),
    /** The passage in the teacher's library. */
    origin: uuid("origin").notNull(),
    /** MD5 of the canonical text of what was given: a copy with another sum has been worked on. */
    sum: text("sum").notNull(),
    note: text("note").notNull(),
    drills: jsonb("drills").$type<AskedDrill[]>().notNull(),
    givenAt: timestamp("given_at", { withTimezone: true }).notNull().defaultNow(),
    /** A passage document; null where nothing newer is offered. */
    offer: text("offer"),
  },
  (table) => [
    primaryKey({ columns: [table.owner, table.id] }),
    ofPassage(table),
    unique("gifts_once").on(table.owner, table.teacher, table.origin),
    index("gifts_by_passage").on(table.owner, table.passageId),
    index("gifts_by_teacher").on(table.teacher),
  ],
);

/** Addresses under which a passage can be read without an account, until a day. Of the secret in them only the sum is here. */
export const links = pgTable(
  "links",
  {
    ...owned,
    id: uuid("id").notNull().defaultRandom(),
    passageId: uuid("passage_id").notNull(),
    secret: text("secret").notNull().unique(),
    expiresAt: timestamp("expires_at", { withTimezone: true }).notNull(),
    ...times,
  },
  (table) => [primaryKey({ columns: [table.owner, table.id] }), ofPassage(table), index("links_by_passage").on(table.owner, table.passageId)],
);
