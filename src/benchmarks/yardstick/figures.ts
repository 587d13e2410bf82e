import type { Instrument, Passage, PassageInput } from "../../core/passage/schema.ts";
import { instrument, notes, type StrokeInput } from "../../core/test/build.ts";

/*
 * How the yardstick's passages are written: figures of a bar or a few, each at several places of the neck, tempos or schools.
 * They are documents of version 1, which every later program reads.
 */

/** Whose work it is. */
export const HANDS = ["pick", "strum", "fingers", "bass", "slap", "percussive"] as const;
export type HandOfWork = (typeof HANDS)[number];

export interface Figure {
  name: string;
  hand: HandOfWork;
  on: Parameters<typeof instrument>[0];
  bars: StrokeInput[][];
  setting?: Setting;
  /** One passage each; the figure as it is when left out. */
  variants?: readonly Variant[];
}

interface Setting {
  tempo?: number;
  gain?: Passage["gain"];
  ring?: Passage["ring"];
  feel?: PassageInput["feel"];
  meter?: [number, 2 | 4 | 8];
  player?: PassageInput["player"];
  pickup?: boolean;
  capo?: number;
}

interface Variant extends Setting {
  /** Frets that every fretted note moves up. */
  up?: number;
}

/** A figure's passages as version 1 documents. */
export function passagesOf({ name, hand, on, bars, setting = {}, variants = [{}] }: Figure): object[] {
  return variants.map((variant) => {
    const all = { ...setting, ...variant, player: { ...setting.player, ...variant.player } };
    const instrumentHere: Instrument = { ...instrument(on), capo: all.capo ?? 0 };
    const said = [
      variant.up ? `up ${variant.up}` : "",
      variant.tempo ? `at ${variant.tempo}` : "",
      ...Object.values(variant.player ?? {}),
      variant.gain ?? "",
      variant.ring ?? "",
      variant.capo ? `capo ${variant.capo}` : "",
    ];
    return {
      format: "rest-hand-passage",
      version: 1,
      title: [`${hand}: ${name}`, ...said.filter((word) => word !== "")].join(", "),
      instrument: instrumentHere,
      player: all.player,
      ...(all.gain ? { gain: all.gain } : {}),
      ...(all.ring ? { ring: all.ring } : {}),
      ...(all.feel ? { feel: all.feel } : {}),
      tempo: all.tempo ?? 96,
      bars: bars.map((strokes, b) => ({
        meter: all.meter ?? [4, 4],
        ...(b === 0 && all.pickup ? { pickup: true } : {}),
        strokes: strokes.map((stroke) => movedUp(stroke, variant.up ?? 0)),
      })),
    };
  });
}

function movedUp(stroke: StrokeInput, by: number): StrokeInput {
  return { ...stroke, notes: (stroke.notes ?? []).map((note) => (note.fret > 0 ? { ...note, fret: note.fret + by } : note)) };
}

type Marks = Readonly<Record<string, StrokeInput["notes"] | Partial<StrokeInput>>>;

/**
 * A bar on an even grid, a word a place: "." nothing, a key of `marks` (a chord or a stroke of its own), else notes such as
 * "5/3~1+4/5p". A word lasts for as many places as it has "-" behind it, and one more.
 */
export function grid(unit: number, text: string, marks: Marks = {}): StrokeInput[] {
  const words = text.trim().split(/\s+/);
  return words.flatMap((word, i): StrokeInput[] => {
    const [, name = "", held = ""] = /^(.*?)(-*)$/.exec(word)!;
    if (name === "." || name === "") return [];
    const at = i === 0 ? "0" : `${i}/${unit}`;
    const length = `${1 + held.length}/${unit}`;
    const mark = Object.hasOwn(marks, name) ? marks[name] : undefined;
    if (Array.isArray(mark)) return [{ at, length, notes: mark }];
    return [{ at, length, notes: [], ...(mark ?? { notes: notes(name.replaceAll("+", " ")) }) } as StrokeInput];
  });
}

/** A chord that is struck, and what becomes of it: chuck, ghost, click, brush and up-stroke keep its shape. */
export function chord(text: string) {
  const held = notes(text);
  const own = held.map((note) => note.string);
  const span = Array.from({ length: Math.max(...own) - Math.min(...own) + 1 }, (_, i) => Math.max(...own) - i);
  const bass = held.reduce((a, b) => (b.string > a.string ? b : a));
  return {
    /** Struck as a whole. */
    hit: { notes: held },
    accent: { notes: held, accent: true },
    muted: { notes: held.map((note) => ({ ...note, tone: "palm" as const })) },
    chuck: { as: "chuck" as const, strings: [6, 5, 4, 3, 2, 1], notes: held },
    ghost: { as: "ghost" as const, strings: span, notes: held },
    click: { as: "click" as const, strings: span, notes: held },
    bass: { notes: [bass] },
    brush: { notes: held.filter((note) => note !== bass), stroke: "down" as const },
    up: { notes: held.filter((note) => note !== bass).slice(-3), stroke: "up" as const },
  };
}

/** One pinch: strings, frets and who plucks, as "5/0p 3/2i 1/3a". */
export function pinch(text: string): StrokeInput["notes"] {
  return text.split(" ").map((word) => {
    const [, string, fret, by] = /^(\d)\/(\d+)([pimac])$/.exec(word)!;
    return { string: Number(string), fret: Number(fret), by: by as "p" };
  });
}
