import slugify from "@sindresorhus/slugify";
import { strFromU8, strToU8 } from "fflate";
import { z } from "zod";
import { LIMITS } from "../../passage/limits.ts";
import { type Fault, faultsOf, type Parsed, parsePassageText } from "../../passage/parse.ts";
import { type Instrument, instrumentSchema, type Passage, type Player, playerSchema } from "../../passage/schema.ts";
import { textSchema } from "../../passage/text.ts";
import { logOf, type PracticeSession, practiceLogSchema } from "../../practice/record.ts";
import type { OnProgress } from "../imported.ts";
import { pack, unpack } from "../zip.ts";

/** Everything a library holds; passages as whoever works with them wants them. Moments are ISO 8601 in UTC. */
export interface LibraryBackup<Passages = BackedUpPassage[]> {
  savedAt: string;
  instruments: BackedUpSetup<Instrument>[];
  players: BackedUpSetup<Player>[];
  passages: Passages;
  /** What was practised; of passages that are not in the backup too. */
  practice: PracticeSession[];
  /** The sound of takes, where it is kept and was asked for. */
  recordings: KeptRecording[];
}

/** The sound of a take as a WAV file, by the take's id. */
export interface KeptRecording {
  id: string;
  bytes: Uint8Array;
}

/** An instrument or a player. */
export interface BackedUpSetup<Value> {
  id: string;
  name: string;
  value: Value;
  /** Made or named by the player, not come with a passage. */
  named: boolean;
  isDefault: boolean;
  createdAt: string;
}

export interface BackedUpPassage {
  id: string;
  version: number;
  createdAt: string;
  updatedAt: string;
  openedAt: string | null;
  /** Since when it lies in the bin. */
  deletedAt: string | null;
  /** Ids of its instrument and player. */
  instrument: string;
  player: string;
  passage: Passage;
  /** The file it was imported from, where that was kept. */
  original: OriginalFile | null;
}

export interface OriginalFile {
  name: string;
  bytes: Uint8Array;
}

export const BACKUP_FORMAT = "rest-hand-library";
/** 1: without what was practised. */
export const BACKUP_VERSION = 2;

const LIST = "library.json";
const PRACTICE = "practice.json";
const RECORDING = /^recordings\/([^/]+)\.wav$/;

const moment = z.iso.datetime();
const setupOf = <T extends z.ZodType>(value: T) =>
  z.strictObject({ id: z.uuid(), name: textSchema(2000), value, named: z.boolean(), isDefault: z.boolean(), createdAt: moment });

/** The list inside a backup; the passages themselves are files beside it, each a passage document. */
const listSchema = z.strictObject({
  format: z.literal(BACKUP_FORMAT),
  version: z.literal([1, BACKUP_VERSION]),
  savedAt: moment,
  instruments: z.array(setupOf(instrumentSchema)),
  players: z.array(setupOf(playerSchema)),
  passages: z.array(
    z.strictObject({
      id: z.uuid(),
      file: z.string(),
      version: z.int().min(1),
      createdAt: moment,
      updatedAt: moment,
      openedAt: moment.nullable(),
      deletedAt: moment.nullable(),
      instrument: z.uuid(),
      player: z.uuid(),
      original: z.strictObject({ name: textSchema(255, 1), file: z.string() }).nullable(),
    }),
  ),
});

/** Packs a library as a zip of open files: a list, a passage document each, the files they came from, what was practised, and recordings. Passages are gone through once. */
export function packBackup({ savedAt, instruments, players, passages, practice, recordings }: LibraryBackup<Iterable<BackedUpPassage>>): Uint8Array {
  const files = new Map<string, Uint8Array>();
  const listed = Array.from(passages, ({ passage, original, ...rest }) => {
    const file = `passages/${slug(passage.title)}-${rest.id}.resthand.json`;
    files.set(file, strToU8(`${JSON.stringify(passage, null, 2)}\n`));
    if (!original) return { ...rest, file, original };
    const kept = `originals/${rest.id}${/\.[a-z0-9]{1,8}$/i.exec(original.name)?.[0] ?? ""}`;
    files.set(kept, original.bytes);
    return { ...rest, file, original: { name: original.name, file: kept } };
  });
  const list = { format: BACKUP_FORMAT, version: BACKUP_VERSION, savedAt, instruments, players, passages: listed } satisfies z.input<typeof listSchema>;
  files.set(PRACTICE, strToU8(`${JSON.stringify(logOf(practice), null, 1)}\n`));
  for (const { id, bytes } of recordings) files.set(`recordings/${id}.wav`, bytes);
  return pack(new Map([[LIST, strToU8(`${JSON.stringify(list, null, 2)}\n`)], ...files]));
}

/** Bytes of original files that one backup takes: with more it could be written, but not be sent back or read again. */
export const MOST_ORIGINALS = 100_000_000;

/** A backup as far as it can be read back: original files as many as it takes, those of the passages changed last first. Passages are always whole. */
export function withinLimits<Backup extends LibraryBackup<Pick<BackedUpPassage, "id" | "updatedAt" | "original">[]>>(
  backup: Backup,
  most = MOST_ORIGINALS,
): Backup {
  let left = most;
  const kept = new Set<string>();
  for (const { id, original } of [...backup.passages].sort((a, b) => b.updatedAt.localeCompare(a.updatedAt)))
    if (original && original.bytes.length <= left) {
      left -= original.bytes.length;
      kept.add(id);
    }
  if (backup.passages.every(({ id, original }) => !original || kept.has(id))) return backup;
  return { ...backup, passages: backup.passages.map((passage) => (kept.has(passage.id) ? passage : { ...passage, original: null })) };
}

/** Reads a backup; every passage in it is checked, and one that does not hold refuses the whole. */
export function unpackBackup(bytes: Uint8Array, onProgress?: OnProgress): Parsed<LibraryBackup> {
  return readBackup(bytes, (passage) => passage, onProgress);
}

/** The same, keeping of every passage what `keep` makes of it: a large library is more than fits in memory as objects. */
export function readBackup<Kept>(
  bytes: Uint8Array,
  keep: (passage: BackedUpPassage) => Kept,
  onProgress: OnProgress = () => {},
): Parsed<LibraryBackup<Kept[]>> {
  const unpacked = unpack(bytes, { limit: LIMITS.unpackedBackup });
  if (!unpacked.ok) return unpacked;
  const { files } = unpacked.value;
  const list = listOf(files.get(LIST));
  if (!list.ok) return list;
  const faults: Fault[] = [];
  const known = { instrument: new Set(list.value.instruments.map(({ id }) => id)), player: new Set(list.value.players.map(({ id }) => id)) };
  const passages = list.value.passages.flatMap(({ file, original, ...rest }, i): Kept[] => {
    onProgress(i, list.value.passages.length);
    for (const kind of ["instrument", "player"] as const)
      if (!known[kind].has(rest[kind])) faults.push({ place: `${LIST}, /passages/${i}/${kind}`, says: `there is no such ${kind} in the backup` });
    const kept = original && files.get(original.file);
    if (original && !kept) faults.push({ place: original.file || LIST, says: "the file is missing from the backup" });
    const document = files.get(file);
    if (!document) {
      faults.push({ place: file || LIST, says: "the file is missing from the backup" });
      return [];
    }
    const read = parsePassageText(strFromU8(document));
    if (!read.ok) for (const fault of read.faults) faults.push({ ...fault, place: `${file}, ${fault.place}` });
    return read.ok ? [keep({ ...rest, passage: read.value, original: original && kept ? { name: original.name, bytes: kept } : null })] : [];
  });
  const practice = practiceIn(files.get(PRACTICE), list.value.version);
  if (!practice.ok) faults.push(...practice.faults);
  if (faults.length > 0 || !practice.ok) return { ok: false, faults };
  const { savedAt, instruments, players } = list.value;
  const takes = new Set(practice.value.flatMap((session) => session.takes.map(({ id }) => id)));
  // One whose take is gone is of no use to anybody.
  const recordings = [...files].flatMap(([name, sound]) => {
    const id = RECORDING.exec(name)?.[1];
    return id !== undefined && takes.has(id) ? [{ id, bytes: sound }] : [];
  });
  return { ok: true, value: { savedAt, instruments, players, passages, practice: practice.value, recordings } };
}

/** What was practised; nothing in a backup that is older than the log. */
function practiceIn(bytes: Uint8Array | undefined, version: number): Parsed<PracticeSession[]> {
  if (!bytes && version === 1) return { ok: true, value: [] };
  if (!bytes) return { ok: false, faults: [{ place: PRACTICE, says: "the file is missing from the backup" }] };
  const raw = jsonIn(bytes, PRACTICE);
  if (!raw.ok) return raw;
  const read = practiceLogSchema.safeParse(raw.value);
  if (read.success) return { ok: true, value: read.data.sessions };
  return { ok: false, faults: read.error.issues.flatMap(faultsOf).map((fault) => ({ ...fault, place: `${PRACTICE}, ${fault.place}` })) };
}

function jsonIn(bytes: Uint8Array, file: string): Parsed<unknown> {
  try {
    return { ok: true, value: JSON.parse(strFromU8(bytes)) };
  } catch {
    return { ok: false, faults: [{ place: file, says: "this is not JSON" }] };
  }
}

function listOf(bytes: Uint8Array | undefined): Parsed<z.output<typeof listSchema>> {
  if (!bytes) return { ok: false, faults: [{ place: "file", says: `this is not a backup of a library: it holds no ${LIST}` }] };
  const read = jsonIn(bytes, LIST);
  if (!read.ok) return read;
  const raw = read.value;
  const version = (raw as { version?: unknown } | null)?.version;
  if (typeof version === "number" && version > BACKUP_VERSION)
    return { ok: false, faults: [{ place: `${LIST}, /version`, says: `version ${version} is newer than this program reads (${BACKUP_VERSION})` }] };
  const list = listSchema.safeParse(raw);
  if (list.success) return { ok: true, value: list.data };
  return { ok: false, faults: list.error.issues.flatMap(faultsOf).map((fault) => ({ ...fault, place: `${LIST}, ${fault.place}` })) };
}

const LONGEST_SLUG = 60;

/** A title as a part of a file name. */
export function slug(title: string): string {
  return slugify(title).slice(0, LONGEST_SLUG).replace(/-$/, "") || "passage";
}
