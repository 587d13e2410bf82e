import { planPassage } from "../engine.ts";
import { refusedBeyond } from "../passage/limits.ts";
import type { Fault, Parsed } from "../passage/parse.ts";
import type { Passage } from "../passage/schema.ts";
import { writeCsv } from "./csv.ts";
import type { Imported, OnProgress } from "./imported.ts";
import type { MidiGrid } from "./midi/grids.ts";
import { readMidi } from "./midi/read.ts";
import { writeMidi } from "./midi/write.ts";
import { packScore, unpackScore } from "./musicxml/archive.ts";
import { readMusicXml } from "./musicxml/read.ts";
import { writeMusicXml } from "./musicxml/write.ts";
import { isDocument, readPassage } from "./read.ts";
import { sheetSvg } from "./sheet/sheet.ts";
import { writeTab } from "./tab/write.ts";
import { type Extension, type Staves, WRITTEN } from "./written.ts";

export interface FileOptions {
  /** Which part or voice of a file that has several, counted from 0. */
  part?: number | undefined;
  /** Grid for the moments of a MIDI file. */
  grid?: MidiGrid | undefined;
  /** Called now and then with how many of the moments have found their place on the neck: what takes long in a long file. */
  onProgress?: OnProgress | undefined;
}

export interface FileRead extends Imported {
  format: "document" | "tab" | "musicxml" | "midi";
  /** Parts or voices to choose from, when there are several. */
  parts: string[];
}

/** Reads a passage from a file of any readable format, known by its content. What it gives can be kept in the library. */
export function readBytes(bytes: Uint8Array, options: FileOptions = {}): Parsed<FileRead> {
  const read = refusedBeyond("score", bytes.length) ?? readAny(bytes, options);
  if (!read.ok) return read;
  return refusedBeyond("kept", JSON.stringify(read.value.passage).length) ?? read;
}

function readAny(bytes: Uint8Array, { part, grid, onProgress }: FileOptions): Parsed<FileRead> {
  const head = String.fromCharCode(...bytes.subarray(0, 4));
  if (head === "MThd") {
    const read = readMidi(bytes, { voice: part, grid, onProgress });
    return read.ok ? { ok: true, value: { ...read.value, parts: read.value.voices, format: "midi" } } : read;
  }
  const score = (text: string): Parsed<FileRead> => {
    const read = readMusicXml(text, { part, onProgress });
    return read.ok ? { ok: true, value: { ...read.value, format: "musicxml" } } : read;
  };
  if (head.startsWith("PK")) {
    const unpacked = unpackScore(bytes);
    return unpacked.ok ? score(unpacked.value) : unpacked;
  }
  const text = decoded(bytes);
  if (text === null) return fault("this is not text, a score or MIDI");
  if (/^\s*<[?!a-z]/i.test(text)) return score(text);
  const read = readPassage(text, { part });
  return read.ok ? { ok: true, value: { ...read.value, format: isDocument(text) ? "document" : "tab" } } : read;
}

/** UTF-8, or UTF-16 by its mark; null for what holds bytes that no text has. */
function decoded(bytes: Uint8Array): string | null {
  const encoding = bytes[0] === 0xff && bytes[1] === 0xfe ? "utf-16le" : bytes[0] === 0xfe && bytes[1] === 0xff ? "utf-16be" : "utf-8";
  const text = new TextDecoder(encoding).decode(bytes);
  return text.includes("\0") ? null : text;
}

function fault(says: string): Parsed<never> {
  return { ok: false, faults: [{ place: "file", says }] };
}

/** Notes: a score of more on two staves is larger than any that is read here. */
const MOST_ON_TWO_STAVES = 4_000;

export interface WriteFileOptions {
  withPlan?: boolean;
  /** Of a score. */
  staves?: Staves;
}

/** Writes a passage as a file; remarks name what the format cannot hold. `withPlan` puts each hand's words into a score. */
export function writeBytes(
  passage: Passage,
  extension: Extension,
  { withPlan = false, staves = "both" }: WriteFileOptions = {},
): { bytes: Uint8Array; remarks: Fault[] } {
  const text = (content: string, remarks: Fault[] = []) => ({ bytes: new TextEncoder().encode(content), remarks });
  const plan = () => planPassage(passage, { why: "nothing" });
  switch (extension) {
    case "resthand.json":
      return text(`${JSON.stringify(passage, null, 2)}\n`);
    case "musicxml":
    case "mxl": {
      const isLong = passage.bars.reduce((sum, bar) => sum + bar.strokes.reduce((own, stroke) => own + stroke.notes.length, 0), 0) > MOST_ON_TWO_STAVES;
      const written = writeMusicXml(passage, withPlan ? plan() : undefined, isLong && staves === "both" ? "tab" : staves);
      if (isLong && staves === "both")
        written.remarks.push({
          place: "score",
          says: "so long a score stands on its tablature alone: on two staves it would be larger than what is read here",
        });
      return extension === "mxl" ? { bytes: packScore(written.text), remarks: written.remarks } : text(written.text, written.remarks);
    }
    case "mid":
      return writeMidi(passage);
    case "txt": {
      const written = writeTab(passage);
      return text(written.text, written.remarks);
    }
    case "csv":
      return text(writeCsv(passage, plan()));
    case "svg":
      return text(sheetSvg(passage, plan()));
  }
}

/** The format that a file name asks for; null for one that is not written. */
export function extensionOf(name: string): Extension | null {
  const lower = name.toLowerCase();
  if (lower.endsWith(".json")) return "resthand.json";
  if (lower.endsWith(".xml")) return "musicxml";
  if (lower.endsWith(".tab")) return "txt";
  return WRITTEN.find(({ extension }) => lower.endsWith(`.${extension}`))?.extension ?? null;
}
