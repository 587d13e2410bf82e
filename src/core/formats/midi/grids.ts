/** Grids that moments can be moved to, as fractions of a whole note. */
export const MIDI_GRIDS = ["1/8", "1/12", "1/16", "1/24", "1/32"] as const;
export type MidiGrid = (typeof MIDI_GRIDS)[number];
