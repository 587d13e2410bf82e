import type { ChordShape } from "../chords/chord-shape.ts";
import type { WrittenChord } from "../chords/sequence.ts";
import type { Ticks } from "../music/ticks.ts";
import type { Patch } from "../passage/patch.ts";
import type { Place } from "../passage/place.ts";
import type { Finger, Note, Passage, Pin, Stroke, Treatment, WrittenGrip } from "../passage/schema.ts";
import type { MoveBy } from "./move-figure.ts";

/** A stretch of music cut out of a passage: strokes by how far they are from its beginning. */
export interface Figure {
  length: Ticks;
  strokes: readonly { offset: Ticks; stroke: Omit<Stroke, "at" | "id"> }[];
  grips?: readonly { offset: Ticks; grip: Omit<WrittenGrip, "at"> }[];
}

/** How a note can be sounded and shaped besides its tone. */
export type NoteChange = { [K in "from" | "bend" | "mute" | "vibrato" | "harmonic"]?: NonNullable<Note[K]> | null };

/** One change of a passage, as data. */
export type Edit =
  /** A new note takes tone and finger with it. */
  | { kind: "set-fret"; place: Place; string: number; fret: number; length: Ticks; tone?: NonNullable<Note["tone"]>; finger?: Finger }
  | { kind: "remove-note"; place: Place; string: number }
  | { kind: "set-finger"; place: Place; string: number; finger: Finger | null }
  | { kind: "set-tone"; place: Place; string: number; tone: NonNullable<Note["tone"]> }
  /** How a note is sounded and shaped; null takes what is written away. */
  | { kind: "set-note"; place: Place; string: number; change: NoteChange }
  | { kind: "set-stroke"; place: Place; stroke: NonNullable<Stroke["stroke"]> | null }
  | { kind: "set-as"; place: Place; as: NonNullable<Stroke["as"]>; length: Ticks }
  | { kind: "set-length"; place: Place; length: Ticks }
  | { kind: "toggle-accent"; place: Place }
  /** A string that fingers come down on together with the stroke. */
  | { kind: "toggle-click"; place: Place; string: number }
  /** To another moment, if no stroke begins there. */
  | { kind: "move-stroke"; place: Place; to: Place }
  /** To another string: the pitch stays, the fret follows. */
  | { kind: "move-note"; place: Place; string: number; to: number }
  /** Which strings the stroke goes over; those of its notes always belong. */
  | { kind: "set-strings"; place: Place; strings: readonly number[] }
  | { kind: "toggle-let-ring"; place: Place; string: number }
  | { kind: "set-title"; title: string }
  | { kind: "set-tempo"; tempo: number }
  | { kind: "add-bar"; after: number }
  | { kind: "remove-bar"; bar: number }
  /** A remedy; does nothing when it was made for another version of the passage. */
  | { kind: "apply-patch"; patch: Patch }
  | { kind: "paste"; at: Ticks; figure: Figure }
  | { kind: "clear"; from: Ticks; to: Ticks }
  /** What begins in a stretch moves along the neck, across the strings or to another pitch; refused where it has no place. */
  | { kind: "move-figure"; from: Ticks; to: Ticks; by: MoveBy }
  /** A stretch is laid out again behind itself, once for each number of semitones above it (up or down, as it lies), in place of what is there. */
  | { kind: "repeat-figure"; from: Ticks; to: Ticks; over: readonly number[] }
  /** The tone of every note that begins in a stretch. */
  | { kind: "paint-tone"; from: Ticks; to: Ticks; tone: NonNullable<Note["tone"]> }
  /** The strokes that begin in a stretch hold this chord, what they are stays; a new stroke of `length` where there is none. */
  | { kind: "set-chord"; from: Ticks; to: Ticks; length: Ticks; name: string | null; shape: ChordShape }
  /** Chords from a bar on in place of what is there, one list per bar, sharing its beats; bars are added when needed. */
  | { kind: "write-chords"; bar: number; chords: readonly (readonly WrittenChord[])[] }
  /** A new treatment, or another version of one. */
  | { kind: "set-treatment"; treatment: Treatment }
  | { kind: "remove-treatment"; id: string }
  /** What a treatment makes of the passage becomes what is written; what was written becomes a treatment. */
  | { kind: "promote-treatment"; id: string }
  /** What the fretting hand keeps from a place on; without notes it lets go there, and null takes the grip away. */
  | { kind: "set-grip"; place: Place; grip: WrittenGrip | null }
  /** The notes of a stroke are held from it on, up to where the music needs another grip. */
  | { kind: "hold-stroke"; place: Place }
  /** A grip by the moment it begins, in ticks from the beginning: it begins at another one, or is held until another one. */
  | { kind: "move-grip"; from: Ticks; to: Ticks }
  | { kind: "end-grip"; from: Ticks; to: Ticks }
  /** What the music shows of grips is written down from a moment on. */
  | { kind: "take-over-grips"; from: Ticks }
  | { kind: "set-meter"; bar: number; meter: Passage["bars"][number]["meter"] }
  /** Tempo from a bar on; null goes on as before. */
  | { kind: "set-bar-tempo"; bar: number; tempo: number | null }
  | { kind: "set-pickup"; pickup: boolean }
  /** A contact demanded or banned; the same one again takes it away. */
  | { kind: "toggle-pin"; pin: Pin }
  /** A contact that is not made anywhere, on no string: one that hurts. */
  | { kind: "ban-contact"; contact: Pin["contact"] }
  /** Instrument, player, gain and the like; refused when the music would not fit. */
  | { kind: "set-head"; head: Partial<Pick<Passage, "instrument" | "player" | "gain" | "ring" | "goalTempo" | "feel" | "tags" | "notes">> }
  /** What a search over the whole passage found. */
  | { kind: "set-bars"; bars: Passage["bars"] };
