import { parentPort } from "node:worker_threads";
import { unpackBackup } from "../formats/backup/backup.ts";
import { readBytes, writeBytes } from "../formats/files.ts";
import { WRITTEN } from "../formats/written.ts";
import { LIMITS } from "../passage/limits.ts";
import { type Parsed, parsePassage } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { readWav } from "../sound/wav-read.ts";
import { type AbsurdFormat, absurdFile } from "./absurd-files.ts";
import { HOSTILE } from "./hostile-files.ts";

export type Asked = { kind: "hostile"; index: number; size: number } | { kind: "absurd"; format: AbsurdFormat; from: number; count: number };

export interface HostileRead {
  /** What must never be. */
  broken: string | null;
  faults: number;
  says: string[];
  /** How long reading took, and the most memory of the process meanwhile. */
  ms: number;
  megabytes: number;
}

export interface AbsurdRead {
  broken: string[];
  read: number;
  refused: number;
  slowestMs: number;
}

/** One in so many of what was read is written in every format too. */
const WRITTEN_EVERY = 10;

function hostile(index: number, size: number): HostileRead {
  const bytes = HOSTILE[index]!.file(size);
  const begun = performance.now();
  const { rss } = process.memoryUsage();
  const { broken, says } = readOne(() => readBytes(bytes));
  return { broken, faults: says.length, says, ms: performance.now() - begun, megabytes: (process.memoryUsage().rss - rss) / 1e6 };
}

function absurd(format: AbsurdFormat, from: number, count: number): AbsurdRead {
  const result: AbsurdRead = { broken: [], read: 0, refused: 0, slowestMs: 0 };
  for (let seed = from; seed < from + count; seed++) {
    const bytes = absurdFile(format, seed);
    const begun = performance.now();
    const { broken, says, passage } = readOne(() => READERS[format](bytes));
    if (broken !== null) result.broken.push(`${format} ${seed}: ${broken}`);
    if (says.length > 0) result.refused++;
    else result.read++;
    if (passage && seed % WRITTEN_EVERY === 0)
      for (const { extension } of WRITTEN) {
        const fault = thrownBy(() => writeBytes(passage, extension));
        if (fault !== null) result.broken.push(`${format} ${seed} as ${extension}: ${fault}`);
      }
    result.slowestMs = Math.max(result.slowestMs, performance.now() - begun);
  }
  return result;
}

const READERS: Readonly<Record<AbsurdFormat, (bytes: Uint8Array) => Parsed<unknown>>> = {
  ...{ document: readBytes, musicxml: readBytes, mxl: readBytes, midi: readBytes, tab: readBytes },
  backup: unpackBackup,
  sound(bytes) {
    const read = readWav(bytes);
    if (read.ok && !read.value.samples.every(Number.isFinite)) throw new Error("samples that are no numbers");
    return read;
  },
};

/** What a reader says; broken is an exception, a refusal without words, or a passage that is none or cannot be kept. */
function readOne(read: () => Parsed<unknown>): { broken: string | null; says: string[]; passage: Passage | null } {
  let result: Parsed<unknown>;
  try {
    result = read();
  } catch (error) {
    return { broken: (error as Error).stack ?? String(error), says: [], passage: null };
  }
  if (!result.ok) {
    const isMute = result.faults.length === 0 || result.faults.some(({ place, says }) => place === "" || says === "");
    return { broken: isMute ? "refused without words" : null, says: result.faults.map(({ place, says }) => `${place}: ${says}`), passage: null };
  }
  const passage = (result.value as { passage?: Passage }).passage ?? null;
  if (passage === null) return { broken: null, says: [], passage };
  const text = JSON.stringify(passage);
  const broken = !parsePassage(JSON.parse(text)).ok ? "read as what is no passage" : text.length > LIMITS.kept.most ? "read, and cannot be kept" : null;
  return { broken, says: [], passage };
}

function thrownBy(work: () => void): string | null {
  try {
    work();
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

parentPort!.on("message", (asked: Asked) => {
  parentPort!.postMessage(asked.kind === "hostile" ? hostile(asked.index, asked.size) : absurd(asked.format, asked.from, asked.count));
});
