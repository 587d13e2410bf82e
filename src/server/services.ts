import { rmSync } from "node:fs";
import { join } from "node:path";
import type { Told } from "../api/wire.ts";
import { Backups } from "./backups/backups.ts";
import { BackupFolder } from "./backups/folder.ts";
import { ownersOf, snapshotOf } from "./backups/snapshot.ts";
import type { Care } from "./care.ts";
import type { Changes } from "./changes.ts";
import { LOCAL_PERSON, type OpenDatabase, type Sql } from "./database/database.ts";
import { Library } from "./library.ts";
import { Practice } from "./practice.ts";
import { Recordings } from "./recordings.ts";
import { Setup } from "./setup.ts";
import { Gifts } from "./teaching/gifts.ts";
import { Links } from "./teaching/links.ts";
import { Teaching } from "./teaching/teaching.ts";
import type { WorkPool } from "./work/pool.ts";

/** What is done for one person, with what is theirs and nothing else. */
export interface Services {
  library: Library;
  setup: Setup;
  practice: Practice;
  recordings: Recordings;
  backups: Backups;
  teaching: Teaching;
  gifts: Gifts;
  links: Links;
  /** Hears what changes in the library until the function that it returns is called; null where too many pages do already. */
  hear(page: (change: Told) => void): (() => void) | null;
  /** Calls `stop` when the server is about to end, until the function that it returns is called. */
  onEnd(stop: () => void): () => void;
}

/** Where files lie beside the database: recordings and kept backups, and these once more in a second place if one is named. */
export interface Places {
  directory: string;
  secondBackups: string | null;
}

/** What all people of a server have in common. */
export interface Common {
  database: Pick<OpenDatabase, "db" | "client">;
  care: Care;
  changes: Changes;
  pool: WorkPool;
  places: Places;
}

export function servicesOf({ database, care, changes, pool, places }: Common, owner: string): Services {
  const recordings = new Recordings(join(placeOf(places.directory, owner), "recordings"));
  return {
    library: new Library(database.db, owner, care.unreadableOf(owner)),
    setup: new Setup(database.db, owner, pool),
    practice: new Practice(database.db, owner),
    recordings,
    backups: new Backups(database, owner, backupFolder(places, owner), pool, recordings, () => care.isWhole(owner)),
    teaching: new Teaching(database.db, owner),
    gifts: new Gifts(database.db, owner),
    links: new Links(database.db, owner),
    hear: (page) => changes.hear(owner, page),
    onEnd: (stop) => changes.onEnd(stop),
  };
}

export function backupFolder({ directory, secondBackups }: Places, owner: string): BackupFolder {
  return new BackupFolder(join(placeOf(directory, owner), "backups"), secondBackups && placeOf(secondBackups, owner));
}

/** A backup takes its time; one that hangs is ended. */
const LONGEST_BACKUP_MS = 10 * 60 * 1000;

/** Every library as a backup, before its schema changes. */
export async function backUpAll(client: Sql, places: Places, pool: WorkPool): Promise<void> {
  for (const owner of await ownersOf(client)) {
    const order = { rows: await snapshotOf(client, owner), ...backupFolder(places, owner ?? LOCAL_PERSON).places, reason: "migration" } as const;
    await pool.run("writeBackup", order, { longestMs: LONGEST_BACKUP_MS });
  }
}

/** Removes the files of somebody who is gone: recordings and backups. */
export function forget({ directory, secondBackups }: Places, owner: string): void {
  for (const folder of ["recordings", "backups"]) rmSync(join(placeOf(directory, owner), folder), { recursive: true, force: true });
  if (owner === LOCAL_PERSON) return;
  for (const place of [directory, secondBackups]) if (place) rmSync(placeOf(place, owner), { recursive: true, force: true });
}

/** Who plays on a machine of their own has the folder to themselves. */
function placeOf(directory: string, owner: string): string {
  return owner === LOCAL_PERSON ? directory : join(directory, "people", owner);
}
