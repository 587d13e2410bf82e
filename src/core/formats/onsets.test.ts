import { expect, it } from "vitest";
import { ticksOf } from "../music/ticks.ts";
import { line, passageOf } from "../test/build.ts";
import { midiFile, varied } from "../test/midi-bytes.ts";
import { writeBytes } from "./files.ts";
import { readOnsets } from "./onsets.ts";

const bars = (count: number, beats: number) => Array.from({ length: count }, () => ({ meter: [beats, 4] as [number, 4] }));
/** Bar and sixteenth. */
const said = (read: ReturnType<typeof readOnsets>) => (read.ok ? read.value.map(({ bar, tick }) => `${bar + 1}:${tick / ticksOf("1/16")}`) : read.faults);

/** Notes of a quarter's fourth apart, on the channel of drums or another: [sixteenths since the last, key]. */
const track = (channel: number, notes: readonly (readonly [number, number])[]) =>
  Uint8Array.from(notes.flatMap(([since, key]) => [...varied(since * 120), 0x90 | channel, key, 90]));

it("of drums, bass drum and snare are taken, hats are not (General MIDI percussion key map)", () => {
  const kit = track(9, [
    [0, 36],
    [0, 42],
    [2, 42],
    [2, 38],
    [6, 35],
    [2, 40],
    [4, 36],
  ]);
  expect(said(readOnsets(midiFile([kit]), bars(2, 4)))).toEqual(["1:0", "1:4", "1:10", "1:12", "2:0"]);
  // What comes after the last bar is not asked for; bars of another length have it elsewhere.
  expect(said(readOnsets(midiFile([kit]), bars(1, 4)))).toEqual(["1:0", "1:4", "1:10", "1:12"]);
  expect(said(readOnsets(midiFile([kit]), bars(2, 3)))).toEqual(["1:0", "1:4", "1:10", "2:0", "2:4"]);
});

it("a tune is taken where its notes begin, out of MIDI and out of our own documents", () => {
  const tune = passageOf(line(8, ["2/3", "1/0", "2/1"]), { on: "acoustic" });
  for (const extension of ["mid", "resthand.json"] as const)
    expect(said(readOnsets(writeBytes(tune, extension).bytes, bars(1, 4))), extension).toEqual(["1:0", "1:2", "1:4"]);
});

it("what cannot be read is told", () => {
  expect(readOnsets(new TextEncoder().encode("MThd and nothing"), bars(1, 4)).ok).toBe(false);
});
