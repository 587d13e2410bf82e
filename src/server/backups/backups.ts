import { createHash } from "node:crypto";
import type { BackupReason, Doubles, KeptBackup, Restored, RestorePreview } from "../../api/wire.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import type { OpenDatabase } from "../database/database.ts";
import { Practice } from "../practice.ts";
import type { Recordings } from "../recordings.ts";
import type { JobOptions, WorkPool } from "../work/pool.ts";
import type { TaskResult } from "../work/tasks.ts";
import type { BackupFolder } from "./folder.ts";
import { changesSomething, previewOf, restore, type Verdicts } from "./restore.ts";
import type { ReadRows } from "./rows.ts";
import { type Snapshot, snapshotOf } from "./snapshot.ts";

/** Jobs take as long as they take; only one that hangs is ended. */
const LONGEST_JOB_MS = 10 * 60 * 1000;

/** Backups of somebody's library: taken, kept, looked into and brought back. Packing and reading is done by the pool. */
export class Backups {
  /** What the library was like when a backup was last written, or found not to be needed. */
  private lastLike: string | null = null;

  constructor(
    private readonly database: Pick<OpenDatabase, "db" | "client">,
    private readonly owner: string,
    private readonly folder: BackupFolder,
    private readonly pool: WorkPool,
    private readonly recordings: Recordings,
    /** Whether nothing of the library is lost: until then no backup goes, an old one may be the only one that has it. */
    private readonly isWhole: () => boolean = () => true,
  ) {}

  /** The library as it is now, as a zip; with as many recordings as one takes where they are asked for. */
  async take(job: JobOptions = {}, withRecordings = false): Promise<Uint8Array> {
    const rows = await this.snapshot(job.signal);
    return this.pool.run("packBackup", { rows, sounds: withRecordings ? this.recordings.folder : undefined }, { ...job, longestMs: LONGEST_JOB_MS });
  }

  kept(): KeptBackup[] {
    return this.folder.list();
  }

  read(name: string): Uint8Array | null {
    return this.folder.read(name);
  }

  /** Writes a backup into the folder; says under which name, and what is not in it: what could not be read, and how many recordings are too much. */
  async write(reason: BackupReason, job: JobOptions = {}, withRecordings = false): Promise<TaskResult<"writeBackup">> {
    const rows = await this.snapshot(job.signal);
    const order = { rows, ...this.folder.places, reason, keepAll: !this.isWhole(), sounds: withRecordings ? this.recordings.folder : undefined };
    return this.pool.run("writeBackup", order, { ...job, longestMs: LONGEST_JOB_MS });
  }

  /** What a backup would change; its faults where it cannot be read. */
  async preview(bytes: Uint8Array, job: JobOptions = {}): Promise<Parsed<RestorePreview>> {
    const read = await this.open(bytes, job);
    return read.ok
      ? { ok: true, value: { ...(await previewOf(this.database.db, this.owner, read.value)), newRecordings: this.newRecordings(read.value) } }
      : read;
  }

  /** Brings a backup back; the library as it was is kept as a backup first. */
  async restore(bytes: Uint8Array, doubles: Doubles, job: JobOptions = {}): Promise<Parsed<Restored>> {
    const read = await this.open(bytes, { signal: job.signal });
    if (!read.ok) return read;
    const verdicts: Verdicts = new Map();
    const before = await previewOf(this.database.db, this.owner, read.value, verdicts);
    if (changesSomething(before, doubles) && (await this.holdsSomething())) await this.write("restore", { signal: job.signal });
    const done = await restore(this.database.db, this.owner, read.value, doubles, job, verdicts);
    // Once their takes are there; stopped before, the same backup brings them another time.
    await this.recordings.bringBack(read.value.recordings, await new Practice(this.database.db, this.owner).takeIds());
    return { ok: true, value: done };
  }

  /** How many recordings of a backup would come: of its takes all those that are not here. */
  private newRecordings({ recordings }: ReadRows): number {
    return this.recordings.missing(recordings, new Set(recordings.map(({ id }) => id))).length;
  }

  /** Writes a backup when the newest one is an hour old and something has changed since; says whether it did, and what is not in it. */
  async writeDue(): Promise<{ written: boolean; leftOut: string[] }> {
    const like = await this.likeness();
    if (like === this.lastLike || !this.folder.isDue(new Date())) return { written: false, leftOut: [] };
    const rows = await this.snapshot();
    const written = await this.pool.run("writeDueBackup", { rows, ...this.folder.places, keepAll: !this.isWhole() }, { longestMs: LONGEST_JOB_MS });
    this.lastLike = like;
    return written;
  }

  private snapshot(signal?: AbortSignal): Promise<Snapshot> {
    return snapshotOf(this.database.client, this.owner, undefined, signal);
  }

  private open(bytes: Uint8Array, job: JobOptions): Promise<Parsed<ReadRows>> {
    return this.pool.run("readBackup", bytes, { ...job, longestMs: LONGEST_JOB_MS });
  }

  private async holdsSomething(): Promise<boolean> {
    const { rows } = await this.database.client.query<{ n: number }>("select count(*)::int as n from ledger where owner = $1", [this.owner]);
    return rows[0]!.n > 0;
  }

  /** A sum over everything that a backup would hold, without reading any of it. */
  private async likeness(): Promise<string> {
    const sum = createHash("md5");
    for (const query of [
      "select l.id, l.checksum, p.version, p.deleted_at from ledger l left join passages p on p.owner = l.owner and p.id = l.id where l.owner = $1 order by l.id",
      "select id, name, canonical, named, is_default from instruments where owner = $1 order by id",
      "select id, name, canonical, named, is_default from players where owner = $1 order by id",
      "select id, passage_id, figure, md5(record::text) as sum from practice_sessions where owner = $1 and staged is null order by id",
    ])
      sum.update(JSON.stringify((await this.database.client.query(query, [this.owner])).rows));
    return sum.digest("hex");
  }
}
