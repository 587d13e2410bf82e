import { describe, expect, it } from "vitest";
import { planPassage } from "../../engine.ts";
import { ticksOf } from "../../music/ticks.ts";
import type { Imported } from "../imported.ts";
import { readTab } from "./read.ts";

const ok = (text: string): Imported => {
  const read = readTab(text);
  if (!read.ok) throw new Error(read.faults.map((f) => `${f.place}: ${f.says}`).join("; "));
  return read.value;
};
const faults = (text: string) => {
  const read = readTab(text);
  return read.ok ? [] : read.faults.map((f) => `${f.place}: ${f.says}`);
};
const flat = ({ passage }: Imported) =>
  passage.bars.map((bar) =>
    bar.strokes
      .map(
        (s) =>
          `${s.at}:${s.as ?? ""}${s.notes.map((n) => `${n.string}/${n.fret}${n.tone?.[0] ?? ""}${n.from?.[0] ?? ""}`).join("+")}${s.strings?.join("") ?? ""}`,
      )
      .join(" "),
  );

const six = (...lines: string[]) => ["e", "B", "G", "D", "A", "E"].map((name, i) => `${name}|${lines[i]}|`).join("\n");
const EMPTY = "----------------";

describe("reading plain-text tablature", () => {
  it("reads places from even spacing and says that it did", () => {
    const read = ok(six(EMPTY, EMPTY, EMPTY, EMPTY, "3---5---x---7---", EMPTY));
    expect(flat(read)).toEqual(["0:5/3 1/4:5/5 1/2:ghost5 3/4:5/7"]);
    expect(read.remarks.some((r) => r.says.includes("column spacing"))).toBe(true);
  });
  it("allows a dash of padding after the bar line", () => {
    expect(flat(ok(six(`-${EMPTY}`, `-${EMPTY}`, `-${EMPTY}`, "-5-7-5-7-5-7-5-7-", `-${EMPTY}`, `-${EMPTY}`)))[0]).toBe(
      "0:4/5 1/8:4/7 1/4:4/5 3/8:4/7 1/2:4/5 5/8:4/7 3/4:4/5 7/8:4/7",
    );
  });
  it("takes the rhythm from a count line where there is one", () => {
    const text = `${six("----------", "----------", "----------", "----------", "3--3-5--7-", "----------")}\n  1  & 2  4 `;
    const read = ok(text);
    expect(flat(read)).toEqual(["0:5/3 1/8:5/3 1/4:5/5 3/4:5/7"]);
    expect(read.remarks.some((r) => r.says.includes("column spacing"))).toBe(false);
  });
  it("reads slurs, slides, vibrato, two-digit frets, brackets and x in chords", () => {
    const read = ok(six(EMPTY, EMPTY, EMPTY, "5h7-12p10-7/9~--", "x---------------", EMPTY));
    const notes = read.passage.bars[0]!.strokes.flatMap((s) => s.notes);
    expect(notes.map((n) => [n.fret, n.from ?? "stroke"])).toEqual([
      [5, "stroke"],
      [0, "stroke"],
      [7, "hammer"],
      [12, "stroke"],
      [10, "pull"],
      [7, "stroke"],
      [9, "slide"],
    ]);
    expect(notes.at(-1)!.vibrato).toBe(true);
    expect(notes[1]).toMatchObject({ string: 5, tone: "ghost" });
  });
  it("palm-mutes what stands under a PM span", () => {
    const read = ok(`  PM------|\n${six(EMPTY, EMPTY, EMPTY, EMPTY, EMPTY, "0-0-0-0-0---3---")}`);
    expect(read.passage.bars[0]!.strokes.map((s) => s.notes[0]!.tone ?? "open")).toEqual(["palm", "palm", "palm", "palm", "palm", "open"]);
  });
  it("reads a stroke line of D and U", () => {
    const read = ok(`${six(EMPTY, EMPTY, EMPTY, EMPTY, "5---5---5---5---", EMPTY)}\n  D   U   D   U`);
    expect(read.passage.bars[0]!.strokes.map((s) => s.stroke)).toEqual(["down", "up", "down", "up"]);
  });
  it("joins several staves, keeps the title and the tempo, and knows 4, 5, 7 and 8 strings", () => {
    const bass =
      "Deck drill\n112 bpm\n\nG|----------------|\nD|----------------|\nA|----3-------3---|\nE|3-------5-------|\n\nG|--------5-------|\nD|----5-----------|\nA|----------------|\nE|3---------------|\n";
    const read = ok(bass);
    expect(read.passage).toMatchObject({ title: "Deck drill", tempo: 112, instrument: { kind: "electric-bass" } });
    expect(read.passage.bars).toHaveLength(2);
    for (const count of [4, 5, 6, 7, 8]) {
      const text = Array.from({ length: count }, () => `|${EMPTY}|`)
        .join("\n")
        .replace("|-", "|5");
      expect(ok(text).passage.instrument.tuning).toHaveLength(count);
    }
  });
  it("tunes by the labels: a low D is a D2, not a D3", () => {
    const text = ["e", "B", "G", "D", "A", "D"].map((n) => `${n}|${EMPTY}|`).join("\n");
    expect(ok(text).passage.instrument.tuning).toEqual(["E4", "B3", "G3", "D3", "A2", "D2"]);
  });
  it("survives Windows line ends, tabs and a byte-order mark", () => {
    const text = `\uFEFF${six(EMPTY, EMPTY, EMPTY, EMPTY, "3---5---x---7---", EMPTY).replaceAll("\n", "\r\n")}`;
    expect(flat(ok(text))).toEqual(["0:5/3 1/4:5/5 1/2:ghost5 3/4:5/7"]);
  });
  it("gives a passage that can be planned", () => {
    const { passage } = ok(six(EMPTY, EMPTY, EMPTY, "--------5---7---", "3---5-----------", EMPTY));
    expect(planPassage(passage).steps.length).toBeGreaterThan(3);
  });
  it("lists signs it does not know with line and column", () => {
    const read = ok(six(EMPTY, EMPTY, EMPTY, EMPTY, "3-------5---^---", EMPTY));
    expect(read.remarks).toContainEqual({ place: "line 5, column 15", says: 'the sign "^" was not understood' });
  });
});

describe("bad tablature", () => {
  it("names line and fault", () => {
    expect(faults("hello\nthere")).toEqual(["line 1: no tablature found: a stave is 4 to 8 lines of dashes, one a string"]);
    expect(faults(`e|${EMPTY}|\nB|${EMPTY}|`)[0]).toMatch(/^line 1: a stave of 2 string lines/);
    expect(faults(`${six(EMPTY, EMPTY, EMPTY, EMPTY, EMPTY, EMPTY)}\n\nG|${EMPTY}|\nD|${EMPTY}|\nA|${EMPTY}|\nE|${EMPTY}|`)[0]).toMatch(
      /^line 8: this stave has 4 strings, the first one 6/,
    );
    expect(faults(six(EMPTY, EMPTY, "--------|-------", EMPTY, EMPTY, EMPTY))[0]).toMatch(/^line \d+, column \d+: the bar lines/);
  });
});

it("a line of a hundred thousand blanks is read in one go, not in every way that blanks can be shared out", () => {
  const blanks = " ".repeat(100_000);
  const stave = ["E", "B", "G", "D", "A", "E"].map((name) => `${name}|-3-------5-------|`).join("\n");
  const read = readTab(`${blanks}!\nE${blanks}!\n${stave}\n`);
  expect(read.ok && read.value.passage.bars[0]!.strokes).toHaveLength(2);
});

it("never puts two strokes at one place however odd the spacing", () => {
  for (let seed = 0; seed < 60; seed++) {
    const body = Array.from({ length: 13 + (seed % 9) }, (_, i) => ((i * 7 + seed * 3) % 5 < 2 ? String((i + seed) % 10) : "-")).join("");
    const dashes = "-".repeat(body.length);
    const { passage } = ok(six(dashes, dashes, dashes, body, dashes, dashes));
    for (const bar of passage.bars) {
      const ticks = bar.strokes.map((s) => ticksOf(s.at));
      expect(new Set(ticks).size).toBe(ticks.length);
    }
  }
});
