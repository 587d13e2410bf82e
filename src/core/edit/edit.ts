import type { Shape } from "../chords/shape.ts";
import { fractionOf, gcd, TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import type { Finger, Note, Passage, Pin, Stroke } from "../passage/schema.ts";
import { applyPatchTo } from "../remedies/patch.ts";
import type { Patch } from "../verdict/document.ts";
import { barLength, type Place, strokeAt } from "./place.ts";
import { clearRange, type Figure, paintTone, pasteFigure, setChord } from "./range.ts";
import { editStroke } from "./stroke.ts";

export { barLength, type Place, strokeAt };

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
  /** The tone of every note that begins in a stretch. */
  | { kind: "paint-tone"; from: Ticks; to: Ticks; tone: NonNullable<Note["tone"]> }
  /** The strokes that begin in a stretch hold this chord, what they are stays; a new stroke of `length` where there is none. */
  | { kind: "set-chord"; from: Ticks; to: Ticks; length: Ticks; name: string | null; shape: Shape }
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
    case "paint-tone":
      return paintTone(passage, edit);
    case "set-chord":
      return setChord(passage, edit);
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
