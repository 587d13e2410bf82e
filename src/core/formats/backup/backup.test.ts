import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { practiceOf } from "../../test/practice-sessions.ts";
import { randomPassage } from "../../test/random-passages.ts";
import { readBytes } from "../files.ts";
import { type BackedUpPassage, type LibraryBackup, packBackup, unpackBackup, withinLimits } from "./backup.ts";

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const AT = "2026-03-01T10:00:00.000Z";

function library(count: number): LibraryBackup {
  const passages = Array.from({ length: count }, (_, i): BackedUpPassage => {
    const original = i % 2 === 0 ? { name: `Take ${i}.MID`, bytes: new Uint8Array([77, i, 0, 255]) } : null;
    const moments = { createdAt: AT, updatedAt: AT, openedAt: i % 3 === 0 ? AT : null, deletedAt: i % 4 === 0 ? AT : null };
    return { id: id(i), version: i + 1, ...moments, instrument: id(1000 + i), player: id(2000), passage: randomPassage(i + 1, 4), original };
  });
  return {
    savedAt: AT,
    instruments: passages.map(({ instrument, passage }) => ({
      id: instrument,
      name: "One",
      value: passage.instrument,
      named: true,
      isDefault: false,
      createdAt: AT,
    })),
    players: [{ id: id(2000), name: "Me", value: passages[0]!.passage.player, named: true, isDefault: true, createdAt: AT }],
    passages,
    practice: passages.slice(0, 2).map((passage, n) => practiceOf(n, { passage: passage.id }, AT, { a: [60, -62] })),
    recordings: [],
  };
}

/** A backup with one of its files changed or taken out. */
function altered(change: (files: Record<string, Uint8Array>) => void): Uint8Array {
  const files = unzipSync(packBackup(library(3)));
  change(files);
  return zipSync(files);
}

const placesOf = (bytes: Uint8Array) => {
  const read = unpackBackup(bytes);
  return read.ok ? [] : read.faults.map(({ place, says }) => `${place}: ${says}`);
};

describe("a library's backup", () => {
  it("gives back all it was given", () => {
    const before = library(30);
    const read = unpackBackup(packBackup(before));
    expect(read).toEqual({ ok: true, value: before });
  });
  it("takes as many original files as can be read back, those of what was changed last first; passages are whole", () => {
    const before = library(9);
    before.passages.forEach((passage, i) => {
      passage.updatedAt = `2026-03-0${i + 1}T10:00:00.000Z`;
    });
    const kept = withinLimits(before, 9);
    expect(kept.passages.map(({ passage }) => passage)).toEqual(before.passages.map(({ passage }) => passage));
    // Of five files with four bytes each there is room for two.
    expect(kept.passages.flatMap(({ original }, i) => (original ? [i] : []))).toEqual([6, 8]);
    expect(unpackBackup(packBackup(kept))).toEqual({ ok: true, value: kept });
    expect(withinLimits(before)).toBe(before);
  });
  it("is a zip of open files: every passage is a document that can be read by itself, every original as it was", () => {
    const before = library(3);
    const files = unzipSync(packBackup(before));
    const documents = Object.keys(files).filter((name) => name.endsWith(".resthand.json"));
    expect(documents).toHaveLength(3);
    expect(documents.map((name) => JSON.parse(strFromU8(files[name]!)))).toEqual(before.passages.map(({ passage }) => passage));
    expect(files[`originals/${id(0)}.MID`]).toEqual(before.passages[0]!.original!.bytes);
  });
  it("an empty library has one too", () => {
    const empty = { savedAt: AT, instruments: [], players: [], passages: [], practice: [], recordings: [] };
    expect(unpackBackup(packBackup(empty))).toEqual({ ok: true, value: empty });
  });
  it("a passage that does not hold refuses the whole, with its file and place", () => {
    const bytes = altered((files) => {
      const name = Object.keys(files).find((file) => file.startsWith("passages/"))!;
      files[name] = strToU8(strFromU8(files[name]!).replace(/"tempo": \d+/, '"tempo": 4000'));
    });
    expect(placesOf(bytes)).toEqual([expect.stringMatching(/^passages\/.*\.resthand\.json, \/tempo: /)]);
  });
  it("missing files, unknown instruments, another kind of archive and newer versions are reported", () => {
    const list = (change: (list: { version: number; passages: { instrument: string }[] }) => void) =>
      altered((files) => {
        const now = JSON.parse(strFromU8(files["library.json"]!));
        change(now);
        files["library.json"] = strToU8(JSON.stringify(now));
      });
    const without = (start: string) => altered((files) => delete files[Object.keys(files).find((file) => file.startsWith(start))!]);
    expect(placesOf(without("passages/"))[0]).toMatch(/^passages\/.* missing from the backup$/);
    expect(placesOf(without("originals/"))[0]).toMatch(/^originals\/.* missing from the backup$/);
    expect(placesOf(without("practice.json"))).toEqual(["practice.json: the file is missing from the backup"]);
    expect(placesOf(without("library.json"))).toEqual(["file: this is not a backup of a library: it holds no library.json"]);
    expect(placesOf(list((now) => (now.passages[1]!.instrument = id(77))))[0]).toMatch(/\/passages\/1\/instrument: there is no such instrument/);
    expect(placesOf(list((now) => (now.version = 3)))[0]).toMatch(/version 3 is newer/);
    expect(placesOf(strToU8("PK and nothing more"))[0]).toMatch(/cannot be unpacked/);
    expect(placesOf(altered((files) => (files["library.json"] = strToU8("["))))[0]).toMatch(/library.json: this is not JSON/);
  });
  it("of before there was a log is read as one in which nothing was practised", () => {
    const old = altered((files) => {
      delete files["practice.json"];
      files["library.json"] = strToU8(strFromU8(files["library.json"]!).replace('"version": 2', '"version": 1'));
    });
    const read = unpackBackup(old);
    expect(read.ok && read.value.practice).toEqual([]);
    expect(read.ok && read.value.passages).toHaveLength(3);
  });
  it("opened as a score it is called what it is", () => {
    const read = readBytes(packBackup(library(1)));
    expect(read.ok ? "" : read.faults[0]!.says).toMatch(/backup of a library: bring it back under Backup/);
  });
  it("an archive that swells is refused before it is unpacked", () => {
    const bomb = packBackup(library(1));
    const view = new DataView(bomb.buffer, bomb.byteOffset);
    // The archive's own list says how large each file becomes: here the first one claims two gigabytes.
    const entry = bomb.findIndex((_, i) => i + 4 <= bomb.length && view.getUint32(i, true) === 0x02014b50);
    view.setUint32(entry + 24, 2_000_000_000, true);
    expect(placesOf(bomb)[0]).toMatch(/more than the 500 MB/);
  });
});
