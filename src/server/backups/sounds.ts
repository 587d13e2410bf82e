import { readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import type { KeptRecording } from "../../core/formats/backup/backup.ts";
import { LIMITS } from "../../core/passage/limits.ts";

/** What each recording is called: its take's id. Names that are none are not looked at. */
const NAME = /^([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})\.wav$/;

/** Recordings for a backup, the newest first, as many as it takes; and how many are too much for it. */
export function recordingsIn(folder: string, most: number = LIMITS.recordingsInBackup.most): { recordings: KeptRecording[]; left: number } {
  const all = namesIn(folder)
    .map((id) => ({ id, place: join(folder, `${id}.wav`) }))
    .map((one) => ({ ...one, ...statSync(one.place) }))
    .sort((a, b) => b.mtimeMs - a.mtimeMs);
  let room = most;
  const fitting = all.filter(({ size }) => {
    if (size > room) return false;
    room -= size;
    return true;
  });
  return { recordings: fitting.map(({ id, place }) => ({ id, bytes: new Uint8Array(readFileSync(place)) })), left: all.length - fitting.length };
}

/** The takes that have a recording in a folder. */
export function namesIn(folder: string): string[] {
  return filesIn(folder).flatMap((name) => NAME.exec(name)?.[1] ?? []);
}

/** What lies in a folder; nothing where nothing was kept yet. */
export function filesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return [];
    throw error;
  }
}
