import { fractionOf, gcd, TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Finger, Note, Passage, Stroke } from "../passage/schema.ts";

/** A place in the passage: bar index from 0 and ticks from the bar's start. */
export interface Place {
  bar: number;
  tick: Ticks;
}

/** One change of a passage, as data. */
export type Edit =
  | { kind: "set-fret"; place: Place; string: number; fret: number; length: Ticks }
  | { kind: "remove-note"; place: Place; string: number }
  | { kind: "set-finger"; place: Place; string: number; finger: Finger | null }
  | { kind: "set-tone"; place: Place; string: number; tone: NonNullable<Note["tone"]> }
  | { kind: "set-stroke"; place: Place; stroke: NonNullable<Stroke["stroke"]> | null }
  | { kind: "set-as"; place: Place; as: NonNullable<Stroke["as"]>; length: Ticks }
  | { kind: "set-length"; place: Place; length: Ticks }
  | { kind: "toggle-accent"; place: Place }
  | { kind: "toggle-let-ring"; place: Place; string: number }
  | { kind: "set-title"; title: string }
  | { kind: "set-tempo"; tempo: number }
  | { kind: "add-bar"; after: number }
  | { kind: "remove-bar"; bar: number };

/**
 * Applies an edit to a passage in place (hand it a copy or a draft). Returns false and changes
 * nothing when the edit has nothing to act on or would leave a document that is not valid.
 */
export function applyEdit(passage: Passage, edit: Edit): boolean {
  switch (edit.kind) {
    case "set-title":
      if (edit.title.trim() === "") return false;
      passage.title = edit.title.slice(0, 200);
      return true;
    case "set-tempo":
      if (!(edit.tempo >= 20 && edit.tempo <= 400)) return false;
      passage.tempo = edit.tempo;
      return true;
    case "add-bar": {
      const model = passage.bars[edit.after];
      if (!model) return false;
      passage.bars.splice(edit.after + 1, 0, { meter: [model.meter[0], model.meter[1]], strokes: [] });
      return true;
    }
    case "remove-bar":
      if (passage.bars.length < 2 || !passage.bars[edit.bar]) return false;
      passage.bars.splice(edit.bar, 1);
      return true;
    default:
      return editStroke(passage, edit);
  }
}

type StrokeEdit = Extract<Edit, { place: Place }>;

function editStroke(passage: Passage, edit: StrokeEdit): boolean {
  const { place } = edit;
  const bar = passage.bars[place.bar];
  if (!bar || place.tick < 0 || place.tick >= barLength(bar.meter)) return false;
  const stroke = strokeAt(passage, place);
  switch (edit.kind) {
    case "set-fret": {
      if (edit.fret < 0 || edit.fret > passage.instrument.frets || edit.string > passage.instrument.tuning.length) return false;
      const note = stroke?.notes.find((n) => n.string === edit.string);
      if (note) {
        note.fret = edit.fret;
        if (edit.fret === 0 || note.finger === 0) delete note.finger;
        return true;
      }
      const added: Note = { string: edit.string, fret: edit.fret };
      if (stroke) {
        if (stroke.as && stroke.as !== "play") delete stroke.as;
        delete stroke.strings;
        stroke.notes.push(added);
      } else insertStroke(bar.strokes, { at: fractionOf(place.tick), length: fractionOf(roomFor(passage, place, edit.length)), notes: [added] });
      return true;
    }
    case "remove-note": {
      if (!stroke) return false;
      const left = stroke.notes.filter((n) => n.string !== edit.string);
      const crossed = stroke.strings?.filter((s) => s !== edit.string);
      if (left.length === stroke.notes.length && crossed?.length === stroke.strings?.length) return false;
      if (left.length === 0 && !crossed?.length) bar.strokes.splice(bar.strokes.indexOf(stroke), 1);
      else {
        stroke.notes = left;
        if (crossed?.length) stroke.strings = crossed;
        else delete stroke.strings;
      }
      return true;
    }
    case "set-as":
      return setAs(passage, edit, stroke);
    case "set-finger":
      return onNote(stroke, edit.string, (note) => {
        if (note.fret === 0) return false;
        if (edit.finger === null) delete note.finger;
        else note.finger = edit.finger;
        return true;
      });
    case "set-tone":
      return onNote(stroke, edit.string, (note) => {
        if (edit.tone === "open") delete note.tone;
        else note.tone = edit.tone;
        return true;
      });
    case "toggle-let-ring":
      return onNote(stroke, edit.string, (note) => {
        if (note.letRing) delete note.letRing;
        else note.letRing = true;
        return true;
      });
    case "set-stroke":
      if (!stroke) return false;
      if (edit.stroke === null) delete stroke.stroke;
      else stroke.stroke = edit.stroke;
      return true;
    case "set-length":
      if (!stroke || edit.length <= 0) return false;
      stroke.length = fractionOf(edit.length);
      return true;
    case "toggle-accent":
      if (!stroke) return false;
      if (stroke.accent) delete stroke.accent;
      else stroke.accent = true;
      return true;
  }
}

/** Turns a stroke into a chuck, ghost, click or rake and back; on an empty place a dead stroke over all strings. */
function setAs(passage: Passage, edit: Extract<Edit, { kind: "set-as" }>, stroke: Stroke | undefined): boolean {
  const all = passage.instrument.tuning.map((_, s) => passage.instrument.tuning.length - s);
  if (!stroke) {
    if (edit.as === "play") return false;
    insertStroke(passage.bars[edit.place.bar]!.strokes, {
      at: fractionOf(edit.place.tick),
      length: fractionOf(roomFor(passage, edit.place, edit.length)),
      as: edit.as,
      strings: all,
      notes: [],
    });
    return true;
  }
  if (edit.as === "play") {
    if (stroke.notes.length === 0) return false;
    delete stroke.as;
    delete stroke.strings;
  } else {
    stroke.as = edit.as;
    stroke.strings ??= all;
  }
  return true;
}

function onNote(stroke: Stroke | undefined, string: number, change: (note: Note) => boolean): boolean {
  const note = stroke?.notes.find((n) => n.string === string);
  return note ? change(note) : false;
}

function insertStroke(strokes: Stroke[], stroke: Stroke): void {
  const tick = ticksOf(stroke.at);
  const index = strokes.findIndex((s) => ticksOf(s.at) > tick);
  strokes.splice(index < 0 ? strokes.length : index, 0, stroke);
}

export function strokeAt(passage: Passage, place: Place): Stroke | undefined {
  return passage.bars[place.bar]?.strokes.find((stroke) => ticksOf(stroke.at) === place.tick);
}

export function barLength(meter: readonly [number, number]): Ticks {
  return ticksOf(`${meter[0]}/${meter[1]}`);
}

/** A new stroke lasts as wished, but not past the next one or the bar. */
function roomFor(passage: Passage, place: Place, wished: Ticks): Ticks {
  const bar = passage.bars[place.bar]!;
  const next = bar.strokes.map((s) => ticksOf(s.at)).filter((tick) => tick > place.tick);
  return Math.min(wished, Math.min(barLength(bar.meter), ...next) - place.tick);
}

const EIGHTH = TICKS_PER_WHOLE / 8;

/** The grid on which the cursor moves through a bar: eighths, or finer where the bar's strokes are. */
export function barGrid(passage: Passage, bar: number): Ticks {
  const { meter, strokes } = passage.bars[bar]!;
  return strokes.reduce((grid, stroke) => gcd(grid, ticksOf(stroke.at)), gcd(EIGHTH, barLength(meter)));
}

/** The neighbouring place on a grid no coarser than `finest`, across bar lines; null at the ends. */
export function neighbourPlace(passage: Passage, place: Place, direction: 1 | -1, finest: Ticks): Place | null {
  const grid = gcd(barGrid(passage, place.bar), finest);
  const tick = direction > 0 ? Math.floor(place.tick / grid) * grid + grid : Math.ceil(place.tick / grid) * grid - grid;
  if (tick >= 0 && tick < barLength(passage.bars[place.bar]!.meter)) return { bar: place.bar, tick };
  const bar = place.bar + direction;
  if (!passage.bars[bar]) return null;
  if (direction > 0) return { bar, tick: 0 };
  const step = gcd(barGrid(passage, bar), finest);
  return { bar, tick: barLength(passage.bars[bar]!.meter) - step };
}
