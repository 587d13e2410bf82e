/** The kinds of instrument that the string model and the hands know. */
export const INSTRUMENT_KINDS = ["electric-guitar", "acoustic-guitar", "nylon-guitar", "electric-bass"] as const;
export type InstrumentKind = (typeof INSTRUMENT_KINDS)[number];
