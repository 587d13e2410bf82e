import { chimingPartial, isChimeHeard } from "../acoustics/chime.ts";
import type { StringSet, Touch } from "../acoustics/modal.ts";
import { knownIn } from "../caching/known.ts";
import type { SharedLists } from "../caching/shared-lists.ts";
import { trimmed } from "../caching/trimmed.ts";
import { partOf } from "../hands/parts.ts";
import type { Posture } from "../hands/postures.ts";
import type { Intent } from "../intent/intent.ts";
import { placeNumber } from "../music/neck.ts";
import type { Settings } from "../passage/settings.ts";
import { bit, type Contact, type HandShape, type StringMask, SURELY } from "./types.ts";

/** What decides what contacts do to their strings. */
export interface Assembled {
  count: number;
  intents: readonly Intent[];
  strings: StringSet;
  /** Per string; left out where no contact can chime. */
  pressedFrets?: readonly number[];
  settings: Pick<Settings, "gain">;
  /** Where chances are kept. */
  lists: SharedLists;
}

/** One thing a hand can do in addition to its written work: its contacts and what holding them costs. */
export interface Option {
  contacts: readonly Contact[];
  /** Effort in tenths per second. */
  hold: number;
  /** Effort in tenths for every stroke made in it. */
  perStroke?: number;
}

export function effortOf(options: readonly Option[]): { hold: number; perStroke: number } {
  let hold = 0;
  let perStroke = 0;
  for (const option of options) {
    hold += option.hold;
    perStroke += option.perStroke ?? 0;
  }
  return { hold, perStroke };
}

/** What a group of contacts does, worked out once and then joined with others by bits. */
export interface Doing {
  contacts: readonly Contact[];
  touches: StringMask;
  /** Touched more than once. */
  twice: StringMask;
  muffles: StringMask;
  /** Touched by something wide, which never chimes. */
  wide: StringMask;
  /** Touched by what ends a note or deadens a stroke. */
  alwaysStops: StringMask;
  deadens: StringMask;
  /** Touched by one lone narrow finger that lies over a node. */
  chimesAlone: StringMask;
  fails: readonly number[];
}

export function doingOf(context: Assembled, contacts: readonly Contact[]): Doing {
  let touches = 0;
  let twice = 0;
  let muffles = 0;
  let wide = 0;
  let alwaysStops = 0;
  let deadens = 0;
  let alone = 0;
  const fails: number[] = new Array(context.count).fill(SURELY);
  const known = chimesOf(context);
  for (const contact of contacts) {
    const mask = bit(contact.string);
    if (context.intents[contact.string - 1] === "muffled") {
      muffles |= mask;
      continue;
    }
    const row = partOf(contact);
    fails[contact.string - 1] = Math.round(fails[contact.string - 1]! * row.fails);
    if (row.stops === "never") continue;
    twice |= touches & mask;
    touches |= mask;
    if (!contact.narrow) wide |= mask;
    else if (chimeIn(known, context, contact) > 0) alone |= mask;
    if (row.stops === "always") alwaysStops |= mask;
    if (row.deadens) deadens |= mask;
  }
  return { contacts, touches, twice, muffles, wide, alwaysStops, deadens, chimesAlone: alone, fails };
}

/** By touch, then per string and pressed fret. */
type Chimes = Map<Touch, Map<number, number>>;

const knownChimes = new WeakMap<StringSet, Map<string, Chimes>>();

/** Of an instrument and gain. */
function chimesOf({ strings, settings }: Assembled): Chimes {
  const byGain = knownIn(knownChimes, strings, () => new Map<string, Chimes>());
  return knownIn(byGain, settings.gain, () => new Map<Touch, Map<number, number>>());
}

/** The partial at which a contact by itself lets its string chime, 0 for none; worked out once per string, pressed fret and touch. */
export function chimesAlone(context: Assembled, contact: Contact): number {
  return chimeIn(chimesOf(context), context, contact);
}

function chimeIn(known: Chimes, context: Assembled, { string, touch }: Contact): number {
  const fret = pressedAt(context, string);
  const byPlace = knownIn(known, touch, () => new Map<number, number>());
  return knownIn(byPlace, placeNumber(string, fret), () => chimes(context, string, fret, [touch]));
}

function pressedAt({ pressedFrets }: Assembled, string: number): number {
  return pressedFrets?.[string - 1] ?? 0;
}

function chimes({ strings, settings }: Assembled, string: number, fret: number, touches: readonly Touch[]): number {
  const live = strings.live(string, fret);
  const partial = chimingPartial(live, touches);
  return partial !== null && isChimeHeard(live, touches, settings.gain) ? partial : 0;
}

/** A shape from groups of contacts, one of them always there, its posture and its effort. */
export function joinShape<P extends Posture>(
  context: Assembled,
  always: Doing,
  more: readonly Doing[],
  posture: P,
  effort: { hold: number; perStroke: number },
): HandShape<P> {
  let { touches, twice, muffles, wide, alwaysStops, deadens, chimesAlone: chiming } = always;
  for (let s = 0; s < context.count; s++) FAILS[s] = always.fails[s]!;
  FAILS.length = context.count;
  let count = always.contacts.length;
  for (const { contacts } of more) count += contacts.length;
  // As long as it has to be: shapes are many, and kept.
  const contacts: Contact[] = new Array(count);
  count = 0;
  for (const contact of always.contacts) contacts[count++] = contact;
  for (const doing of more) {
    if (doing.contacts.length === 0) continue;
    twice |= doing.twice | (touches & doing.touches);
    touches |= doing.touches;
    muffles |= doing.muffles;
    wide |= doing.wide;
    alwaysStops |= doing.alwaysStops;
    deadens |= doing.deadens;
    chiming |= doing.chimesAlone;
    for (let s = 0; s < context.count; s++) if (doing.fails[s] !== SURELY) FAILS[s] = Math.round((FAILS[s]! * doing.fails[s]!) / SURELY);
    for (const contact of doing.contacts) contacts[count++] = contact;
  }
  // A wide contact leaves nothing to hear, and so does a second narrow one that lies over no node of the same partial.
  chiming &= ~wide;
  if ((chiming & twice) !== 0) chiming &= ~quietened(context, contacts, chiming & twice);
  return {
    contacts,
    damps: touches,
    stops: (touches & ~chiming) | alwaysStops,
    deadens: deadens & ~chiming,
    chimes: chiming,
    muffles,
    hold: effort.hold,
    perStroke: effort.perStroke,
    posture,
    fails: context.lists.of(FAILS),
  };
}

/** Chances of the shape that is being joined. */
const FAILS: number[] = [];

/** Of strings that several narrow fingers touch: those on which nothing is left to chime. */
function quietened(context: Assembled, contacts: readonly Contact[], strings: StringMask): StringMask {
  let quiet = 0;
  for (let string = 1; string <= context.count; string++) {
    if ((strings & bit(string)) === 0) continue;
    const touches = contacts.filter((c) => c.string === string && partOf(c).stops !== "never").map(({ touch }) => touch);
    if (chimes(context, string, pressedAt(context, string), touches) === 0) quiet |= bit(string);
  }
  return quiet;
}

const NOTHING_MORE: readonly Doing[] = [];

export function makeShape<P extends Posture>(
  context: Assembled,
  contacts: readonly Contact[],
  posture: P,
  effort: { hold: number; perStroke: number },
): HandShape<P> {
  return joinShape(context, doingOf(context, contacts), NOTHING_MORE, posture, effort);
}

/** Drops shapes that another one of the same posture equals or betters in everything, keeping the order. */
export function withoutDominated<P extends Posture>(shapes: readonly HandShape<P>[]): HandShape<P>[] {
  const left = shapes.filter((shape, own) => {
    for (let k = 0; k < shapes.length; k++) {
      const other = shapes[k]!;
      if (k !== own && other.posture === shape.posture && betters(other, shape) && (k < own || !betters(shape, other))) return false;
    }
    return true;
  });
  return trimmed(left);
}

/** Whether a does at least what b does, with at most its effort and risk. */
function betters(a: HandShape, b: HandShape): boolean {
  if (a.hold > b.hold || a.perStroke > b.perStroke) return false;
  if (!covers(a.damps, b.damps) || !covers(a.stops, b.stops) || !covers(a.deadens, b.deadens) || !covers(a.muffles, b.muffles)) return false;
  for (let s = 0; s < a.fails.length; s++) if (a.fails[s]! > b.fails[s]!) return false;
  return true;
}

function covers(a: StringMask, b: StringMask): boolean {
  return (a & b) === b;
}
