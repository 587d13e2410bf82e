/**
 * How much a passage and a file may hold. What is within them is read, planned, saved and written in seconds, and what is not is
 * refused before it costs any: docs/reliability.md lists them. A long song has 200 bars and 3,000 strokes, in a document of 0.4 MB.
 */
export const LIMITS = {
  bars: { most: 5_000, of: "bars", than: "any passage has" },
  strokes: { most: 4_000, of: "strokes", than: "any passage has" },
  notesAMoment: { most: 64, of: "notes at one moment", than: "any hand plays" },
  notes: { most: 100_000, of: "notes", than: "any part has" },
  /** Objects and lists in a document. */
  parts: { most: 400_000, of: "objects and lists", than: "any passage has" },
  depth: { most: 40, of: "objects inside one another", than: "any passage has" },
  keys: { most: 4_000, of: "keys in one object", than: "any has" },
  overrides: { most: 4_000, of: "places set by hand in one treatment", than: "any passage has" },
  /** Bytes. */
  document: { most: 8_000_000, of: "MB", than: "any passage takes" },
  score: { most: 8_000_000, of: "MB", than: "any score of one player takes" },
  midi: { most: 500_000, of: "MB", than: "any MIDI file of one player takes" },
  tab: { most: 1_000_000, of: "MB", than: "any tablature takes" },
  /** A passage as the library keeps it: its compact document, in characters. */
  kept: { most: 2_000_000, of: "MB", than: "one passage of the library takes: bring it in part by part" },
  /** The file a passage came from, where it is kept with it. */
  original: { most: 5_000_000, of: "MB", than: "is kept of a file" },
  elements: { most: 300_000, of: "elements", than: "any score has" },
  elementDepth: { most: 60, of: "elements inside one another", than: "any score has" },
  attributes: { most: 100, of: "attributes in one element", than: "any score has" },
  declarations: { most: 100, of: "instructions and declarations", than: "any score has" },
  /** Half an hour of mono sound in 16 bits at 96 kHz. */
  recording: { most: 350_000_000, of: "MB", than: "half an hour of sound takes" },
  recordingsInBackup: { most: 100_000_000, of: "MB", than: "one backup takes of them" },
  unpackedBackup: { most: 500_000_000, of: "MB", than: "any library takes" },
  filesInArchive: { most: 20_000, of: "files in the archive", than: "any library has" },
} as const satisfies Readonly<Record<string, Bound>>;

export type Limit = keyof typeof LIMITS;

/** So many of what, and the rest of the sentence for more. */
export interface Bound {
  most: number;
  of: string;
  than: string;
}

/** The sentence for what is beyond a limit; null within it. `count` is in bytes where the limit is. */
export function beyond(limit: Limit | Bound, count: number): string | null {
  const { most, of, than } = typeof limit === "string" ? LIMITS[limit] : limit;
  if (count <= most) return null;
  // Rounded up, so that what is just beyond does not read like the limit itself.
  const said = of === "MB" ? [`${Math.ceil(count / 1e5) / 10} MB`, `${most / 1e6} MB`] : [`${inWords(count)} ${of}`, inWords(most)];
  return `${said[0]}, more than the ${said[1]} ${than}`;
}

/** The same as the one fault of a refused file. */
export function refusedBeyond(limit: Limit, count: number, place = "file"): { ok: false; faults: { place: string; says: string }[] } | null {
  const says = beyond(limit, count);
  return says === null ? null : { ok: false, faults: [{ place, says }] };
}

function inWords(count: number): string {
  return String(count).replace(/\B(?=(\d{3})+$)/g, " ");
}
