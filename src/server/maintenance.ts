import { existsSync, readFileSync, renameSync } from "node:fs";
import { join, resolve } from "node:path";
import type { PGlite } from "@electric-sql/pglite";
import { pino } from "pino";
import type { Restored } from "../api/wire.ts";
import { BackupFolder } from "./backups/folder.ts";
import { restore } from "./backups/restore.ts";
import { ownersOf } from "./backups/snapshot.ts";
import { LOCAL_PERSON, type OpenDatabase } from "./database/database.ts";
import { lockDirectory } from "./database/lock.ts";
import { openDatabase, openPlace, stateOf } from "./database/open.ts";
import { openPostgres } from "./database/postgres.ts";
import { syncDirectory } from "./database/sync-directory.ts";
import { integrityOf, messageOf } from "./integrity.ts";
import { moveLibrary } from "./move.ts";
import { People } from "./people/people.ts";
import { Practice } from "./practice.ts";
import { Recordings } from "./recordings.ts";
import { backUpAll, backupFolder, forget } from "./services.ts";
import { WorkPool } from "./work/pool.ts";

/* What can be done to a data directory while no server runs on it: by `cli check` and `cli restore`. */

/** A large backup takes its time; one that hangs is ended. */
const LONGEST_MS = 10 * 60 * 1000;

/** What is wrong with a data directory, a sentence each, and what was looked at. */
export interface Checked {
  faults: string[];
  passages: number;
  backups: number;
}

/** Reads every row of a library and every backup beside it; changes nothing. Throws DirectoryInUse while a server runs on it. */
export async function checkDirectory(given: string): Promise<Checked> {
  const directory = resolve(given);
  const lock = await lockDirectory(directory);
  const pool = new WorkPool();
  try {
    const checked: Checked = { faults: [], passages: 0, backups: 0 };
    const place = join(directory, "library");
    const state = stateOf(place);
    if (state === "missing") checked.faults.push(`There is no library in ${place}.`);
    else if (state === "foreign") checked.faults.push(`${place} holds files, but no database that this program knows.`);
    else await checkLibrary(place, checked, pool);
    const folder = new BackupFolder(join(directory, "backups"));
    for (const { name } of folder.list()) {
      const read = await pool.run("readBackup", folder.read(name)!, { longestMs: LONGEST_MS });
      if (read.ok) checked.backups++;
      else checked.faults.push(`The backup ${name} cannot be read: ${read.faults[0]!.place}: ${read.faults[0]!.says}.`);
    }
    return checked;
  } finally {
    await pool.close();
    await lock.release();
  }
}

async function checkLibrary(place: string, checked: Checked, pool: WorkPool): Promise<void> {
  let client: PGlite;
  try {
    client = await openPlace(place);
  } catch (error) {
    checked.faults.push(`The database in ${place} does not start${messageOf(error)}.`);
    return;
  }
  try {
    for (const owner of await ownersOf(client)) {
      const { passages, others, readable } = await integrityOf(client, owner, pool);
      checked.passages += readable;
      for (const { title, says } of passages) checked.faults.push(`The passage "${title}" cannot be read: ${says}.`);
      for (const says of others) checked.faults.push(`${says}.`);
    }
  } finally {
    await client.close().catch(() => {});
  }
}

/** The library that a backup holds, in place of the one that is there; that one is set aside, whatever it is, and never deleted. */
export async function restoreDirectory(file: string, given: string): Promise<{ done: Restored; setAside: string | null }> {
  const pool = new WorkPool();
  const read = await pool.run("readBackup", new Uint8Array(readFileSync(file)), { longestMs: LONGEST_MS }).finally(() => pool.close());
  if (!read.ok) throw new Error(`${file} is no backup that can be read: ${read.faults[0]!.place}: ${read.faults[0]!.says}`);
  const directory = resolve(given);
  const lock = await lockDirectory(directory);
  try {
    const place = join(directory, "library");
    const setAside = existsSync(place) ? `${place}.before-${new Date().toISOString().replaceAll(":", "-")}` : null;
    if (setAside) {
      renameSync(place, setAside);
      syncDirectory(directory);
    }
    const database = await openDatabase(directory, async () => {}, { mayCreate: true });
    try {
      const done = await restore(database.db, LOCAL_PERSON, read.value, "keep", {});
      await new Recordings(join(directory, "recordings")).bringBack(read.value.recordings, await new Practice(database.db, LOCAL_PERSON).takeIds());
      return { done, setAside };
    } finally {
      await database.close();
    }
  } finally {
    await lock.release();
  }
}

/** What can be done to people of a library from outside. */
interface Accounts {
  people: People;
  /** Removes the files of somebody who is gone. */
  forget(person: string): void;
}

/** Opens the library on DATABASE_URL, or in DATA_DIR while no server runs on it, and closes it again. */
export async function withLibrary<T>(work: (accounts: Accounts) => Promise<T>): Promise<T> {
  const directory = resolve(process.env.DATA_DIR ?? "data");
  return withDatabase(process.env.DATABASE_URL || directory, ({ db }) =>
    work({ people: new People(db), forget: (person) => forget({ directory, secondBackups: null }, person) }),
  );
}

/** Copies the library of one place into another that holds nothing yet: data directories, or URLs of PostgreSQL servers. */
export function moveBetween(from: string, to: string): Promise<Record<string, number>> {
  return withDatabase(from, (source) => withDatabase(to, (target) => moveLibrary(source.db, target.db)));
}

function isUrl(place: string): boolean {
  return /^postgres(ql)?:\/\//.test(place);
}

/** Opens the library on a PostgreSQL server, or in a data directory while no server runs on it, and closes it again. */
async function withDatabase<T>(place: string, work: (database: OpenDatabase) => Promise<T>): Promise<T> {
  const url = isUrl(place) ? place : null;
  const directory = resolve(place);
  const lock = url ? null : await lockDirectory(directory);
  const places = { directory, secondBackups: process.env.BACKUP_DIR ? resolve(process.env.BACKUP_DIR) : null };
  const pool = new WorkPool();
  try {
    const database = url
      ? await openPostgres(url, pino({ level: "silent" }))
      : await openDatabase(directory, (client) => backUpAll(client, places, pool), { newestBackup: backupFolder(places, LOCAL_PERSON).newest() });
    try {
      return await work(database);
    } finally {
      await database.close();
    }
  } finally {
    await pool.close();
    await lock?.release();
  }
}
