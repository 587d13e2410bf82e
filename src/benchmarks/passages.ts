import { PASSAGE_VERSION, type PassageInput } from "../core/passage/schema.ts";

type BarInput = PassageInput["bars"][number];

/** A line of sixteenths over riff-like figures: power chords, single notes, ghosts and palm mutes. */
export function sixteenthRiff(bars: number): PassageInput {
  const figures: [number, number][] = [
    [6, 3],
    [6, 3],
    [5, 5],
    [4, 5],
    [6, 3],
    [5, 3],
    [5, 5],
    [4, 7],
    [6, 0],
    [6, 3],
    [5, 2],
    [4, 5],
    [3, 4],
    [4, 5],
    [5, 5],
    [6, 5],
  ];
  const make = (b: number): BarInput => ({
    meter: [4, 4],
    strokes: figures.map(([string, fret], i) => {
      const at = `${i}/16`;
      if ((i + b) % 7 === 5) return { at, length: "1/16", as: "ghost" as const, strings: [6, 5, 4] };
      if ((i + 3 * b) % 5 === 0 && fret > 0 && string > 4)
        return {
          at,
          length: "1/16",
          notes: [
            { string, fret, tone: (i + b) % 3 === 0 ? ("palm" as const) : ("open" as const) },
            { string: string - 1, fret: fret + 2 },
          ],
        };
      return { at, length: "1/16", notes: [{ string, fret: fret + (b % 4), tone: (i + b) % 4 === 1 ? ("palm" as const) : ("open" as const) }] };
    }),
  });
  return {
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: `${bars} bars of sixteenths`,
    tempo: 92,
    instrument: { kind: "electric-guitar", tuning: ["E4", "B3", "G3", "D3", "A2", "E2"], frets: 22, scaleLengthMm: 648 },
    bars: Array.from({ length: bars }, (_, b) => make(b)),
  };
}
