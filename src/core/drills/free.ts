import { fractionOf, TICKS_PER_WHOLE } from "../music/ticks.ts";
import type { Instrument, Note, Passage, Player, Stroke } from "../passage/schema.ts";
import { PASSAGE_FORMAT, PASSAGE_VERSION } from "../passage/schema.ts";

/** A small figure that asks for one move of a hand, for practice without a passage. */
export interface FreeFigure {
  id: string;
  title: string;
  says: string;
  /** What is played on an instrument, eighth by eighth; null is a rest. */
  eighths(instrument: Instrument): readonly (Pick<Stroke, "notes"> & Partial<Stroke>)[];
}

const TEMPO = 80;

/** Moves that all plans are made of (common practice). */
export const FREE_FIGURES: readonly FreeFigure[] = [
  {
    id: "palm",
    title: "Palm on and off",
    says: "The lowest string muted and open in turn: the palm lands and lifts.",
    eighths: ({ tuning }) =>
      [0, 1, 2, 3, 4, 5, 6, 7].map((k) => ({ notes: [{ string: tuning.length, fret: 0, ...(k % 4 < 2 ? { tone: "palm" as const } : {}) }] })),
  },
  {
    id: "tip",
    title: "Tip against the neighbour",
    says: "One note after the other over the strings: the fingertip keeps the lower one still, the finger's underside the higher ones.",
    eighths: ({ tuning }) => {
      const strings = Array.from({ length: tuning.length - 2 }, (_, i) => tuning.length - 1 - i);
      const there = [...strings, ...strings.slice(1, -1).reverse()];
      return Array.from({ length: 8 }, (_, k) => ({ notes: [{ string: there[k % there.length]!, fret: 5, finger: 1 as const }] }));
    },
  },
  {
    id: "release",
    title: "Let go and press",
    says: "A closed shape struck and let go in turn: pressure off, fingers on the strings.",
    eighths: ({ tuning, kind }) => {
      const low = tuning.length - 1;
      const shape: Note[] =
        kind === "electric-bass"
          ? [{ string: low, fret: 5, finger: 1 }]
          : [
              { string: low, fret: 5, finger: 1 },
              { string: low - 1, fret: 7, finger: 3 },
              { string: low - 2, fret: 7, finger: 4 },
            ];
      const strings = shape.map(({ string }) => string);
      return Array.from({ length: 8 }, (_, k) => (k % 2 === 0 ? { notes: shape } : { notes: shape, as: "ghost" as const, strings }));
    },
  },
  {
    id: "stop",
    title: "Stop on the beat",
    says: "A note, and silence: every string is still before the beat is over.",
    eighths: ({ tuning }) =>
      [tuning.length - 1, null, tuning.length, null, tuning.length - 1, null, tuning.length, null].map((string) => ({
        notes: string === null ? [] : [{ string, fret: 3 }],
      })),
  },
];

/** A figure as a passage of four bars, for an instrument and a player of the Setup. */
export function freePassage(figure: FreeFigure, instrument: Instrument, player: Player): Passage {
  const eighth = TICKS_PER_WHOLE / 8;
  const strokes = figure.eighths(instrument).flatMap((stroke, k): Stroke[] => {
    if (stroke.notes.length === 0) return [];
    return [{ ...stroke, notes: stroke.notes.map((note) => ({ ...note })), at: fractionOf(k * eighth), length: fractionOf(eighth) }];
  });
  return {
    format: PASSAGE_FORMAT,
    version: PASSAGE_VERSION,
    title: figure.title,
    tags: [],
    notes: "",
    instrument,
    player,
    ring: "written",
    tempo: TEMPO,
    feel: "straight",
    bars: [0, 1, 2, 3].map((b) => ({ id: `${figure.id}${b}`, meter: [4, 4], strokes: structuredClone(strokes) })),
  };
}
