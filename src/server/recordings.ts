import { randomUUID } from "node:crypto";
import { createWriteStream, mkdirSync, rmSync, statSync } from "node:fs";
import { open, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import { type Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { KeptRecording } from "../core/formats/backup/backup.ts";
import { beyond } from "../core/passage/limits.ts";
import { filesIn, namesIn } from "./backups/sounds.ts";
import { syncDirectory } from "./database/sync-directory.ts";
import { Refusal } from "./problems.ts";

const HEAD_BYTES = 12;
const PART = ".part";

/** The sound of takes that somebody asked to keep: WAV files beside the database, each called by its take's id. */
export class Recordings {
  constructor(readonly folder: string) {}

  /** Every recording and its size in bytes. */
  list(): { id: string; bytes: number }[] {
    return namesIn(this.folder).map((id) => ({ id, bytes: statSync(this.placeOf(id)).size }));
  }

  /** Where a recording lies; null when there is none. */
  find(id: string): string | null {
    return namesIn(this.folder).includes(id) ? this.placeOf(id) : null;
  }

  /** Keeps a recording as it comes in, whole or not at all; says how many bytes it has. Refuses what is no WAV file or too much. */
  async keep(id: string, sound: Readable): Promise<number> {
    mkdirSync(this.folder, { recursive: true });
    const part = this.partOf(id);
    try {
      await pipeline(sound, checked(), createWriteStream(part, { flush: true }));
      await rename(part, this.placeOf(id));
    } catch (error) {
      await rm(part, { force: true });
      throw (error as NodeJS.ErrnoException).code === "ENOSPC"
        ? new Refusal({ status: 507, title: "No room for this recording", detail: "The disk is full. Its figures are kept." })
        : error;
    }
    syncDirectory(this.folder);
    return (await stat(this.placeOf(id))).size;
  }

  /** Brings recordings back that are not here; says how many. */
  async bringBack(recordings: readonly KeptRecording[], wanted: ReadonlySet<string>): Promise<number> {
    const missing = this.missing(recordings, wanted);
    if (missing.length > 0) mkdirSync(this.folder, { recursive: true });
    for (const { id, bytes } of missing) {
      const part = this.partOf(id);
      const file = await open(part, "w");
      try {
        await file.writeFile(bytes);
        await file.sync();
      } finally {
        await file.close();
      }
      await rename(part, this.placeOf(id));
    }
    if (missing.length > 0) syncDirectory(this.folder);
    return missing.length;
  }

  /** Those of takes that are here, and are not here themselves. */
  missing(recordings: readonly KeptRecording[], wanted: ReadonlySet<string>): KeptRecording[] {
    const here = new Set(namesIn(this.folder));
    return recordings.filter(({ id }) => wanted.has(id) && !here.has(id));
  }

  /** False when there is none. */
  remove(id: string): boolean {
    const place = this.find(id);
    if (place) rmSync(place);
    return place !== null;
  }

  /** Removes those of takes that are gone. Of what else is here nothing goes: a log that was damaged costs no recording. */
  removeOf(takes: Iterable<string>): void {
    for (const id of takes) this.remove(id);
  }

  /** Removes what was on its way when a server was killed. */
  sweep(): void {
    for (const name of filesIn(this.folder)) if (name.endsWith(PART)) rmSync(join(this.folder, name));
  }

  /** Two that come in for one take at once have a file each. */
  private partOf(id: string): string {
    return `${this.placeOf(id)}.${randomUUID()}${PART}`;
  }

  private placeOf(id: string): string {
    return join(this.folder, `${id}.wav`);
  }
}

/** Lets a WAV file by, as long as one may be. */
function checked(): Transform {
  let bytes = 0;
  let head = Buffer.alloc(0);
  const fault = () => (isWav(head) ? null : new Refusal({ status: 422, title: "Not a recording", detail: "A recording is a WAV file." }));
  return new Transform({
    transform(piece: Buffer, _encoding, done) {
      bytes += piece.length;
      const wasShort = head.length < HEAD_BYTES;
      if (wasShort) head = Buffer.concat([head, piece.subarray(0, HEAD_BYTES - head.length)]);
      const tooMuch = beyond("recording", bytes);
      if (tooMuch !== null) done(new Refusal({ status: 413, title: "Too long", detail: `It is ${tooMuch}.` }));
      else done(wasShort && head.length === HEAD_BYTES ? fault() : null, piece);
    },
    flush: (done) => done(fault()),
  });
}

function isWav(head: Buffer): boolean {
  return head.length === HEAD_BYTES && head.toString("latin1", 0, 4) === "RIFF" && head.toString("latin1", 8, 12) === "WAVE";
}
