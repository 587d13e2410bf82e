import { current, isDraft } from "immer";
import { gripsOf } from "../grips/grips.ts";
import type { HeldGrip } from "../grips/types.ts";
import { barLength } from "../music/beats.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import { type Place, strokeAt } from "../passage/place.ts";
import type { Bar, Passage, WrittenGrip } from "../passage/schema.ts";
import { lastFret, settingsOf } from "../passage/settings.ts";
import { timelineOf } from "../timeline/timeline.ts";
import type { Edit } from "./types.ts";

/** The grip that begins at a place, if one does. */
export function gripAt({ bars }: Passage, place: Place): WrittenGrip | undefined {
  return bars[place.bar]?.grips?.find((grip) => ticksOf(grip.at) === place.tick);
}

/** The written grip that holds at a place, from there or from before; undefined where nothing is held. */
export function gripHolding({ bars }: Passage, { bar, tick }: Place): WrittenGrip | undefined {
  for (let b = Math.min(bar, bars.length - 1); b >= 0; b--) {
    const begun = gripsInOrder(bars[b]!).filter((grip) => b < bar || ticksOf(grip.at) <= tick);
    const last = begun.at(-1);
    if (last) return last.notes.length > 0 ? last : undefined;
  }
  return undefined;
}

/** The grip of a place is set, or taken away with null. False when there is nothing to do or this instrument has not its strings and frets. */
export function setGrip(passage: Passage, { place, grip }: Extract<Edit, { kind: "set-grip" }>): boolean {
  const bar = passage.bars[place.bar];
  if (!bar || place.tick < 0 || place.tick >= barLength(bar.meter)) return false;
  const others = (bar.grips ?? []).filter((other) => ticksOf(other.at) !== place.tick);
  if (grip === null) {
    if (others.length === (bar.grips?.length ?? 0)) return false;
    return writeGrips(bar, others);
  }
  const fits = ({ string, fret, finger }: WrittenGrip["notes"][number]) =>
    string >= 1 && string <= passage.instrument.tuning.length && fret >= 0 && fret <= lastFret(passage.instrument) && !(finger === 0 && fret > 0);
  if (!grip.notes.every(fits) || new Set(grip.notes.map((note) => note.string)).size < grip.notes.length || others.length >= MOST_IN_A_BAR) return false;
  return writeGrips(bar, [...others, grip]);
}

/** Grips that begin at a bar's end or after it go. */
export function keepGripsWithin(bar: Bar, length: Ticks): void {
  if (bar.grips)
    writeGrips(
      bar,
      bar.grips.filter((grip) => ticksOf(grip.at) < length),
    );
}

/** What a bar that goes away held to its end is held by the next one from its beginning, unless that has a grip of its own there. */
export function handOnGrip(gone: Bar, next: Bar | undefined): void {
  const last = gripsInOrder(gone).at(-1);
  if (!last || !next || next.grips?.some((grip) => ticksOf(grip.at) === 0)) return;
  writeGrips(next, [{ ...last, at: "0" }, ...(next.grips ?? [])]);
}

/** A grip by the moment it begins, in ticks from the passage's beginning. */
interface GripInTime {
  from: Ticks;
  grip: WrittenGrip;
}

function gripsInTime({ bars }: Passage): GripInTime[] {
  let start = 0;
  return bars.flatMap((bar) => {
    const own = gripsInOrder(bar).map((grip) => ({ from: start + ticksOf(grip.at), grip }));
    start += barLength(bar.meter);
    return own;
  });
}

/** All grips of a passage anew; false, with nothing changed, when a bar would have too many. */
function writeInTime(passage: Passage, grips: readonly GripInTime[]): boolean {
  const starts = startsOf(passage);
  const byBar = passage.bars.map((bar, b) => {
    const end = starts[b]! + barLength(bar.meter);
    return grips.filter(({ from }) => from >= starts[b]! && from < end).map(({ from, grip }) => ({ ...grip, at: fractionOf(from - starts[b]!) }));
  });
  if (byBar.some((own) => own.length > MOST_IN_A_BAR)) return false;
  for (const [b, bar] of passage.bars.entries()) writeGrips(bar, byBar[b]!);
  return true;
}

/** As the schema has it. */
const MOST_IN_A_BAR = 64;

function lengthOf({ bars }: Passage): Ticks {
  return bars.reduce((sum, { meter }) => sum + barLength(meter), 0);
}

/** Where the grip that begins at a moment ends: at the next one, or at the passage's end. */
export function gripEnd(passage: Passage, from: Ticks): Ticks {
  return gripsInTime(passage).find((one) => one.from > from)?.from ?? lengthOf(passage);
}

/** The moment at which the grip that holds at another one began; null where nothing is held. */
export function gripFrom(passage: Passage, tick: Ticks): Ticks | null {
  const last = gripsInTime(passage).findLast((one) => one.from <= tick);
  return last && last.grip.notes.length > 0 ? last.from : null;
}

/** A grip begins at another moment, between its neighbours. */
export function moveGrip(passage: Passage, { from, to }: Extract<Edit, { kind: "move-grip" }>): boolean {
  const all = gripsInTime(passage);
  const at = all.findIndex((one) => one.from === from);
  const earliest = (all[at - 1]?.from ?? -1) + 1;
  if (at < 0 || to === from || to < earliest || to >= (all[at + 1]?.from ?? lengthOf(passage))) return false;
  return writeInTime(passage, all.with(at, { ...all[at]!, from: to }));
}

/**
 * The grip that begins at a moment is held until another one. What it reaches over gives way: the last grip that would have begun
 * by then begins there. Where it ends before the next one, the hand lets go.
 */
export function endGrip(passage: Passage, { from, to }: Extract<Edit, { kind: "end-grip" }>): boolean {
  const all = gripsInTime(passage);
  const grip = all.find((one) => one.from === from);
  if (!grip || grip.grip.notes.length === 0 || to <= from || to > lengthOf(passage) || to === gripEnd(passage, from)) return false;
  const under = all.filter((one) => one.from > from && one.from <= to).at(-1);
  const next: GripInTime = { from: to, grip: under?.grip ?? { at: "0", notes: [] } };
  const after = all.filter((one) => one.from > to);
  // Letting go just before the hand lets go anyway is said once.
  const later = next.grip.notes.length === 0 && after[0]?.grip.notes.length === 0 ? after.slice(1) : after;
  return writeInTime(passage, [...all.filter((one) => one.from <= from), ...(to < lengthOf(passage) ? [next] : []), ...later]);
}

/**
 * What the music shows of grips is written down from a moment on, up to the first that is written: from there on nothing was inferred
 * anyway. The hands stay as they are, and each grip can be changed by itself. False where the music shows none.
 */
export function takeOverGrips(passage: Passage, { from }: Extract<Edit, { kind: "take-over-grips" }>): boolean {
  const shown = shownGrips(passage);
  const first = shown.findLast((one) => one.from <= from && one.grip.notes.length > 0) ?? shown.find(({ grip }) => grip.notes.length > 0);
  if (!first) return false;
  return writeInTime(passage, [...shown.filter((one) => one.from >= first.from), ...gripsInTime(passage)]);
}

/**
 * The notes of a stroke are held from it on. Where nothing was written before, what the music shows behind that is written down too, as
 * it would not be inferred any more; where a stroke comes that this grip cannot play, the hand lets go at the latest.
 */
export function holdStroke(passage: Passage, { place }: Extract<Edit, { kind: "hold-stroke" }>): boolean {
  const stroke = strokeAt(passage, place);
  if (!stroke || stroke.notes.length < 2) return false;
  // A document may have a string twice; a hand has it once.
  const own = stroke.notes.filter(({ string }, n) => stroke.notes.findIndex((note) => note.string === string) === n);
  const notes = own.map(({ string, fret, finger }) => ({ string, fret, ...(finger === undefined ? {} : { finger }) }));
  const grip: WrittenGrip = { at: fractionOf(place.tick), ...(stroke.chord ? { chord: stroke.chord } : {}), notes };
  const starts = startsOf(passage);
  const from = starts[place.bar]! + place.tick;
  const written = gripsInTime(passage);
  const isFirst = !written.some((one) => one.from <= from);
  const shown = isFirst ? shownGrips(passage).filter((one) => one.from > from) : [];
  const others = [...written.filter((one) => one.from !== from), ...shown];
  const next = Math.min(lengthOf(passage), ...others.filter((one) => one.from > from).map((one) => one.from));
  const clash = passage.bars.flatMap((bar, b) =>
    bar.strokes.flatMap((other) => {
      const at = starts[b]! + ticksOf(other.at);
      const isOther = other.notes.some((note) => notes.some((held) => held.string === note.string && held.fret !== note.fret));
      return at > from && at < next && isOther ? [at] : [];
    }),
  )[0];
  const lets = clash === undefined ? [] : [{ from: clash, grip: { at: "0", notes: [] } }];
  return writeInTime(passage, [{ from, grip }, ...others, ...lets]);
}

function startsOf({ bars }: Passage): Ticks[] {
  let start = 0;
  return bars.map(({ meter }) => {
    const own = start;
    start += barLength(meter);
    return own;
  });
}

/** The grip that the music shows at a moment, where none is written up to there; with the moments it lasts from and to. */
export function shownGripAt(passage: Passage, tick: Ticks): { from: Ticks; to: Ticks; grip: WrittenGrip } | null {
  const shown = shownGrips(passage);
  const at = shown.findLastIndex((one) => one.from <= tick);
  const found = shown[at];
  const written = gripsInTime(passage)[0]?.from ?? lengthOf(passage);
  return found && found.grip.notes.length > 0 && tick < written ? { ...found, to: shown[at + 1]?.from ?? written } : null;
}

/** Inferred grips, and where they end, up to the first that is written. */
function shownGrips(document: Passage): GripInTime[] {
  const passage = isDraft(document) ? current(document) : document;
  const settings = settingsOf(passage);
  const timeline = timelineOf(passage, settings);
  const { held } = gripsOf(passage, timeline, settings);
  const written = gripsInTime(passage)[0]?.from ?? Number.POSITIVE_INFINITY;
  const starts = startsOf(passage);
  const found: GripInTime[] = [];
  let before: HeldGrip | null = null;
  for (const [i, step] of timeline.steps.entries()) {
    const from = starts[step.bar]! + step.atTicks;
    const now = held[i]!;
    if (from >= written || now === before) continue;
    before = now;
    if (now === null && found.length === 0) continue;
    const chord = step.stroke === null ? undefined : passage.bars[step.bar]!.strokes[step.stroke.stroke]?.chord;
    const notes = (now?.places ?? []).map(({ string, fret, finger }) => ({ string, fret, ...(finger === undefined ? {} : { finger }) }));
    found.push({ from, grip: { at: "0", ...(chord && notes.length > 0 ? { chord } : {}), notes } });
  }
  return found;
}

function writeGrips(bar: Bar, grips: readonly WrittenGrip[]): true {
  const inOrder = [...grips].sort((a, b) => ticksOf(a.at) - ticksOf(b.at));
  if (inOrder.length > 0) bar.grips = inOrder;
  else delete bar.grips;
  return true;
}

function gripsInOrder({ grips = [] }: Bar): readonly WrittenGrip[] {
  return [...grips].sort((a, b) => ticksOf(a.at) - ticksOf(b.at));
}
