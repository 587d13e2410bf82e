import { createHash } from "node:crypto";
import { type BackedUpPassage, type LibraryBackup, packBackup, readBackup, withinLimits } from "../../core/formats/backup/backup.ts";
import type { OnProgress } from "../../core/formats/imported.ts";
import { type Parsed, parsePassage } from "../../core/passage/parse.ts";
import { type Card, contentsOf } from "../document.ts";

/* A library between the database and a backup: documents stay the texts that they are, so that they pass between threads for nothing. */

export interface PassageRow extends Omit<BackedUpPassage, "passage"> {
  title: string;
  /** The document without instrument and player, as JSON. */
  document: string;
}

/** Everything a library holds. */
export type LibraryRows = LibraryBackup<PassageRow[]>;

/** A passage out of a backup, ready to be written. */
export interface ReadRow extends PassageRow {
  card: Card;
  /** As the ledger has it. */
  checksum: string;
}

export type ReadRows = LibraryBackup<ReadRow[]>;

/**
 * A library for a backup, each document read when its turn comes, so that memory holds one at a time. What cannot be read is
 * left out and named: with it nothing could be brought back. `unreadable` is whole when the passages have been gone through.
 */
export function libraryOf(rows: LibraryRows): { library: LibraryBackup<Iterable<BackedUpPassage>>; unreadable: string[] } {
  const instruments = new Map(rows.instruments.map(({ id, value }) => [id, value]));
  const players = new Map(rows.players.map(({ id, value }) => [id, value]));
  const kept = withinLimits(rows);
  const unreadable: string[] = [];
  const passages = {
    *[Symbol.iterator]() {
      unreadable.length = 0;
      for (const { title, document, ...row } of kept.passages) {
        const read = readDocument(document, instruments.get(row.instrument), players.get(row.player));
        if (read.ok) yield { ...row, passage: read.value };
        else unreadable.push(title);
      }
    },
  };
  return { library: { ...kept, passages }, unreadable };
}

/** Passages, telling how far they have been gone through. */
export function* told<T>(passages: Iterable<T>, of: number, onProgress: OnProgress): Generator<T> {
  let done = 0;
  for (const passage of passages) {
    onProgress(done++, of);
    yield passage;
  }
}

/** A passage as its rows have it. */
export interface StoredTexts {
  document: string;
  instrument: unknown;
  player: unknown;
}

export function readDocument(document: string, instrument: unknown, player: unknown): ReturnType<typeof parsePassage> {
  try {
    return parsePassage({ ...(JSON.parse(document) as object), instrument, player });
  } catch {
    return { ok: false, faults: [{ place: "/", says: "this is not JSON" }] };
  }
}

export function packRows(rows: LibraryRows, onProgress: OnProgress): Uint8Array {
  const { library } = libraryOf(rows);
  return packBackup({ ...library, passages: told(library.passages, rows.passages.length, onProgress) });
}

/** A backup as rows that can be written. */
export function readRows(bytes: Uint8Array, onProgress: OnProgress): Parsed<ReadRows> {
  return readBackup(bytes, ({ passage, ...row }): ReadRow => ({ ...row, ...textOf(contentsOf(passage)) }), onProgress);
}

function textOf({ title, document, card }: ReturnType<typeof contentsOf>): Pick<ReadRow, "title" | "document" | "card" | "checksum"> {
  const text = JSON.stringify(document);
  return { title, document: text, card, checksum: createHash("md5").update(text).digest("hex") };
}
