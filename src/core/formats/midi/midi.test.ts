import tone from "@tonejs/midi";
import { describe, expect, it } from "vitest";
import { planStages } from "../../engine.ts";
import { TICKS_PER_WHOLE, ticksOf } from "../../music/ticks.ts";
import { openPitches } from "../../passage/settings.ts";
import { line, passageOf } from "../../test/build.ts";
import { demoPassages } from "../../test/demos.ts";
import { randomPassage } from "../../test/random-passages.ts";
import { readMidi } from "./read.ts";
import { writeMidi } from "./write.ts";

/* Read by a second package: @tonejs/midi 2.0.28. */
const { Midi } = tone;

const read = (bytes: Uint8Array, options?: Parameters<typeof readMidi>[1]) => {
  const result = readMidi(bytes, options);
  if (!result.ok) throw new Error(result.faults[0]!.says);
  return result.value;
};

describe("a passage as a MIDI file, read by another package", () => {
  it.each(demoPassages().map((passage) => [passage.title, passage] as const))("%s: every note at its pitch, moment and length", (_, passage) => {
    const midi = new Midi(writeMidi(passage).bytes);
    const { notes } = planStages(passage).timeline;
    const open = openPitches(passage.instrument);
    const wanted = notes
      .filter((n) => n.tone === "open")
      .map(
        (n) => `${open[n.string - 1]! + n.pitchFret} ${((4 * n.start) / TICKS_PER_WHOLE).toFixed(2)} ${((4 * (n.end - n.start)) / TICKS_PER_WHOLE).toFixed(2)}`,
      );
    const found = midi.tracks.flatMap((track) =>
      track.notes
        .filter((n) => n.velocity > 0.5)
        .map((n) => `${n.midi} ${(n.ticks / midi.header.ppq).toFixed(2)} ${(n.durationTicks / midi.header.ppq).toFixed(2)}`),
    );
    for (const note of wanted) expect(found).toContain(note);
    expect(midi.header.tempos[0]!.bpm).toBeCloseTo(passage.tempo, 1);
    expect(midi.header.timeSignatures[0]!.timeSignature).toEqual(passage.bars[0]!.meter);
  });

  it("palm-muted notes of a guitar are on the muted guitar; on a bass they are short, and that is said", () => {
    const muted = (on: "electric" | "bass") => writeMidi(passageOf(line(4, ["4/3p", "4/3"]), { on }));
    const guitar = new Midi(muted("electric").bytes);
    expect(guitar.tracks.map((track) => track.instrument.name)).toContain("electric guitar (muted)");
    expect(
      muted("electric")
        .remarks.map((r) => r.says)
        .join(),
    ).not.toMatch(/shortened/);
    const bass = muted("bass");
    const [short, long] = new Midi(bass.bytes).tracks.flatMap((track) => track.notes);
    expect(short!.durationTicks).toBeLessThan(0.5 * long!.durationTicks);
    expect(bass.remarks.map((r) => r.says).join()).toMatch(/1 palm-muted note shortened/);
  });
});

describe("a MIDI file as a passage", () => {
  it("written here and read back: the same pitches at the same moments", () => {
    for (let seed = 0; seed < 120; seed++) {
      const passage = randomPassage(seed, 3);
      if (!passage.bars.some((bar) => bar.strokes.some((s) => (s.as ?? "play") === "play" && s.notes.length > 0))) continue;
      const { bytes } = writeMidi(passage);
      const back = read(bytes, { grid: "1/32" });
      const pitches = (p: typeof passage) => {
        const open = openPitches(p.instrument);
        return planStages(p).timeline.notes.map((n) => `${open[n.string - 1]! + n.pitchFret}@${Math.round((8 * n.start) / ticksOf("1/4"))}`);
      };
      const have = new Set(pitches(back.passage));
      const lost = back.remarks.filter((r) => /is left out/.test(r.says)).length;
      const missing = pitches(passage).filter((note) => !have.has(note));
      expect(missing.length, `seed ${seed}`).toBeLessThanOrEqual(lost);
    }
  });

  it("format 0 with running status, two channels and drums, quantised", () => {
    // Header, one track: channel 1 and 2 note on, drums, running status for the second note, note off by velocity 0.
    const track = [
      ...[0, 0x90, 64, 90],
      ...[0, 0x99, 36, 90],
      ...[0, 0x91, 40, 90],
      ...[0x83, 0x70, 0x90, 64, 0], // 496 ticks later
      ...[0, 66, 90], // running status: the next note on channel 1
      ...[0x83, 0x60, 66, 0],
      ...[0, 0x91, 40, 0],
      ...[0, 0xff, 0x2f, 0],
    ];
    const bytes = Uint8Array.from([
      ...new TextEncoder().encode("MThd"),
      0,
      0,
      0,
      6,
      0,
      0,
      0,
      1,
      0x01,
      0xe0,
      ...new TextEncoder().encode("MTrk"),
      0,
      0,
      0,
      track.length,
      ...track,
    ]);
    const { passage, voices, remarks } = read(bytes, { grid: "1/16" });
    expect(voices).toHaveLength(2);
    expect(passage.bars[0]!.strokes.map((s) => `${ticksOf(s.at) / ticksOf("1/4")}`)).toEqual(["0", "1"]);
    const said = remarks.map((r) => r.says).join("\n");
    expect(said).toMatch(/1 drum notes are left out/);
    expect(said).toMatch(/grid of 1\/16: 1 of 2 notes, by 3\.3% of a quarter/);
    expect(read(bytes, { voice: 1 }).passage.bars[0]!.strokes).toHaveLength(1);
  });

  it("changes of meter and tempo stand at their bars", () => {
    const passage = passageOf([line(4, ["6/3"]), line(4, ["6/5"])]);
    passage.bars[1]!.meter = [3, 4];
    passage.bars[1]!.tempo = 80;
    const back = read(writeMidi(passage).bytes).passage;
    expect(back.bars.map((bar) => [bar.meter, bar.tempo])).toEqual([
      [[4, 4], undefined],
      [[3, 4], 80],
    ]);
  });

  it.each([
    ["nothing", new Uint8Array(0)],
    ["another file", new TextEncoder().encode("this is not music at all")],
    ["a head without a body", Uint8Array.from([...new TextEncoder().encode("MThd"), 0, 0, 0, 6, 0, 0, 0, 1, 1, 0xe0])],
    ["a track cut off", writeMidi(demoPassages()[0]!).bytes.slice(0, 200)],
    ["a large one", new Uint8Array(5_000_000)],
  ])("%s is refused with one clear fault", (_, bytes) => {
    const result = readMidi(bytes);
    if (result.ok) expect.fail("was read");
    expect(result.faults).toHaveLength(1);
    expect(result.faults[0]!.says.length).toBeGreaterThan(10);
  });
});
