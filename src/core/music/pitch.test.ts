import { describe, expect, it } from "vitest";
import { fretFromNutMm } from "./neck.ts";
import { frequencyOf, parsePitch, pitchName, pitchText } from "./pitch.ts";

describe("pitch (ISO 16:1975: A4 = 440 Hz; equal temperament)", () => {
  it("reads scientific pitch names", () => {
    expect(parsePitch("A4")).toBe(69);
    expect(parsePitch("E2")).toBe(40);
    expect(parsePitch("Bb1")).toBe(34);
    expect(parsePitch("F#3")).toBe(54);
    expect(parsePitch("H2")).toBeNull();
    expect(parsePitch("E")).toBeNull();
  });
  // Standard tuning of the six-string guitar and four-string bass in equal temperament,
  // two decimals, as printed in any frequency table derived from A4 = 440 Hz.
  it.each([
    ["E4", 329.63],
    ["B3", 246.94],
    ["G3", 196.0],
    ["D3", 146.83],
    ["A2", 110.0],
    ["E2", 82.41],
    ["G2", 98.0],
    ["D2", 73.42],
    ["A1", 55.0],
    ["E1", 41.2],
    ["B0", 30.87],
  ])("%s sounds at %f Hz", (name, hz) => {
    expect(frequencyOf(parsePitch(name) as number)).toBeCloseTo(hz, 1);
  });
  it("names every pitch so that it reads back", () => {
    for (let midi = 12; midi < 120; midi++) {
      expect(parsePitch(pitchText(midi))).toBe(midi);
      expect(parsePitch(pitchName(midi))).toBe(midi);
    }
  });
});

describe("fret places", () => {
  it("puts fret 12 at half and fret 5 at a quarter of the scale (octave and fourth)", () => {
    expect(fretFromNutMm(648, 12)).toBeCloseTo(324, 9);
    expect(fretFromNutMm(648, 24)).toBeCloseTo(486, 9);
    expect(fretFromNutMm(648, 5) / 648).toBeCloseTo(0.25, 2);
  });
  // The luthier's rule: every fret takes 1/17.817 of what remains to the bridge.
  it("takes 1/17.817 of the remaining length per fret", () => {
    for (let fret = 0; fret < 24; fret++) {
      const step = fretFromNutMm(648, fret + 1) - fretFromNutMm(648, fret);
      expect((648 - fretFromNutMm(648, fret)) / step).toBeCloseTo(17.817, 2);
    }
  });
});
