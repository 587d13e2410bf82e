import { fractionOf, gcd, TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Finger, Note, Passage, Pin, Stroke } from "../passage/schema.ts";
import { applyPatchTo } from "../remedies/patch.ts";
import type { Patch } from "../verdict/document.ts";
import { barLength, type Place } from "./place.ts";
import { clearRange, type Figure, pasteFigure } from "./range.ts";

export { barLength, type Place };

/** One change of a passage, as data. */
export type Edit =
  /** A new note takes tone and finger with it. */
  | { kind: "set-fret"; place: Place; string: number; fret: number; length: Ticks; tone?: NonNullable<Note["tone"]>; finger?: Finger }
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
  | { kind: "remove-bar"; bar: number }
  /** A remedy; does nothing when it was made for another version of the passage. */
  | { kind: "apply-patch"; patch: Patch }
  | { kind: "paste"; at: Ticks; figure: Figure }
  | { kind: "clear"; from: Ticks; to: Ticks }
  | { kind: "set-meter"; bar: number; meter: Passage["bars"][number]["meter"] }
  /** Tempo from a bar on; null goes on as before. */
  | { kind: "set-bar-tempo"; bar: number; tempo: number | null }
  | { kind: "set-pickup"; pickup: boolean }
  /** A contact demanded or banned; the same one again takes it away. */
  | { kind: "toggle-pin"; pin: Pin }
  /** Instrument, player, gain and the like; refused when the music would not fit. */
  | { kind: "set-head"; head: Partial<Pick<Passage, "instrument" | "player" | "gain" | "ring" | "goalTempo" | "feel" | "tags" | "notes">> }
  /** What a search over the whole passage found. */
  | { kind: "set-bars"; bars: Passage["bars"] };

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
    case "apply-patch":
      return applyPatchTo(passage, edit.patch);
    case "paste":
      return pasteFigure(passage, edit.at, edit.figure);
    case "clear":
      return clearRange(passage, edit.from, edit.to);
    case "set-meter":
      return setMeter(passage, edit.bar, edit.meter);
    case "set-bar-tempo": {
      const bar = passage.bars[edit.bar];
      if (!bar || (edit.tempo !== null && !(edit.tempo >= 20 && edit.tempo <= 400))) return false;
      if (edit.tempo === null) delete bar.tempo;
      else bar.tempo = edit.tempo;
      return true;
    }
    case "set-pickup":
      if (edit.pickup) passage.bars[0]!.pickup = true;
      else delete passage.bars[0]!.pickup;
      return true;
    case "toggle-pin":
      return togglePin(passage, edit.pin);
    case "set-head":
      return setHead(passage, edit.head);
    case "set-bars":
      passage.bars = edit.bars;
      return true;
    default:
      return editStroke(passage, edit);
  }
}

/** Another meter; strokes past its end go, those that reach over it are kept to it. */
function setMeter(passage: Passage, at: number, meter: Passage["bars"][number]["meter"]): boolean {
  const bar = passage.bars[at];
  if (!bar) return false;
  const length = barLength(meter);
  bar.meter = [meter[0], meter[1]];
  bar.strokes = bar.strokes.filter((stroke) => ticksOf(stroke.at) < length);
  for (const stroke of bar.strokes) {
    const room = length - ticksOf(stroke.at);
    if (ticksOf(stroke.length) > room) stroke.length = fractionOf(room);
  }
  return true;
}

function togglePin(passage: Passage, pin: Pin): boolean {
  const same = (other: Pin) => JSON.stringify(other) === JSON.stringify(pin);
  const pins = passage.pins ?? [];
  const left = pins.filter((other) => !same(other));
  if (left.length === pins.length) left.push(pin);
  if (left.length === 0) delete passage.pins;
  else passage.pins = left;
  return true;
}

function setHead(passage: Passage, head: Extract<Edit, { kind: "set-head" }>["head"]): boolean {
  const wanted = { ...passage, ...head };
  const parsed = parsePassage(JSON.parse(JSON.stringify(wanted)));
  if (!parsed.ok) return false;
  for (const key of Object.keys(head) as (keyof typeof head)[]) {
    if (head[key] === undefined) delete passage[key];
    else Object.assign(passage, { [key]: head[key] });
  }
  return true;
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
      const tone = edit.tone && edit.tone !== "open" ? { tone: edit.tone } : {};
      const finger = edit.finger !== undefined && edit.fret > 0 ? { finger: edit.finger } : {};
      const added: Note = { string: edit.string, fret: edit.fret, ...finger, ...tone };
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
