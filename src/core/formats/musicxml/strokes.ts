import { placed } from "../../grips/place-notes.ts";
import { fractionOf } from "../../music/ticks.ts";
import { refusedBeyond } from "../../passage/limits.ts";
import type { Fault } from "../../passage/parse.ts";
import type { Instrument } from "../../passage/schema.ts";
import type { OnProgress } from "../imported.ts";
import type { RemarkTaker } from "../remarks.ts";
import type { BarInput, NoteInput, Sounding, StrokeInput } from "./reading.ts";

/**
 * Joins notes that begin together into strokes, finds a place on the neck for those without one, and writes them into the bars.
 * What is more than a passage holds is refused, and null otherwise.
 */
export function strokesOf(
  sounding: readonly Sounding[],
  bars: BarInput[],
  instrument: Instrument,
  remarks: RemarkTaker,
  onProgress?: OnProgress,
): { ok: false; faults: Fault[] } | null {
  const tooManyNotes = refusedBeyond("notes", sounding.length, "score");
  if (tooManyNotes) return tooManyNotes;
  const moments = new Map<string, Sounding[]>();
  for (const note of sounding) {
    const key = `${note.bar} ${note.at}`;
    const together = moments.get(key);
    if (together) together.push(note);
    else moments.set(key, [note]);
  }
  const tooMany = refusedBeyond("strokes", moments.size, "score");
  if (tooMany) return tooMany;
  const ordered = [...moments.values()].sort((a, b) => a[0]!.bar - b[0]!.bar || a[0]!.at - b[0]!.at);
  for (const notes of ordered) {
    const refused = refusedBeyond("notesAMoment", notes.length, `bar ${notes[0]!.bar + 1}`);
    if (refused) return refused;
  }
  const missing = ordered.map((notes) => notes.map((n) => ({ pitch: n.pitch, string: n.note.string, fret: n.note.fret })));
  const places = placed(missing, instrument, { onProgress });
  let guessed = 0;
  for (const [m, notes] of ordered.entries()) {
    const { bar, at } = notes[0]!;
    const place = `bar ${bar + 1}`;
    const own: { sounding: Sounding; string: number; fret: number }[] = [];
    for (const [n, one] of notes.entries()) {
      const found = places[m]![n];
      if (!found) remarks.push({ place, says: `a note that this neck does not have is left out${one.pitch === null ? "" : ` (MIDI ${one.pitch})`}` });
      else if (own.some((other) => other.string === found.string)) remarks.push({ place, says: `a second note on string ${found.string} is left out` });
      else {
        if (one.note.fret === undefined) guessed++;
        own.push({ sounding: one, ...found });
      }
    }
    if (own.length > 0) bars[bar]!.strokes!.push(strokeFrom(own, at));
  }
  if (guessed > 0) remarks.push({ place: "score", says: `${guessed} note${guessed === 1 ? "" : "s"} without string and fret: places were chosen` });
  return null;
}

function strokeFrom(own: readonly { sounding: Sounding; string: number; fret: number }[], at: number): StrokeInput {
  const stroke: StrokeInput = { at: fractionOf(at), length: "0", notes: [] };
  for (const { sounding } of own) Object.assign(stroke, sounding.stroke);
  const longest = Math.max(1, ...own.map(({ sounding }) => sounding.length));
  stroke.length = fractionOf(longest);
  const has = (word: string) => own.some(({ sounding }) => sounding.words.has(word));
  const isClicked = (one: Sounding) => one.words.has("clicked");
  const isCrossed = (one: Sounding) => one.words.has("crossed") || isClicked(one);
  /** The finger that is named is the stroke's, not the note's own. */
  const isStrokes = (one: Sounding) => [...one.words].some((word) => word.startsWith("stroke ")) && !one.words.has("own finger");
  // Crosses alone, from a program that names no kind of dead stroke: dead notes.
  const isDead = stroke.as !== undefined && stroke.as !== "play";
  if (has("strings") || has("crossed")) {
    const crossed = own.filter(({ sounding }) => !sounding.words.has("held") && !isClicked(sounding)).map(({ string }) => string);
    // None is left where the neck has not what was to be struck: then the stroke goes over the strings of its notes.
    if (crossed.length > 0) stroke.strings = crossed.sort((a, b) => b - a);
  }
  const clicked = own.filter(({ sounding }) => isClicked(sounding)).map(({ string }) => string);
  if (clicked.length > 0) stroke.click = clicked.sort((a, b) => b - a);
  const written = own.flatMap(({ sounding }) => [...sounding.words]).find((word) => word.startsWith("stroke "));
  if (written) stroke.stroke = written.slice(7) as NonNullable<StrokeInput["stroke"]>;
  // A lone plucked note from elsewhere: the finger is the stroke.
  const alone = written === undefined && own.length === 1 && stroke.stroke === undefined && !has("note finger") ? own[0]!.sounding.note.by : undefined;
  if (alone) stroke.stroke = alone;
  stroke.notes = own
    .filter(({ sounding }) => !isCrossed(sounding))
    .map(({ sounding, string, fret }): NoteInput => {
      const { by: finger, mute, ...note } = sounding.note;
      const length = sounding.length === longest || isDead ? {} : { length: fractionOf(Math.max(1, sounding.length)) };
      const tone = sounding.isCross && !isDead ? { tone: "ghost" as const } : mute ? { mute } : {};
      return { ...note, string, fret, ...(finger && !alone && !isStrokes(sounding) ? { by: finger } : {}), ...tone, ...length };
    })
    .sort((a, b) => b.string - a.string);
  return stroke;
}
