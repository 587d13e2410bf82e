import type { MessagePort } from "node:worker_threads";
import type { NextStep } from "../../api/wire.ts";
import type { Limits } from "../../core/document/plan.ts";
import type { Try, Turns } from "../../core/drills/types.ts";
import type { FileOptions, FileRead, WriteFileOptions } from "../../core/formats/files.ts";
import type { OnProgress } from "../../core/formats/imported.ts";
import type { Extension } from "../../core/formats/written.ts";
import { refusedBeyond } from "../../core/passage/limits.ts";
import { type Fault, type Parsed, parsePassageText } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { PlanSummary } from "../../core/summary.ts";
import { BackupFolder, type WriteOptions } from "../backups/folder.ts";
import { type LibraryRows, libraryOf, packRows, readDocument, readRows, type StoredTexts } from "../backups/rows.ts";
import type { Snapshot } from "../backups/snapshot.ts";
import { recordingsIn } from "../backups/sounds.ts";
import { ownThread } from "./thread-time.ts";

/* Everything whose length depends on what somebody sent, done in a thread that can be ended: nothing here is done by the server itself. */

/** Minutes of a session whose first drill is the next step. */
const FIRST_MINUTES = 10;

const TASKS = {
  /** The text of a passage document, as it is saved. */
  readPassage(text: string): Parsed<Passage> {
    const read = parsePassageText(text);
    return (read.ok && refusedBeyond("kept", JSON.stringify(read.value).length, "/")) || read;
  },
  /** The first fault of each passage as it is stored; null where there is none. */
  checkPassages: (passages: readonly StoredTexts[]): (Fault | null)[] =>
    passages.map(({ document, instrument, player }) => {
      const read = readDocument(document, instrument, player);
      return read.ok ? null : read.faults[0]!;
    }),
  // Readers and the engine are fetched when they are first needed: a fresh thread takes a save at once.
  async readFile({ bytes, options }: { bytes: Uint8Array; options: Omit<FileOptions, "onProgress"> }): Promise<Parsed<FileRead>> {
    return (await import("../../core/formats/files.ts")).readBytes(bytes, options);
  },
  async writeFile({ passage, extension, ...options }: { passage: Passage; extension: Extension } & WriteFileOptions): Promise<Uint8Array> {
    return (await import("../../core/formats/files.ts")).writeBytes(passage, extension, options).bytes;
  },
  async summary(passage: Passage): Promise<PlanSummary> {
    return (await import("../../core/summary.ts")).summaryOf(passage);
  },
  async limits(passage: Passage): Promise<Limits> {
    const { finished, limits } = await import("../../core/engine.ts");
    return finished(limits(passage));
  },
  async firstDrill({ passage, history, ...turns }: { passage: Passage; history: Try[] } & Turns): Promise<NextStep> {
    const [{ planPassage }, { drillsOf }] = await Promise.all([import("../../core/engine.ts"), import("../../core/drills/drills.ts")]);
    const [first] = drillsOf(planPassage(passage, { why: "nothing", pinPrices: false }), passage, history, FIRST_MINUTES, turns).drills;
    return first ? { title: first.title, tempo: first.tempo.start, goal: first.tempo.goal } : null;
  },
  /** Recordings come along where their folder is named. */
  packBackup: ({ rows, sounds }: { rows: LibraryRows; sounds?: string | undefined }, onProgress: OnProgress): Uint8Array =>
    packRows({ ...rows, recordings: sounds === undefined ? [] : recordingsIn(sounds).recordings }, onProgress),
  readBackup: (bytes: Uint8Array, onProgress: OnProgress) => readRows(bytes, onProgress),
  writeBackup({ rows, folder, second, sounds, ...options }: BackupOrder & WriteOptions & { sounds?: string | undefined }, onProgress: OnProgress) {
    const { library, unreadable } = libraryOf(rows);
    const { recordings, left } = sounds === undefined ? { recordings: [], left: 0 } : recordingsIn(sounds);
    const name = new BackupFolder(folder, second).write({ ...library, recordings }, { ...options, onProgress });
    return { name, leftOut: [...rows.unread, ...unreadable], recordingsLeft: left };
  },
  writeDueBackup({ rows, folder, second, ...options }: BackupOrder & Pick<WriteOptions, "keepAll">) {
    const { library, unreadable } = libraryOf(rows);
    const written = new BackupFolder(folder, second).writeDue(library, options);
    return { written, leftOut: [...rows.unread, ...unreadable] };
  },
} as const;

/** A library, and the folders that get its backup. */
interface BackupOrder {
  rows: Snapshot;
  folder: string;
  second: string | null;
}

export type TaskName = keyof typeof TASKS;
export type TaskInput<K extends TaskName> = Parameters<(typeof TASKS)[K]>[0];
export type TaskResult<K extends TaskName> = Awaited<ReturnType<(typeof TASKS)[K]>>;

export interface Ordered {
  name: TaskName;
  input: unknown;
  /** Where it is told how far a task is; it begins with the task. */
  port: MessagePort;
}

const THREAD = ownThread();

/** Not oftener than that is it said how far a task is, in ms. */
const SAID_EVERY_MS = 100;

export function run({ name, input, port }: Ordered): unknown {
  port.postMessage({ begun: THREAD });
  let said = 0;
  const onProgress: OnProgress = (done, of) => {
    const now = performance.now();
    if (now - said < SAID_EVERY_MS) return;
    said = now;
    port.postMessage({ done, of });
  };
  return (TASKS[name] as (input: unknown, onProgress: OnProgress) => unknown)(input, onProgress);
}
