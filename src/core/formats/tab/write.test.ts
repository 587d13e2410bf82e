import { describe, expect, it } from "vitest";
import { ticksOf } from "../../music/ticks.ts";
import type { Passage } from "../../passage/schema.ts";
import { line, passageOf, stroke } from "../../test/build.ts";
import { demoPassages } from "../../test/demos.ts";
import { randomPassage } from "../../test/random-passages.ts";
import { readTab } from "./read.ts";
import { writeTab } from "./write.ts";

const read = (text: string) => {
  const result = readTab(text);
  if (!result.ok) throw new Error(`${result.faults.map((f) => `${f.place}: ${f.says}`).join("\n")}\n${text}`);
  return result.value.passage;
};

/** What tablature can hold: moments, strings, frets, how a note is sounded, palm, strokes written out. */
function held({ bars, instrument, title }: Passage) {
  return {
    title,
    tuning: instrument.tuning,
    bars: bars.map((bar) => ({
      meter: bar.meter,
      strokes: bar.strokes.map((s) => {
        const isDead = s.as !== undefined && s.as !== "play";
        const isPalm = !isDead && s.notes.some((n) => n.tone === "palm");
        return {
          at: ticksOf(s.at),
          way: s.stroke === "down" || s.stroke === "up" ? s.stroke : undefined,
          dead: isDead ? [...(s.strings ?? s.notes.map((n) => n.string))].sort() : undefined,
          notes: isDead
            ? []
            : s.notes
                .map(
                  (n) =>
                    `${n.string}/${n.fret} ${n.tone === "ghost" ? "dead" : isPalm ? "palm" : ""} ${n.from === "stroke" ? "" : (n.from ?? "")} ${n.bend ?? ""} ${n.vibrato ?? ""} ${n.tone === "ghost" ? "" : (n.harmonic ?? "")}`,
                )
                .sort(),
        };
      }),
    })),
  };
}

describe("a passage as tablature and back", () => {
  it.each(demoPassages().map((passage) => [passage.title, passage] as const))("%s", (_, passage) => {
    expect(held(read(writeTab(passage).text))).toEqual(held(passage));
  });

  it("bends are let back to where they are written to; what it cannot hold is reported", () => {
    const notes = [{ by: 2, then: "release" as const }, { by: 1, from: 2 }, 1, { by: 2, towards: "treble" as const }].map((bend) => ({
      string: 3,
      fret: 7,
      bend,
    }));
    const passage = passageOf([notes.map((note, i) => stroke(`${i}/4`, "1/4", "", { notes: [note] }))]);
    const { text, remarks } = writeTab(passage);
    expect(text).toContain("7b9r7");
    const back = read(text).bars[0]!.strokes.map((s) => s.notes[0]!.bend);
    expect(back).toEqual([{ by: 2, then: "release" }, 1, 1, 2]);
    expect(remarks.map((r) => r.says).join()).toMatch(/struck bent.*to which side/s);
  });

  it("random passages: what the notation can hold is the same", () => {
    for (let seed = 0; seed < 200; seed++) {
      const passage = randomPassage(seed, 4);
      const { text } = writeTab(passage);
      expect(held(read(text)), `seed ${seed}\n${text}`).toEqual(held(passage));
    }
  });

  it("other meters stand over their bars", () => {
    const passage = passageOf([line(4, ["6/3", "5/5", "4/5"]), line(4, ["6/3"]), line(8, ["6/3", "5/5"])], { meter: [3, 4] });
    passage.bars[2]!.meter = [5, 8];
    expect(read(writeTab(passage).text).bars.map((bar) => bar.meter)).toEqual([
      [3, 4],
      [3, 4],
      [5, 8],
    ]);
  });

  it("names what it leaves out, with its place", () => {
    const passage = passageOf([
      [stroke("0", "1/4", "6/3 5/5", { as: "chuck", strings: [6, 5] }), stroke("1/4", "1/4", "6/3~2", { accent: true, chord: "G5", stroke: "p" })],
    ]);
    const said = writeTab(passage)
      .remarks.map((r) => `${r.place}: ${r.says}`)
      .join("\n");
    for (const says of [
      /bar 1, 1: left out: the chuck is written as dead notes, what the hand holds/,
      /bar 1, 2: left out: the accent, the chord name G5, the stroke p, fingers/,
      /lengths are left out/,
    ])
      expect(said).toMatch(says);
  });
});
