import equal from "fast-deep-equal";
import { barLength } from "../music/beats.ts";
import { isTempo } from "../music/tempo.ts";
import { fractionOf, gcd, TICKS_PER_WHOLE, type Ticks, ticksOf } from "../music/ticks.ts";
import { parsePassage } from "../passage/parse.ts";
import { applyPatchTo } from "../passage/patch.ts";
import { type Place, strokeAt } from "../passage/place.ts";
import type { Passage, Pin } from "../passage/schema.ts";
import { asText } from "../passage/text.ts";
import { addBar, removeBar } from "./bars.ts";
import { endGrip, holdStroke, keepGripsWithin, moveGrip, setGrip, takeOverGrips } from "./grips.ts";
import { movedFigure } from "./move-figure.ts";
import { clearRange, paintTone, pasteFigure, setChord, writeChords } from "./range.ts";
import { repeatedFigure } from "./repeat-figure.ts";
import { editStroke } from "./stroke.ts";
import { promoteTreatment, removeTreatment, setTreatment } from "./treatments.ts";
import type { Edit } from "./types.ts";

export { type Edit, type Place, strokeAt };

/**
 * Applies an edit to a passage in place (hand it a copy or a draft). Returns false and changes
 * nothing when the edit has nothing to act on or would leave a document that is not valid.
 */
export function applyEdit(passage: Passage, edit: Edit): boolean {
  switch (edit.kind) {
    case "set-title":
      if (edit.title.trim() === "") return false;
      passage.title = asText(edit.title.slice(0, 200));
      return true;
    case "set-tempo":
      if (!isTempo(edit.tempo)) return false;
      passage.tempo = edit.tempo;
      return true;
    case "add-bar":
      return addBar(passage, edit.after);
    case "remove-bar":
      return removeBar(passage, edit.bar);
    case "apply-patch":
      return applyPatchTo(passage, edit.patch);
    case "paste":
      return pasteFigure(passage, edit.at, edit.figure);
    case "clear":
      return clearRange(passage, edit.from, edit.to);
    case "move-figure": {
      const moved = movedFigure(passage, edit.from, edit.to, edit.by);
      if (!moved.ok) return false;
      passage.bars = moved.bars;
      return true;
    }
    case "repeat-figure": {
      const repeated = repeatedFigure(passage, edit, edit.over);
      if (!repeated.ok || edit.over.length === 0) return false;
      passage.bars = repeated.bars;
      return true;
    }
    case "paint-tone":
      return paintTone(passage, edit);
    case "set-chord":
      return setChord(passage, edit);
    case "write-chords":
      return writeChords(passage, edit);
    case "set-treatment":
      return setTreatment(passage, edit.treatment);
    case "remove-treatment":
      return removeTreatment(passage, edit.id);
    case "promote-treatment":
      return promoteTreatment(passage, edit.id);
    case "set-grip":
      return setGrip(passage, edit);
    case "hold-stroke":
      return holdStroke(passage, edit);
    case "move-grip":
      return moveGrip(passage, edit);
    case "end-grip":
      return endGrip(passage, edit);
    case "take-over-grips":
      return takeOverGrips(passage, edit);
    case "set-meter":
      return setMeter(passage, edit.bar, edit.meter);
    case "set-bar-tempo": {
      const bar = passage.bars[edit.bar];
      if (!bar || (edit.tempo !== null && !isTempo(edit.tempo))) return false;
      if (edit.tempo === null) delete bar.tempo;
      else bar.tempo = edit.tempo;
      return true;
    }
    case "set-pickup":
      if (edit.pickup) passage.bars[0]!.pickup = true;
      else delete passage.bars[0]!.pickup;
      return true;
    case "ban-contact":
      return banContact(passage, edit.contact);
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
  keepGripsWithin(bar, length);
  for (const stroke of bar.strokes) {
    const room = length - ticksOf(stroke.at);
    if (ticksOf(stroke.length) > room) stroke.length = fractionOf(room);
  }
  return true;
}

function togglePin(passage: Passage, pin: Pin): boolean {
  const pins = passage.pins ?? [];
  const left = pins.filter((other) => !equal(other, pin));
  if (left.length === pins.length) left.push(pin);
  if (left.length === 0) delete passage.pins;
  else passage.pins = left;
  return true;
}

/** The contact is banned on every string from the beginning to the end; where it was demanded it is not any more. */
function banContact(passage: Passage, contact: Pin["contact"]): boolean {
  const { meter } = passage.bars.at(-1)!;
  const whole = { from: { bar: 1, at: "0" }, to: { bar: passage.bars.length, at: fractionOf(barLength(meter)) } };
  const others = (passage.pins ?? []).filter((pin) => !equal(pin.contact, contact));
  const bans = passage.instrument.tuning.map((_, s): Pin => ({ want: "ban", string: s + 1, ...whole, contact: { ...contact } }));
  passage.pins = [...others, ...bans];
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
