import { closeSync, existsSync, fsyncSync, mkdirSync, openSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { BackupReason, KeptBackup } from "../../api/wire.ts";
import { type LibraryBackup, packBackup, unpackBackup } from "../../core/formats/backup/backup.ts";
import { canonical } from "../canonical.ts";

const MOST_KEPT = 7;
const DAY_MS = 24 * 60 * 60 * 1000;
const NAME = /^(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)\.(\d{3})Z-(daily|migration|restore)\.zip$/;

/** The folder of backups that are written without being asked for: the newest seven are kept. */
export class BackupFolder {
  constructor(private readonly folder: string) {}

  /** Newest first. */
  list(): KeptBackup[] {
    if (!existsSync(this.folder)) return [];
    return readdirSync(this.folder)
      .flatMap((name) => {
        const match = NAME.exec(name);
        if (!match) return [];
        const [, day, hour, minute, second, ms, reason] = match;
        return [{ name, savedAt: `${day}T${hour}:${minute}:${second}.${ms}Z`, reason: reason as BackupReason, bytes: statSync(join(this.folder, name)).size }];
      })
      .sort((a, b) => b.savedAt.localeCompare(a.savedAt));
  }

  /** A kept backup as it was written; null when there is none of that name. */
  read(name: string): Uint8Array | null {
    return this.list().some((kept) => kept.name === name) ? new Uint8Array(readFileSync(join(this.folder, name))) : null;
  }

  /** Writes a backup to the disk, whole or not at all, and lets the oldest go. */
  write(backup: LibraryBackup, reason: BackupReason): string {
    mkdirSync(this.folder, { recursive: true });
    const name = `${backup.savedAt.replaceAll(":", "-")}-${reason}.zip`;
    const part = join(this.folder, "writing.part");
    const file = openSync(part, "w");
    try {
      writeFileSync(file, packBackup(backup));
      fsyncSync(file);
    } finally {
      closeSync(file);
    }
    renameSync(part, join(this.folder, name));
    for (const old of this.list().slice(MOST_KEPT)) rmSync(join(this.folder, old.name));
    return name;
  }

  /** Writes the daily backup when the newest one is a day old and the library has changed since; says whether it did. */
  writeDaily(backup: LibraryBackup): boolean {
    const [newest] = this.list();
    if (backup.passages.length === 0) return false;
    if (newest && Date.parse(backup.savedAt) - Date.parse(newest.savedAt) < DAY_MS) return false;
    const last = newest && unpackBackup(this.read(newest.name)!);
    if (last?.ok && contentOf(last.value) === contentOf(backup)) return false;
    this.write(backup, "daily");
    return true;
  }
}

/** What a backup holds, apart from when it was saved and what was looked at. */
function contentOf({ instruments, players, passages }: LibraryBackup): string {
  const files = passages.map(({ openedAt: _openedAt, original, ...passage }) => ({ ...passage, original: original && [original.name, original.bytes.length] }));
  return canonical({ instruments, players, files });
}
