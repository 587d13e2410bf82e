import { barLength } from "../music/beats.ts";
import { fractionOf, ticksOf } from "../music/ticks.ts";
import { isPlayed, settleClicks } from "../passage/clicks.ts";
import { insertStroke, type Place, roomFor, strokeAt } from "../passage/place.ts";
import type { Note, Passage, Stroke } from "../passage/schema.ts";
import { lastFret, openPitches } from "../passage/settings.ts";
import { setTone } from "../passage/tones.ts";
import type { Edit } from "./types.ts";

export type StrokeEdit = Exclude<Extract<Edit, { place: Place }>, { kind: "set-grip" | "hold-stroke" }>;

/** Edits of one stroke, in place; false, with nothing changed, when it has nothing to act on. */
export function editStroke(passage: Passage, edit: StrokeEdit): boolean {
  const { place } = edit;
  const bar = passage.bars[place.bar];
  if (!bar || place.tick < 0 || place.tick >= barLength(bar.meter)) return false;
  const stroke = strokeAt(passage, place);
  switch (edit.kind) {
    case "set-fret": {
      if (edit.fret < 0 || edit.fret > lastFret(passage.instrument) || edit.string > passage.instrument.tuning.length) return false;
      const note = stroke?.notes.find((n) => n.string === edit.string);
      if (note) {
        note.fret = edit.fret;
        if (edit.fret === 0 || note.finger === 0) delete note.finger;
        return true;
      }
      const tone = edit.tone && edit.tone !== "open" ? { tone: edit.tone } : {};
      const finger = edit.finger && edit.fret > 0 ? { finger: edit.finger } : {};
      const added: Note = { string: edit.string, fret: edit.fret, ...finger, ...tone };
      if (stroke) {
        if (stroke.as && stroke.as !== "play") delete stroke.as;
        delete stroke.strings;
        stroke.notes.push(added);
        settleClicks(stroke);
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
        if (note.fret === 0 || edit.finger === 0) return false;
        if (edit.finger === null) delete note.finger;
        else note.finger = edit.finger;
        return true;
      });
    case "set-tone":
      return onNote(stroke, edit.string, (note) => {
        setTone(note, edit.tone);
        return true;
      });
    case "set-note":
      return onNote(stroke, edit.string, (note) => {
        if (edit.change.mute && note.tone !== "palm") return false;
        for (const [key, value] of Object.entries(edit.change)) {
          if (value === null || value === undefined || value === false || value === "stroke") Reflect.deleteProperty(note, key);
          else Reflect.set(note, key, value);
        }
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
    case "move-stroke":
      return moveStroke(passage, edit);
    case "move-note":
      return moveNote(passage, stroke, edit);
    case "set-strings":
      return stroke !== undefined && setStrings(passage, stroke, edit.strings);
    case "toggle-click":
      return stroke !== undefined && toggleClick(passage, stroke, edit.string);
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
    settleClicks(stroke);
  }
  return true;
}

function onNote(stroke: Stroke | undefined, string: number, change: (note: Note) => boolean): boolean {
  const note = stroke?.notes.find((n) => n.string === string);
  return note ? change(note) : false;
}

/** A string that fingers come down on with the stroke, or no longer; none that sounds a note, and none of a dead stroke. */
function toggleClick({ instrument }: Passage, stroke: Stroke, string: number): boolean {
  if ((stroke.as ?? "play") !== "play" || string > instrument.tuning.length || isPlayed(stroke, string)) return false;
  const others = (stroke.click ?? []).filter((s) => s !== string);
  const now = stroke.click?.includes(string) ? others : [...others, string].sort((a, b) => b - a);
  if (now.length > 0) stroke.click = now;
  else delete stroke.click;
  return true;
}

function moveStroke(passage: Passage, { place, to }: Extract<Edit, { kind: "move-stroke" }>): boolean {
  const bar = passage.bars[to.bar];
  const stroke = strokeAt(passage, place);
  if (!stroke || !bar || to.tick < 0 || to.tick >= barLength(bar.meter) || strokeAt(passage, to)) return false;
  const from = passage.bars[place.bar]!.strokes;
  from.splice(from.indexOf(stroke), 1);
  const length = Math.min(ticksOf(stroke.length), barLength(bar.meter) - to.tick);
  insertStroke(bar.strokes, { ...stroke, at: fractionOf(to.tick), length: fractionOf(length) });
  return true;
}

function moveNote({ instrument }: Passage, stroke: Stroke | undefined, { string, to }: Extract<Edit, { kind: "move-note" }>): boolean {
  const open = openPitches(instrument);
  const note = stroke?.notes.find((n) => n.string === string);
  if (!stroke || !note || open[to - 1] === undefined || stroke.notes.some((n) => n.string === to)) return false;
  const fret = note.fret + open[string - 1]! - open[to - 1]!;
  if (fret < 0 || fret > lastFret(instrument)) return false;
  note.string = to;
  note.fret = fret;
  settleClicks(stroke);
  delete note.finger;
  if (stroke.strings) stroke.strings = [...new Set(stroke.strings.map((s) => (s === string ? to : s)))];
  return true;
}

function setStrings(passage: Passage, stroke: Stroke, wanted: readonly number[]): boolean {
  const inside = wanted.filter((s) => s >= 1 && s <= passage.instrument.tuning.length);
  const sounds = (stroke.as ?? "play") === "play";
  const all = new Set(sounds ? [...inside, ...stroke.notes.map((n) => n.string)] : inside);
  if (all.size === 0) return false;
  // A stroke over the strings of its notes alone needs no list.
  if (sounds && stroke.notes.length === all.size) delete stroke.strings;
  else stroke.strings = [...all].sort((a, b) => b - a);
  settleClicks(stroke);
  return true;
}
