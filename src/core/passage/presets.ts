import type { InstrumentKind } from "../music/instruments.ts";
import type { Instrument } from "./schema.ts";

/** Ordinary instruments to start from: usual tunings and scale lengths (common practice). */
export interface InstrumentPreset {
  name: string;
  instrument: Instrument;
}

const GUITAR = ["E4", "B3", "G3", "D3", "A2", "E2"];

export const INSTRUMENT_PRESETS: readonly InstrumentPreset[] = [
  preset("Electric guitar", "electric-guitar", GUITAR, 22, 648),
  preset("Electric guitar, low D", "electric-guitar", [...GUITAR.slice(0, 5), "D2"], 22, 648),
  preset("Electric guitar, seven strings", "electric-guitar", [...GUITAR, "B1"], 24, 648),
  preset("Steel-string acoustic", "acoustic-guitar", GUITAR, 20, 645),
  preset("Nylon-string guitar", "nylon-guitar", GUITAR, 19, 650),
  preset("Bass, four strings", "electric-bass", ["G2", "D2", "A1", "E1"], 21, 864),
  preset("Bass, five strings", "electric-bass", ["G2", "D2", "A1", "E1", "B0"], 24, 889),
];

function preset(name: string, kind: InstrumentKind, tuning: string[], frets: number, scaleLengthMm: number) {
  return { name, instrument: { kind, tuning, frets, capo: 0, scaleLengthMm } };
}

/** The usual instrument with this number of strings, for music that does not name one. */
export function presetFor(strings: number): Instrument {
  const byStrings: Record<number, Instrument> = {
    4: byName("Bass, four strings"),
    5: byName("Bass, five strings"),
    6: byName("Electric guitar"),
    7: byName("Electric guitar, seven strings"),
    8: { ...byName("Electric guitar, seven strings"), tuning: [...GUITAR, "B1", "F#1"], scaleLengthMm: 686 },
  };
  const found = byStrings[strings];
  if (!found) throw new Error(`no usual instrument has ${strings} strings`);
  return found;
}

function byName(name: string): Instrument {
  return (INSTRUMENT_PRESETS.find((p) => p.name === name) as InstrumentPreset).instrument;
}
