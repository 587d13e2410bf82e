import { closeSync, fsyncSync, openSync } from "node:fs";

/** A file that was renamed is there after a crash only once its directory has reached the disk too. */
export function syncDirectory(directory: string): void {
  // Windows opens no directories, and writes through.
  if (process.platform === "win32") return;
  const fd = openSync(directory, "r");
  try {
    fsyncSync(fd);
  } finally {
    closeSync(fd);
  }
}
