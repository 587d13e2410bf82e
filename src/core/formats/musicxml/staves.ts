import { parsePitch } from "../../music/pitch.ts";
import type { Passage } from "../../passage/schema.ts";
import type { Staves } from "../written.ts";
import { type Element, el } from "./element.ts";
import { spelled } from "./values.ts";

/** One voice on one staff. */
export interface Layer {
  /** Which of the bar's voices, from 0; without any the first one rests. */
  of: number;
  /** Its number in the file. */
  voice: number;
  /** Which of several staves; null where there is one. */
  staff: 1 | 2 | null;
  /** Strings and frets stand once: on the tablature, or on the only staff. */
  hasPlaces: boolean;
}

export function layersOf(voices: number, staves: Staves): Layer[] {
  const own = Array.from({ length: Math.max(1, voices) }, (_, of) => of);
  if (staves !== "both") return own.map((of) => ({ of, voice: of + 1, staff: null, hasPlaces: true }));
  return [
    ...own.map((of): Layer => ({ of, voice: of + 1, staff: 1, hasPlaces: false })),
    ...own.map((of): Layer => ({ of, voice: own.length + of + 1, staff: 2, hasPlaces: true })),
  ];
}

/** Guitars and basses are written an octave higher than they sound: the clef says so. */
export function clefs(passage: Passage, staves: Staves): Element[] {
  const [sign, line] = passage.instrument.kind === "electric-bass" ? ["F", 4] : ["G", 2];
  const notes = (number?: number) => el("clef", [el("sign", sign!), el("line", line!), el("clef-octave-change", -1)], number ? { number } : {});
  const tab = (number?: number) => el("clef", [el("sign", "TAB"), el("line", 5)], number ? { number } : {});
  if (staves === "notes") return [notes()];
  if (staves === "tab") return [tab(), staffDetails(passage)];
  return [el("staves", 2), notes(1), tab(2), staffDetails(passage, 2)];
}

function staffDetails({ instrument }: Passage, number?: number): Element {
  const lowestFirst = [...instrument.tuning].reverse();
  const tunings = lowestFirst.map((name, i) => {
    const { step, alter, octave } = spelled(parsePitch(name)!);
    return el("staff-tuning", [el("tuning-step", step), alter === 0 ? null : el("tuning-alter", alter), el("tuning-octave", octave)], { line: i + 1 });
  });
  const details = [el("staff-lines", instrument.tuning.length), ...tunings, instrument.capo > 0 ? el("capo", instrument.capo) : null];
  return el("staff-details", details, number ? { number } : {});
}
