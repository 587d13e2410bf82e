import { describe, expect, it } from "vitest";
import { BEHIND_FRET_MM, FINGER_TIP, type FingerArea, HAND_ACROSS } from "../hands/contact-areas.ts";
import { fretFromNutMm } from "../music/neck.ts";
import { INSTRUMENT_PRESETS } from "../passage/presets.ts";
import { chimingPartial, isChimeHeard } from "./chime.ts";
import { StringSet, struckLoudnessDb, type Touch } from "./modal.ts";

const set = new StringSet(INSTRUMENT_PRESETS[0]!.instrument);
const at = (fret: number, kind: FingerArea = FINGER_TIP): Touch => {
  const middle = fretFromNutMm(set.openLengthMm, fret) - BEHIND_FRET_MM;
  return { fromMm: middle - kind.widthMm / 2, toMm: middle + kind.widthMm / 2, rate: kind.rate };
};

// Natural harmonics: a node of partial n divides the string in n equal parts, so light touches at
// frets 12, 7 and 19, 5, 4 and 9 and 16 sound partials 2, 3, 4 and 5 (any acoustics text).
describe("a lone finger over a node chimes", () => {
  it.each([
    [12, 2],
    [7, 3],
    [19, 3],
    [5, 4],
    [4, 5],
    [9, 5],
    [16, 5],
  ])("fret %i sounds partial %i", (fret, partial) => {
    for (let string = 1; string <= 6; string++) expect(chimingPartial(set.live(string, 0), [at(fret)])).toBe(partial);
  });
  it.each([2, 3, 6, 8, 10, 11, 13, 14])("fret %i silences", (fret) => {
    expect(chimingPartial(set.live(6, 0), [at(fret)])).toBeNull();
  });
  it("moves with the pressed fret: on a string pressed at 3, fret 15 is the octave's node", () => {
    expect(chimingPartial(set.live(6, 3), [at(15)])).toBe(2);
    expect(chimingPartial(set.live(6, 3), [at(12)])).not.toBe(2);
  });
  it("stops when a second contact shares no node, goes on when it does (5 and 12 share partial 4)", () => {
    expect(chimingPartial(set.live(6, 0), [at(12), at(7)])).toBeNull();
    expect(chimingPartial(set.live(6, 0), [at(12), at(5)])).toBe(4);
  });
  it("is strong over 12, weaker over 7 and hardly heard over 9: by the model's own loudness", () => {
    for (let string = 1; string <= 6; string++) {
      expect(isChimeHeard(set.live(string, 0), [at(12)], "high")).toBe(true);
      expect(isChimeHeard(set.live(string, 0), [at(9)], "clean")).toBe(false);
    }
    const left = (fret: number) => struckLoudnessDb(set.live(3, 0), [at(fret)], 100);
    expect(left(12)).toBeGreaterThan(left(7) + 10);
    expect(left(7)).toBeGreaterThan(left(9));
  });
  it("does not happen under several fingers laid across", () => {
    for (const fret of [5, 7, 12]) expect(chimingPartial(set.live(6, 0), [at(fret, HAND_ACROSS)])).toBeNull();
  });
});
