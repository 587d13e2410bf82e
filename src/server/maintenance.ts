import { existsSync, readFileSync, renameSync } from "node:fs";
import { join, resolve } from "node:path";
import type { PGlite } from "@electric-sql/pglite";
import type { Restored } from "../api/wire.ts";
import { unpackBackup } from "../core/formats/backup/backup.ts";
import { parsePassage } from "../core/passage/parse.ts";
import { instrumentSchema, playerSchema } from "../core/passage/schema.ts";
import { BackupFolder } from "./backups/folder.ts";
import { restore } from "./backups/restore.ts";
import { syncDirectory } from "./database/durable-fs.ts";
import { lockDirectory } from "./database/lock.ts";
import { openDatabase, openPlace, stateOf } from "./database/open.ts";

/* What can be done to a data directory while no server runs on it: by `cli check` and `cli restore`. */

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
  try {
    const checked: Checked = { faults: [], passages: 0, backups: 0 };
    const place = join(directory, "library");
    const state = stateOf(place);
    if (state === "missing") checked.faults.push(`There is no library in ${place}.`);
    else if (state === "foreign") checked.faults.push(`${place} holds files, but no database that this program knows.`);
    else await checkLibrary(place, checked);
    const folder = new BackupFolder(join(directory, "backups"));
    for (const { name } of folder.list()) {
      const read = unpackBackup(folder.read(name)!);
      if (read.ok) checked.backups++;
      else checked.faults.push(`The backup ${name} cannot be read: ${read.faults[0]!.place}: ${read.faults[0]!.says}.`);
    }
    return checked;
  } finally {
    await lock.release();
  }
}

async function checkLibrary(place: string, checked: Checked): Promise<void> {
  let client: PGlite;
  try {
    client = await openPlace(place);
  } catch (error) {
    checked.faults.push(`The database in ${place} does not start${messageOf(error)}.`);
    return;
  }
  try {
    const values = { instruments: new Map<string, unknown>(), players: new Map<string, unknown>() };
    for (const [table, schema] of [
      ["instruments", instrumentSchema],
      ["players", playerSchema],
    ] as const)
      for (const { id, name, value } of await rowsOf<{ id: string; name: string; value: unknown }>(client, table, "id, name, value", checked)) {
        values[table].set(id, value);
        if (!schema.safeParse(value).success) checked.faults.push(`"${name}" among the ${table} cannot be read.`);
      }
    for (const row of await rowsOf<{ title: string; document: object; instrument_id: string; player_id: string }>(
      client,
      "passages",
      "title, document, instrument_id, player_id",
      checked,
    )) {
      checked.passages++;
      const parsed = parsePassage({ ...row.document, instrument: values.instruments.get(row.instrument_id), player: values.players.get(row.player_id) });
      if (!parsed.ok) checked.faults.push(`The passage "${row.title}" cannot be read: ${parsed.faults[0]!.place}: ${parsed.faults[0]!.says}.`);
    }
  } finally {
    await client.close().catch(() => {});
  }
}

async function rowsOf<T>(client: PGlite, table: string, columns: string, checked: Checked): Promise<T[]> {
  try {
    return (await client.query<T>(`select ${columns} from ${table}`)).rows;
  } catch (error) {
    checked.faults.push(`The table of ${table} cannot be read${messageOf(error)}.`);
    return [];
  }
}

function messageOf(error: unknown): string {
  return error instanceof Error && error.message ? `: ${error.message}` : "";
}

/** The library that a backup holds, in place of the one that is there; that one is set aside, whatever it is, and never deleted. */
export async function restoreDirectory(file: string, given: string): Promise<{ done: Restored; setAside: string | null }> {
  const read = unpackBackup(new Uint8Array(readFileSync(file)));
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
      return { done: await restore(database.db, read.value, "keep"), setAside };
    } finally {
      await database.close();
    }
  } finally {
    await lock.release();
  }
}
