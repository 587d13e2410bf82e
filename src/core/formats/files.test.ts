import { zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { planPassage } from "../engine.ts";
import { line, passageOf } from "../test/build.ts";
import { demoPassages } from "../test/demos.ts";
import { readMutated } from "../test/mutated-files.ts";
import { extensionOf, readBytes, writeBytes } from "./files.ts";
import { WRITTEN } from "./written.ts";

const bytes = (text: string) => new TextEncoder().encode(text);
const faultOf = (file: Uint8Array) => {
  const read = readBytes(file);
  if (read.ok) throw new Error("was read");
  expect(read.faults).toHaveLength(1);
  return read.faults[0]!.says;
};

describe("files", () => {
  it("are known by their content, whatever their name", () => {
    for (const passage of demoPassages())
      for (const { extension } of WRITTEN) {
        if (extension === "csv" || extension === "svg") continue;
        const read = readBytes(writeBytes(passage, extension).bytes);
        if (!read.ok) expect.fail(`${passage.title} ${extension}: ${read.faults[0]!.says}`);
        expect(read.value.passage.title, extension).toBe(passage.title);
        expect(read.value.passage.bars.length, extension).toBeGreaterThan(0);
      }
  });

  it("a very long score stands on one staff, is not larger than what is read, and says so", () => {
    const chord = "6/3 5/2 4/0 3/0 2/0 1/3";
    const bars = (count: number) => passageOf(Array.from({ length: count }, () => line(8, new Array(8).fill(chord))));
    const long = writeBytes(bars(100), "musicxml");
    expect(long.remarks.map(({ says }) => says)).toEqual([expect.stringContaining("stands on its tablature alone")]);
    expect(readBytes(long.bytes).ok).toBe(true);
    expect(writeBytes(bars(1), "musicxml").remarks).toEqual([]);
  });

  it("the same passage is written as the same bytes", () => {
    const [passage] = demoPassages();
    for (const { extension } of WRITTEN) expect(writeBytes(passage!, extension)).toEqual(writeBytes(passage!, extension));
  });

  it("names ask for formats", () => {
    expect(["a.MusicXML", "a.xml", "b.mid", "c.tab", "d.json", "e.pdf"].map(extensionOf)).toEqual([
      "musicxml",
      "musicxml",
      "mid",
      "txt",
      "resthand.json",
      null,
    ]);
  });

  it("text of other encodings is read: a byte-order mark, UTF-16, Windows line ends", () => {
    const tab = new TextDecoder().decode(writeBytes(demoPassages()[0]!, "txt").bytes);
    const utf16 = Uint8Array.from([0xff, 0xfe, ...[...tab].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8])]);
    for (const file of [bytes(`\uFEFF${tab}`), utf16, bytes(tab.replaceAll("\n", "\r\n"))]) expect(readBytes(file).ok).toBe(true);
  });

  it("the plan as a table says what the plan says; what a spreadsheet would take for a formula it does not", () => {
    const passage = demoPassages()[0]!;
    const { steps } = planPassage(passage, { why: "nothing" });
    const rows = new TextDecoder().decode(writeBytes(passage, "csv").bytes).trim().split("\r\n").slice(1);
    expect(rows).toHaveLength(steps.length * 6);
    const strays = rows.filter((row) => row.split(",")[7] === "stray").length;
    expect(strays).toBe(steps.flatMap((step) => step.strings).filter((s) => s.state === "stray").length);
  });
});

describe("hostile files", () => {
  it("an archive that swells is refused before it is unpacked", () => {
    const bomb = zipSync({ "score.musicxml": new Uint8Array(40_000_000) });
    expect(bomb.length).toBeLessThan(200_000);
    expect(faultOf(bomb)).toMatch(/40 MB, more than the 8 MB/);
  });

  it("an archive that points outside itself holds no score", () => {
    const container = '<container><rootfiles><rootfile full-path="../../etc/passwd"/></rootfiles></container>';
    expect(faultOf(zipSync({ "META-INF/container.xml": bytes(container) }))).toMatch(/no score in the archive/);
  });

  it("what is larger than any score is refused by its size, what holds too much by its count", () => {
    expect(faultOf(new Uint8Array(50_000_000))).toMatch(/50 MB, more than the 8 MB/);
    expect(faultOf(bytes(`<score-partwise>${"<part><measure><note/></measure></part>".repeat(350_000)}</score-partwise>`))).not.toBe("");
  });

  it("random bytes are no music", () => {
    for (let seed = 1; seed < 50; seed++) expect(readBytes(Uint8Array.from({ length: 500 }, (_, i) => (seed * 7919 * (i + 3)) % 251)).ok).toBe(false);
  });

  it("five hundred damaged files are read or refused, never worse", () => {
    const { read, refused, broken } = readMutated(500, 7);
    expect(broken).toEqual([]);
    expect(read + refused).toBe(500);
    expect(refused).toBeGreaterThan(50);
    expect(read).toBeGreaterThan(50);
  });
});
