import type { Doubles, KeptBackup, Restored, RestorePreview } from "../../api/wire.ts";
import { type LibraryBackup, withinLimits } from "../../core/formats/backup/backup.ts";
import type { OpenDatabase } from "../database/open.ts";
import type { BackupFolder } from "./folder.ts";
import { previewOf, restore } from "./restore.ts";
import { snapshotOf } from "./snapshot.ts";

/** Backups of the library: taken, kept, looked into and brought back. */
export class Backups {
  constructor(
    private readonly database: Pick<OpenDatabase, "db" | "client">,
    private readonly folder: BackupFolder,
  ) {}

  /** The library as it is now. */
  async take(): Promise<LibraryBackup> {
    return withinLimits(await snapshotOf(this.database.client));
  }

  kept(): KeptBackup[] {
    return this.folder.list();
  }

  read(name: string): Uint8Array | null {
    return this.folder.read(name);
  }

  preview(backup: LibraryBackup): Promise<RestorePreview> {
    return previewOf(this.database.db, backup);
  }

  /** Brings a backup back; the library as it was is kept as a backup first. */
  async restore(backup: LibraryBackup, doubles: Doubles): Promise<Restored> {
    const before = await this.take();
    if (before.passages.length > 0 && changesSomething(await this.preview(backup), doubles)) this.folder.write(before, "restore");
    return restore(this.database.db, backup, doubles);
  }

  async writeDue(): Promise<boolean> {
    return this.folder.writeDue(await this.take());
  }
}

/** Whether a restore would do anything to what is here: one that does not is no reason for a backup. */
function changesSomething({ passages, newSetups }: RestorePreview, doubles: Doubles): boolean {
  return newSetups.length > 0 || passages.some(({ state }) => state === "new" || state === "binned" || (state === "double" && doubles !== "keep"));
}
