import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { parsePitch } from "../music/pitch.ts";
import { openPitches } from "../passage/settings.ts";
import { instrument } from "../test/build.ts";
import { placed } from "./place-notes.ts";

const guitar = instrument("electric");
const open = openPitches(guitar);
const pitches = (names: string) => names.split(" ").map((name) => ({ pitch: parsePitch(name)! }));
const shown = (places: ReturnType<typeof placed>[number]) =>
  places
    .map((place) => (place ? `${place.string}/${place.fret}` : "none"))
    .sort()
    .reverse()
    .join(" ");

describe("places for notes that have only a pitch", () => {
  it("chords of the open position are found where every player holds them (common practice)", () => {
    const [e, c] = placed([pitches("E2 B2 E3 G#3 B3 E4"), pitches("C3 E3 G3 C4 E4")], guitar);
    expect(shown(e!)).toBe("6/0 5/2 4/2 3/1 2/0 1/0");
    expect(shown(c!)).toBe("5/3 4/2 3/0 2/1 1/0");
  });

  it("a line stays where the hand is: around the fifth fret it does not jump to open strings and back", () => {
    const line = placed(
      ["A2", "C3", "D3", "E3", "G3", "A3", "G3", "E3", "D3", "C3", "A2"].map((name) => pitches(name)),
      guitar,
    ).flat();
    const frets = line.map((place) => place!.fret).filter((fret) => fret > 0);
    expect(Math.max(...frets) - Math.min(...frets)).toBeLessThanOrEqual(4);
  });

  it("what has a place keeps it, and the others make room for it", () => {
    const [chord] = placed([[{ pitch: parsePitch("E4")!, string: 2, fret: 5 }, { pitch: parsePitch("B3")! }]], guitar);
    expect(chord![0]).toEqual({ string: 2, fret: 5 });
    expect(chord![1]!.string).not.toBe(2);
  });

  it("what the neck does not have, or not beside the others, has no place", () => {
    expect(placed([pitches("C1")], guitar)).toEqual([[undefined]]);
    // Two notes that only the sixth string has.
    expect(placed([pitches("E2 F2")], guitar)[0]!.filter((place) => place === undefined)).toHaveLength(1);
    expect(placed([[{ pitch: 64, string: 9, fret: 0 }]], guitar)).toEqual([[undefined]]);
    expect(placed([], guitar)).toEqual([]);
  });

  it("places sound their pitches, one string each; the same notes are placed the same way", () => {
    const moment = fc.uniqueArray(fc.integer({ min: 40, max: 84 }), { minLength: 1, maxLength: 6 }).map((all) => all.map((pitch) => ({ pitch })));
    fc.assert(
      fc.property(fc.array(moment, { minLength: 1, maxLength: 12 }), (moments) => {
        const all = placed(moments, guitar);
        all.forEach((places, m) => {
          const strings = places.flatMap((place) => (place ? [place.string] : []));
          expect(new Set(strings).size).toBe(strings.length);
          places.forEach((place, n) => {
            if (place) expect(open[place.string - 1]! + place.fret).toBe(moments[m]![n]!.pitch);
          });
        });
        expect(placed(moments, guitar)).toEqual(all);
      }),
      { numRuns: 60 },
    );
  });
});
