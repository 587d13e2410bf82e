import { createHash } from "node:crypto";
import { closeSync, existsSync, fsyncSync, mkdirSync, openSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { BackupReason, KeptBackup } from "../../api/wire.ts";
import { type BackedUpPassage, type LibraryBackup, packBackup, readBackup } from "../../core/formats/backup/backup.ts";
import type { OnProgress } from "../../core/formats/imported.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import { canonical } from "../canonical.ts";
import { syncDirectory } from "../database/sync-directory.ts";

const HOUR_MS = 60 * 60 * 1000;
const DAY_MS = 24 * HOUR_MS;
const NAME = /^(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)\.(\d{3})Z-(daily|migration|restore|asked)\.zip$/;

/** Backups stay by their age: one an hour for a day, one a day for two weeks, one a week for two months. */
const AGES = [
  { everyMs: HOUR_MS, forMs: DAY_MS },
  { everyMs: DAY_MS, forMs: 14 * DAY_MS },
  { everyMs: 7 * DAY_MS, forMs: 60 * DAY_MS },
] as const;
/** Of those written before a migration or a restore, or asked for, so many stay besides, and of any kind at least so many. */
const MOST_BEFORE = 5;
const FEWEST = 3;

export interface WriteOptions {
  reason: BackupReason;
  /** Nothing old goes: the library has lost something, and an old backup may be the only one that has it. */
  keepAll?: boolean;
  onProgress?: OnProgress;
}

/** The folder of backups that are written without being asked for, and a second one that gets the same where one is named. */
export class BackupFolder {
  constructor(
    private readonly folder: string,
    private readonly second: string | null = null,
  ) {}

  /** Where backups are written. */
  get places(): { folder: string; second: string | null } {
    return { folder: this.folder, second: this.second };
  }

  /** Whether the newest backup is an hour old; one from the future, of a clock that was wrong, keeps nothing from being written. */
  isDue(now: Date): boolean {
    const [newest] = this.list().filter(({ savedAt }) => Date.parse(savedAt) <= now.getTime());
    return !newest || now.getTime() - Date.parse(newest.savedAt) >= HOUR_MS;
  }

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

  /** Where the newest backup lies; null when there is none. */
  newest(): string | null {
    const [newest] = this.list();
    return newest ? join(this.folder, newest.name) : null;
  }

  /** A kept backup as it was written; null when there is none of that name. */
  read(name: string): Uint8Array | null {
    return this.list().some((kept) => kept.name === name) ? new Uint8Array(readFileSync(join(this.folder, name))) : null;
  }

  /** Writes a backup to the disk, whole or not at all, reads it back, and only then lets old ones go. */
  write(backup: Backup, { reason, keepAll = false, onProgress }: WriteOptions): string {
    const name = `${backup.savedAt.replaceAll(":", "-")}-${reason}.zip`;
    const sums: string[] = [];
    const bytes = packBackup({ ...backup, passages: summed(backup.passages, sums) });
    const read = sumOf(bytes, onProgress);
    if (!read.ok || read.value !== contentSum(backup, sums))
      throw new Error(`a backup could not be read back: ${read.ok ? "it holds something else" : read.faults[0]!.says}`);
    for (const folder of [this.folder, ...(this.second ? [this.second] : [])]) writeWhole(folder, name, bytes);
    if (keepAll) return name;
    for (const old of outlived(this.list(), Date.parse(backup.savedAt))) rmSync(join(this.folder, old.name));
    return name;
  }

  /** Writes a backup when the newest one is an hour old and the library has changed since; says whether it did. */
  writeDue(backup: Backup, options: Pick<WriteOptions, "keepAll"> = {}): boolean {
    if (!this.isDue(new Date(backup.savedAt))) return false;
    const sums = Array.from(backup.passages, passageSum);
    if (sums.length === 0) return false;
    const [newest] = this.list().filter(({ savedAt }) => savedAt <= backup.savedAt);
    const last = newest && sumOf(this.read(newest.name)!);
    if (last?.ok && last.value === contentSum(backup, sums)) return false;
    this.write(backup, { ...options, reason: "daily" });
    return true;
  }
}

/** A library whose passages can be gone through, more than once. */
type Backup = LibraryBackup<Iterable<BackedUpPassage>>;

function writeWhole(folder: string, name: string, bytes: Uint8Array): void {
  mkdirSync(folder, { recursive: true });
  const part = join(folder, "writing.part");
  const file = openSync(part, "w");
  try {
    writeFileSync(file, bytes);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
  if (!Buffer.from(bytes).equals(readFileSync(part))) throw new Error(`a backup could not be read back from ${folder}`);
  renameSync(part, join(folder, name));
  syncDirectory(folder);
}

/** Backups that nobody needs any more. Of every stretch of time the oldest is kept, so that what is kept grows old instead of being pushed out. */
export function outlived(kept: readonly KeptBackup[], nowMs: number): KeptBackup[] {
  const stays = new Set<KeptBackup>(kept.slice(0, FEWEST));
  for (const reason of ["migration", "restore", "asked"] as const)
    for (const one of kept.filter((other) => other.reason === reason).slice(0, MOST_BEFORE)) stays.add(one);
  for (const { everyMs, forMs } of AGES) {
    const oldestOf = new Map<number, KeptBackup>();
    for (const one of kept) {
      const at = Date.parse(one.savedAt);
      if (nowMs - at > forMs) continue;
      oldestOf.set(Math.floor(at / everyMs), one);
    }
    for (const one of oldestOf.values()) stays.add(one);
  }
  return kept.filter((one) => !stays.has(one));
}

/** A sum over what a backup holds, apart from when it was saved and what was looked at: of the setup, of what was practised, of recordings, and of every passage's sum. */
function contentSum({ instruments, players, practice, recordings }: Omit<Backup, "savedAt" | "passages">, passages: readonly string[]): string {
  const sounds = recordings.map(({ id, bytes }) => [id, createHash("md5").update(bytes).digest("hex")]).sort();
  return md5([canonical({ instruments, players, practice, sounds }), ...passages].join("\n"));
}

function passageSum({ openedAt: _openedAt, original, ...passage }: BackedUpPassage): string {
  return md5(canonical({ ...passage, original: original && [original.name, original.bytes.length] }));
}

/** Passages, the sum of each noted as it goes by. */
function* summed(passages: Iterable<BackedUpPassage>, sums: string[]): Generator<BackedUpPassage> {
  for (const passage of passages) {
    sums.push(passageSum(passage));
    yield passage;
  }
}

/** The same over a backup as it was written. */
function sumOf(bytes: Uint8Array, onProgress?: OnProgress): Parsed<string> {
  const passages: string[] = [];
  const read = readBackup(bytes, (passage) => passages.push(passageSum(passage)), onProgress);
  return read.ok ? { ok: true, value: contentSum(read.value, passages) } : read;
}

function md5(text: string): string {
  return createHash("md5").update(text).digest("hex");
}
