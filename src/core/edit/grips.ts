import { barLength } from "../music/beats.ts";
import { type Ticks, ticksOf } from "../music/ticks.ts";
import type { Place } from "../passage/place.ts";
import type { Bar, Passage, WrittenGrip } from "../passage/schema.ts";
import { lastFret } from "../passage/settings.ts";
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
  if (!grip.notes.every(fits) || new Set(grip.notes.map((note) => note.string)).size < grip.notes.length || others.length >= 64) return false;
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

function writeGrips(bar: Bar, grips: readonly WrittenGrip[]): true {
  const inOrder = [...grips].sort((a, b) => ticksOf(a.at) - ticksOf(b.at));
  if (inOrder.length > 0) bar.grips = inOrder;
  else delete bar.grips;
  return true;
}

function gripsInOrder({ grips = [] }: Bar): readonly WrittenGrip[] {
  return [...grips].sort((a, b) => ticksOf(a.at) - ticksOf(b.at));
}
