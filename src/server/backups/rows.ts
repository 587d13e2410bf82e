import { createHash } from "node:crypto";
import { type BackedUpPassage, type BackedUpSetup, type LibraryBackup, packBackup, unpackBackup, withinLimits } from "../../core/formats/backup/backup.ts";
import type { OnProgress } from "../../core/formats/imported.ts";
import { type Parsed, parsePassage } from "../../core/passage/parse.ts";
import type { Instrument, Player } from "../../core/passage/schema.ts";
import { type Card, contentsOf } from "../document.ts";

/* A library between the database and a backup: documents stay the texts that they are, so that they pass between threads for nothing. */

export interface PassageRow extends Omit<BackedUpPassage, "passage"> {
  title: string;
  /** The document without instrument and player, as JSON. */
  document: string;
}

/** Everything a library holds. */
export interface LibraryRows {
  savedAt: string;
  instruments: BackedUpSetup<Instrument>[];
  players: BackedUpSetup<Player>[];
  passages: PassageRow[];
}

/** A passage out of a backup, ready to be written. */
export interface ReadRow extends PassageRow {
  card: Card;
  /** As the ledger has it. */
  checksum: string;
}

export interface ReadRows extends LibraryRows {
  passages: ReadRow[];
}

/** Documents read; what cannot be read is left out and named: with it nothing could be brought back. */
export function libraryOf(rows: LibraryRows, onProgress: OnProgress = () => {}): { library: LibraryBackup; unreadable: string[] } {
  const instruments = new Map(rows.instruments.map(({ id, value }) => [id, value]));
  const players = new Map(rows.players.map(({ id, value }) => [id, value]));
  const unreadable: string[] = [];
  const passages = rows.passages.flatMap(({ title, document, ...row }, i): BackedUpPassage[] => {
    onProgress(i, rows.passages.length);
    const read = readDocument(document, instruments.get(row.instrument), players.get(row.player));
    if (!read.ok) {
      unreadable.push(title);
      return [];
    }
    return [{ ...row, passage: read.value }];
  });
  const { savedAt, instruments: keptInstruments, players: keptPlayers } = rows;
  return { library: withinLimits({ savedAt, instruments: keptInstruments, players: keptPlayers, passages }), unreadable };
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
  return packBackup(libraryOf(rows, onProgress).library);
}

/** A backup as rows that can be written. */
export function readRows(bytes: Uint8Array, onProgress: OnProgress): Parsed<ReadRows> {
  const read = unpackBackup(bytes, onProgress);
  if (!read.ok) return read;
  const { passages, ...rest } = read.value;
  return { ok: true, value: { ...rest, passages: passages.map(({ passage, ...row }): ReadRow => ({ ...row, ...textOf(contentsOf(passage)) })) } };
}

function textOf({ title, document, card }: ReturnType<typeof contentsOf>): Pick<ReadRow, "title" | "document" | "card" | "checksum"> {
  const text = JSON.stringify(document);
  return { title, document: text, card, checksum: createHash("md5").update(text).digest("hex") };
}
