/** What a passage can be written as, by file extension, and what of it such a file holds. */
export const WRITTEN = [
  { extension: "resthand.json", says: "Passage document", holds: "everything", type: "application/json" },
  { extension: "musicxml", says: "MusicXML", holds: "notes, strings, strokes, mutes", type: "application/vnd.recordare.musicxml+xml" },
  { extension: "mxl", says: "MusicXML, compressed", holds: "the same in a smaller file", type: "application/vnd.recordare.musicxml" },
  { extension: "mid", says: "MIDI", holds: "pitches, and lengths as planned", type: "audio/midi" },
  { extension: "txt", says: "Tablature as text", holds: "strings, frets, palm, strokes", type: "text/plain" },
  { extension: "svg", says: "Sheet for the stand (SVG)", holds: "lanes, strokes, what each hand does", type: "image/svg+xml" },
  { extension: "csv", says: "The plan as a table (CSV)", holds: "a row for every step and string", type: "text/csv" },
] as const;

export type Extension = (typeof WRITTEN)[number]["extension"];

/** Of a score: a staff of notes over one of tablature, or one of them alone. */
export const STAVES = ["both", "tab", "notes"] as const;
export type Staves = (typeof STAVES)[number];
