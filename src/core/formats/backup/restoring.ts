/** What the server tells of backups, and the page asks. */

/** Why a backup was written. */
export type BackupReason = "daily" | "migration" | "restore";

export interface KeptBackup {
  name: string;
  savedAt: string;
  reason: BackupReason;
  bytes: number;
}

/** What is done with a passage that is here and in the backup, but not the same. */
export type Doubles = "keep" | "replace" | "both";

/** What a restore would do with a passage of the backup. */
export interface RestoreItem {
  id: string;
  title: string;
  /** `new`: not here; `same`: here already; `binned`: here, but in the bin; `double`: here with another content. */
  state: "new" | "same" | "binned" | "double";
  /** Whether it lies in the bin in the backup. */
  inBin: boolean;
  updatedAt: string;
  /** The one that is here, for doubles. */
  here: { title: string; updatedAt: string; inBin: boolean } | null;
}

export interface RestorePreview {
  savedAt: string;
  passages: RestoreItem[];
  /** Named instruments and players that are not here yet. */
  newSetups: string[];
}

export interface Restored {
  added: number;
  replaced: number;
  leftAsTheyAre: number;
}
