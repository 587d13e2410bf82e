import { sameItems } from "../caching/fold.ts";
import type { Action, ActionPlace } from "../document/plan.ts";
import { type Press, samePresses } from "../fingering/hand-state.ts";
import type { ContactFinger } from "../hands/fingers.ts";

/*
 * What somebody knows of both hands who hears nothing but actions: what was said (`reading.ts`), and what hands do by habit
 * (`habits.ts`). Habits are said once; after that only what departs from them is.
 */

/** A part of a hand that can lie on strings: one finger's, where the part is a finger's. Equal ones are one object; see `bodyOf`. */
export interface Body {
  hand: string;
  part: string;
  finger: ContactFinger | undefined;
}

/** Strings under one part of one finger. */
export type Groups = ReadonlyMap<Body, readonly number[]>;

/** How a hand lay with these fingers down and these at rest: what leaned and what lay idle. */
export interface Lay {
  presses: readonly Press[];
  resting: readonly Press[];
  groups: Groups;
}

export interface Known {
  /** How many strings there are. */
  count: number;
  presses: readonly Press[];
  /** Fingers that rest where they pressed. */
  resting: readonly Press[];
  /** Everything that touches strings besides presses. */
  groups: Groups;
  /** What pressed last with two fingers or more: a shape that can be moved. */
  shape: readonly Press[];
  /** Strings that the last stroke went through, ascending: said again only when they change. */
  struck: readonly number[];
  /** How chucks are made: their strings, and from which string on the hand comes down flat; said once. */
  chucks: { strings: readonly number[]; from: number | undefined } | null;
  /** Strings, as bits, that were struck open and have not been touched since. */
  open: number;
  /** Fingers that bend or shake their string: they do nothing else. */
  bending: readonly ContactFinger[];
  /** Chords said by name, and where their fingers are. */
  chords: ReadonlyMap<string, readonly ActionPlace[]>;
  /** The index leans wherever it presses; an arched one never does of itself. */
  leans: boolean;
  arched: boolean;
  /** Fingers with nothing to press lie on strings beside the grip. */
  lies: boolean;
  /** A wrap lies near the nut, over every string that is not pressed. */
  wrapped: boolean;
  /** From how many strings below the struck one the palm lies that follows the pick; 0 when none follows. */
  palmFollows: number;
  /** Something has been said of the palm; until then it follows lines, not chords. */
  palmSaid: boolean;
  /** From how many strings below the struck one the thumb lies that follows; 0 when it does not. */
  thumbFollows: number;
  /** Plucking fingers come to rest on the next string. */
  rests: boolean;
  /** How the hand lay when it last pressed, and when it last was let go: pressed or let go again, it lies so again. */
  pressed: Lay | null;
  letGo: Lay | null;
}

export function nothingKnown(count: number): Known {
  return {
    count,
    presses: [],
    resting: [],
    shape: [],
    groups: new Map(),
    struck: [],
    chucks: null,
    open: 0,
    bending: [],
    chords: new Map(),
    leans: true,
    arched: false,
    lies: false,
    wrapped: false,
    palmFollows: 2,
    palmSaid: false,
    thumbFollows: 0,
    rests: false,
    pressed: null,
    letGo: null,
  };
}

/** By part, then by finger, then by hand: looked up for every string at every step, so that no name is put together for it. */
const bodies = new Map<string, Map<ContactFinger | undefined, Map<string, Body>>>();

export function bodyOf(hand: string, part: string, finger: ContactFinger | undefined): Body {
  const known = bodies.get(part)?.get(finger)?.get(hand);
  if (known) return known;
  const body = { hand, part, finger };
  const byFinger = bodies.get(part) ?? new Map<ContactFinger | undefined, Map<string, Body>>();
  const byHand = byFinger.get(finger) ?? new Map<string, Body>();
  bodies.set(part, byFinger.set(finger, byHand.set(hand, body)));
  return body;
}

export function isPart(body: Body, hand: string, part: string): boolean {
  return body.hand === hand && body.part === part;
}

/** Idle fingers lie together: which of them is on a string nobody cares. */
export const IDLE = bodyOf("fretting", "spare", undefined);
/** The hand laid across all strings, and come down on them in a stroke of its own. */
export const LAY = bodyOf("fretting", "lay", 2);
export const SLAP = bodyOf("fretting", "slap", 2);
export const UNDERSIDE = bodyOf("fretting", "underside", 1);

export const WRAP = bodyOf("aid", "fret-wrap", undefined);

export const HEEL = bodyOf("picking", "heel", undefined);

export const PALM = bodyOf("picking", "palm", undefined);

export const THUMB = bodyOf("picking", "thumb", "p");

export const THUMB_BACK = bodyOf("picking", "thumb-return", "p");

export const TAP = bodyOf("picking", "press", "m");

export function put(groups: Map<Body, readonly number[]>, body: Body, strings: readonly number[]): void {
  if (strings.length > 0) groups.set(body, strings);
  else groups.delete(body);
}

export function bit(string: number): number {
  return 1 << (string - 1);
}

export function range(from: number, to: number): number[] {
  const all: number[] = [];
  for (let k = from; k <= to; k++) all.push(k);
  return all;
}

export function sameKnown(a: Known | null, b: Known | null): boolean {
  if (a === null || b === null) return a === b;
  return sameNow(a, b) && samePresses(a.shape, b.shape) && sameLay(a.letGo, b.letGo);
}

/**
 * What is known after a step at which hands do what they did before, where no more of what was known is another than what they come
 * back to: a shape where several fingers are put down, and how they lay when the hand lets go. Undefined where that may matter.
 */
export function comesBackLater(now: Known | null, before: Known | null, after: Known | null, actions: readonly Action[]): Known | undefined {
  if (now === null || before === null || after === null || !sameNow(now, before)) return undefined;
  const isPressing = after.presses.length > 0;
  if (before.presses.length > 0 !== isPressing || actions.some(mayMoveShape)) return undefined;
  return {
    ...after,
    shape: after.presses.length > 1 ? after.shape : now.shape,
    letGo: isPressing || after.resting.length === 0 ? now.letGo : after.letGo,
  };
}

function mayMoveShape({ does, chord, to, places = [] }: Action): boolean {
  return does === "down" && chord === undefined && (to !== undefined || places.length > 1);
}

/** All but what hands come back to. */
function sameNow(a: Known, b: Known): boolean {
  return (
    a.count === b.count &&
    a.open === b.open &&
    a.leans === b.leans &&
    a.arched === b.arched &&
    a.lies === b.lies &&
    a.wrapped === b.wrapped &&
    a.palmFollows === b.palmFollows &&
    a.palmSaid === b.palmSaid &&
    a.thumbFollows === b.thumbFollows &&
    a.rests === b.rests &&
    sameItems(a.struck, b.struck) &&
    a.chucks?.from === b.chucks?.from &&
    sameItems(a.chucks?.strings ?? [], b.chucks?.strings ?? []) &&
    sameItems(a.bending, b.bending) &&
    a.chords.size === b.chords.size &&
    [...a.chords].every(([chord, places]) => samePlaces(b.chords.get(chord), places)) &&
    samePresses(a.presses, b.presses) &&
    samePresses(a.resting, b.resting) &&
    sameGroups(a.groups, b.groups) &&
    sameLay(a.pressed, b.pressed)
  );
}

/** In their order as well: what is told of them comes in it. */
function sameGroups(a: Groups, b: Groups): boolean {
  return sameItems([...a.keys()], [...b.keys()]) && [...a].every(([body, strings]) => sameItems(strings, b.get(body)!));
}

function sameLay(a: Lay | null, b: Lay | null): boolean {
  if (a === null || b === null) return a === b;
  return a === b || (isLaidAs(a, b) && sameGroups(a.groups, b.groups));
}

function isLaidAs(a: Pick<Known, "presses" | "resting">, b: Pick<Known, "presses" | "resting">): boolean {
  return samePresses(a.presses, b.presses) && samePresses(a.resting, b.resting);
}

/** How the hand lies again that presses, or lets go of, all that it did before; null where it does neither. */
export function laidAgain(now: Pick<Known, "presses" | "resting">, before: Pick<Known, "presses" | "pressed" | "letGo">): Lay | null {
  if (now.presses.length > 0 === before.presses.length > 0) return null;
  const lay = now.presses.length > 0 ? before.pressed : before.letGo;
  return lay && isLaidAs(lay, now) ? lay : null;
}

/** With how the hand lies now, to come back to. */
export function withLay(known: Known): Known {
  const { presses, resting, groups } = known;
  const lay = { presses, resting, groups: new Map([...groups].filter(([body]) => isLay(body))) };
  if (presses.length > 0) return sameLay(lay, known.pressed) ? known : { ...known, pressed: lay };
  return resting.length === 0 || sameLay(lay, known.letGo) ? known : { ...known, letGo: lay };
}

export function isLay(body: Body): boolean {
  return body === UNDERSIDE || body === IDLE;
}

export function samePlaces(a: readonly ActionPlace[] | undefined, b: readonly ActionPlace[]): boolean {
  return (
    a !== undefined &&
    a.length === b.length &&
    a.every(({ string, fret, finger }, k) => string === b[k]!.string && fret === b[k]!.fret && finger === b[k]!.finger)
  );
}

/** Every string that an action names. */
export function stringsOf({ strings = [], places = [] }: Action): number[] {
  return [...strings, ...places.map(({ string }) => string)];
}
