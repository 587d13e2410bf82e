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
  it("x columns before the first chord: the hand rests on the coming grip and presses it when it comes (common practice)", () => {
    const rest = "x-x-x-x-|7---7---";
    const { passage } = ok(six(rest, rest.replaceAll("7", "8"), rest, rest.replaceAll("7", "9"), "x-x-x-x-|--------", "x-x-x-x-|--------"));
    const { steps } = planPassage(passage);
    const first = steps[0]!.actions.filter(({ hand }) => hand === "fretting");
    expect(first.some(({ does, places }) => does === "rest" && places?.some(({ string, fret }) => string === 4 && fret === 9))).toBe(true);
    const chord = steps.find(({ bar }) => bar === 2)!;
    expect(chord.actions.some(({ does }) => does === "press")).toBe(true);
    expect(steps.filter(({ bar }) => bar === 1).every((step) => step.strings.every(({ state }) => state !== "stray" && state !== "ring"))).toBe(true);
  });
  it("lists signs it does not know with line and column", () => {
    const read = ok(six(EMPTY, EMPTY, EMPTY, EMPTY, "3-------5---^---", EMPTY));
    expect(read.remarks).toContainEqual({ place: "line 5, column 15", says: 'the sign "^" was not understood' });
  });
});

describe("lines over and under a stave", () => {
  const stave = six(EMPTY, EMPTY, EMPTY, EMPTY, "5---5---5---5---", EMPTY);
  const ways = (text: string) => ok(text).passage.bars[0]!.strokes.map((stroke) => stroke.stroke ?? "-");
  it("a stroke line that lies beside its notes is moved there, and said to be", () => {
    for (const beside of [0, 1, 2, 3, 4, 5]) {
      const line = `${" ".repeat(beside)}D   U   D   U`;
      const read = ok(`${stave}\n${line}`);
      expect(ways(`${stave}\n${line}`)).toEqual(["down", "up", "down", "up"]);
      expect(read.remarks.some(({ says }) => says.includes("beside their notes"))).toBe(beside !== 2);
    }
  });
  it("one sign a column beside its note belongs to it; one that meets none is told with its place", () => {
    expect(ways(`${stave}\n  D    U  D   U`)).toEqual(["down", "up", "down", "up"]);
    const read = ok(`${stave}\n  D   U D D   U`);
    expect(read.passage.bars[0]!.strokes.map(({ stroke }) => stroke)).toEqual(["down", "up", "down", "up"]);
    expect(read.remarks).toContainEqual({ place: "line 7, column 9", says: '"D" stands over no note and was left out' });
  });
  it("reads plucking fingers and plays the passage with them", () => {
    const text = `${stave}\n  p   i   m   a`;
    expect(ways(text)).toEqual(["p", "i", "m", "a"]);
    expect(ok(text).passage.player.playsWith).toBe("fingers");
  });
  it("digits that count up are counts, others are the fretting fingers", () => {
    const read = ok(`${stave}\n  1   1   3   1`);
    expect(read.passage.bars[0]!.strokes.map(({ notes }) => notes[0]!.finger)).toEqual([1, 1, 3, 1]);
    expect(read.remarks.some(({ says }) => says.includes("fretting fingers"))).toBe(true);
    expect(ok(`${stave}\n  1   2   3   4`).passage.bars[0]!.strokes.map(({ notes }) => notes[0]!.finger)).toEqual([undefined, undefined, undefined, undefined]);
  });
  it("reads durations by letters, dots, triplets and rests", () => {
    const read = (line: string, body: string) =>
      flat(ok(`${line}\n${six(...["", "", "", ""].map(() => "-".repeat(body.length)), body, "-".repeat(body.length))}`))[0];
    expect(read("  q. e h", "5--5-7--")).toBe("0:5/5 3/8:5/5 1/2:5/7");
    expect(read("  q e e h", "5---5-7-")).toBe("0:5/5 3/8:5/5 1/2:5/7");
    expect(read("  e3 e3 e3 h q", "5--7--8--5-7-")).toBe("0:5/5 1/12:5/7 1/6:5/8 1/4:5/5 3/4:5/7");
  });
  it("reads durations by stems and what joins them", () => {
    const read = (line: string, body: string) =>
      flat(ok(`${six(...["", "", "", ""].map(() => "-".repeat(body.length)), body, "-".repeat(body.length))}\n${line}`))[0];
    expect(read("  |   |_| |=|_| |", "5---5-7-5-7-5-7-")).toBe("0:5/5 1/4:5/5 3/8:5/7 1/2:5/5 9/16:5/7 5/8:5/5 3/4:5/7");
    expect(read("  |._=|   |-3-|-|  |  |", "5---5---7---8-7--5--5-")).toBe("0:5/5 3/16:5/5 1/4:5/7 1/3:5/8 5/12:5/7 1/2:5/5 3/4:5/5");
  });
  it("durations that do not fit the bar are told, with the bar read by its columns", () => {
    const read = ok(`${stave}\n  w   w   w   w`);
    expect(flat(read)[0]).toBe("0:5/5 1/4:5/5 1/2:5/5 3/4:5/5");
    expect(read.remarks.some(({ says }) => says.startsWith("the durations do not fit"))).toBe(true);
  });
  it("of several instruments one is chosen", () => {
    const bass = `G|${EMPTY}|\nD|${EMPTY}|\nA|3-------5-------|\nE|${EMPTY}|`;
    const text = `Quay song\n\nGuitar:\n${stave}\n\nBass\n${bass}\n\nGuitar:\n${stave}\n\nBass\n${bass}`;
    const first = readTab(text);
    const second = readTab(text, { part: 1 });
    if (!first.ok || !second.ok) throw new Error("not read");
    expect(first.value.parts).toEqual(["Guitar", "Bass"]);
    expect(first.value.passage.bars).toHaveLength(2);
    expect(second.value.passage).toMatchObject({ title: "Quay song", instrument: { kind: "electric-bass" } });
    expect(second.value.passage.bars.map(({ strokes }) => strokes.length)).toEqual([2, 2]);
    expect(first.value.remarks.some(({ says }) => says === "2 instruments; read: Guitar")).toBe(true);
    expect(readTab(text, { part: 2 }).ok).toBe(false);
  });
  it("two guitars in two tunings without names are two parts", () => {
    const low = stave.replace("E|", "D|");
    const read = readTab(`${stave}\n\n${low}\n\n${stave}`);
    expect(read.ok && read.value.parts).toEqual(["6 strings", "6 strings"]);
    expect(read.ok && read.value.passage.bars).toHaveLength(2);
  });
});

describe("bad tablature", () => {
  it("names line and fault", () => {
    expect(faults("hello\nthere")).toEqual(["line 1: no tablature found: a stave is 4 to 8 lines of dashes, one a string"]);
    expect(faults(`e|${EMPTY}|\nB|${EMPTY}|`)[0]).toMatch(/^line 1: a stave of 2 string lines/);
    expect(faults(six(EMPTY, EMPTY, "--------|-------", EMPTY, EMPTY, EMPTY))[0]).toMatch(/^line \d+, column \d+: the bar lines/);
  });
});

it("a line of a hundred thousand blanks is read in one go, not in every way that blanks can be shared out", () => {
  const blanks = " ".repeat(100_000);
  const stave = ["E", "B", "G", "D", "A", "E"].map((name) => `${name}|-3-------5-------|`).join("\n");
  const read = readTab(`${blanks}!\nE${blanks}!\n${stave}\n`);
  expect(read.ok && read.value.passage.bars[0]!.strokes).toHaveLength(2);
});

it("a rhythm line of a hundred thousand stems is read in one go", () => {
  const stave = ["E", "B", "G", "D", "A", "E"].map((name) => `${name}|-3-------5-------|`).join("\n");
  for (const line of ["|_".repeat(100_000), "|".repeat(200_000), `|${"_".repeat(200_000)}`, "e ".repeat(100_000)])
    expect(readTab(`${stave}\n${line}\n`).ok).toBe(true);
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
