import { chimingPartial } from "../acoustics/chime.ts";
import { pressedFret, type ShapeContext } from "./context.ts";
import { bit, type Contact, type Pose, type Shape, type StringMask } from "./types.ts";

/** How likely a contact fails to do its work. From memory, adjustable; only the order matters much. */
const FAILS: Readonly<Record<string, number>> = {
  tip: 0.06,
  underside: 0.03,
  flat: 0.1,
  ease: 0.03,
  roll: 0.05,
  spare: 0.05,
  lay: 0.02,
  slap: 0.04,
  thumb: 0.06,
  palm: 0.02,
  heel: 0.02,
  "thumb-edge": 0.15,
  "rest-stroke": 0.05,
  replant: 0.05,
  park: 0.05,
  "thumb-return": 0.04,
  plant: 0.05,
  "fret-wrap": 0.1,
};

/** Effort of holding a contact in tenths per second, per finger or palm. From memory, adjustable. */
export const HOLD: Readonly<Record<string, number>> = {
  tip: 1,
  underside: 2,
  flat: 4,
  ease: 1,
  roll: 2,
  spare: 6,
  lay: 5,
  slap: 6,
  thumb: 3,
  palm: 3,
  heel: 6,
  "thumb-edge": 3,
  "rest-stroke": 1,
  replant: 1,
  park: 3,
  "thumb-return": 2,
  plant: 2,
  "fret-wrap": 0,
};

/** Contacts that end a sounding note or deaden a struck string wherever they lie. */
const ALWAYS_STOPS = new Set(["ease", "roll", "palm", "heel", "lay", "slap"]);

/** What a group of contacts does, worked out once and then joined with others by bits. */
export interface Doing {
  contacts: readonly Contact[];
  touches: StringMask;
  /** Touched more than once. */
  twice: StringMask;
  muffles: StringMask;
  /** Touched by something wide, which never chimes. */
  wide: StringMask;
  alwaysStops: StringMask;
  offBridge: StringMask;
  /** Touched by one lone narrow finger that lies over a node. */
  chimesAlone: StringMask;
  /** Of these, those it lets sound an octave up: loud enough to be heard even of a string that is only shaken. */
  octaveAlone: StringMask;
  wrapped: StringMask;
  fails: readonly number[];
}

export function doingOf(context: ShapeContext, contacts: readonly Contact[]): Doing {
  let touches = 0;
  let twice = 0;
  let muffles = 0;
  let wide = 0;
  let alwaysStops = 0;
  let offBridge = 0;
  let alone = 0;
  let octave = 0;
  let wrapped = 0;
  const fails: number[] = new Array(context.count).fill(1);
  for (const contact of contacts) {
    const mask = bit(contact.string);
    if (context.intents[contact.string - 1] === "muffled") {
      muffles |= mask;
      continue;
    }
    fails[contact.string - 1]! *= FAILS[contact.part] ?? 0.1;
    if (contact.part === "fret-wrap") {
      wrapped |= mask;
      continue;
    }
    twice |= touches & mask;
    touches |= mask;
    if (!contact.narrow) wide |= mask;
    else {
      const partial = chimesAlone(context, contact);
      if (partial > 0) alone |= mask;
      if (partial === 2) octave |= mask;
    }
    if (ALWAYS_STOPS.has(contact.part)) alwaysStops |= mask;
    if (contact.part !== "palm") offBridge |= mask;
  }
  return { contacts, touches, twice, muffles, wide, alwaysStops, offBridge, chimesAlone: alone, octaveAlone: octave, wrapped, fails };
}

const knownChimes = new WeakMap<ShapeContext["strings"], Map<number, number>>();

/** The partial at which a contact by itself lets its string chime, 0 for none; worked out once per string, pressed fret and place. */
export function chimesAlone(context: ShapeContext, contact: Contact): number {
  const known = knownChimes.get(context.strings) ?? new Map<number, number>();
  knownChimes.set(context.strings, known);
  const { fromMm, toMm } = contact.touch;
  // Places lie hundredths of a millimetre apart at least.
  const key = ((Math.round(fromMm * 100) * 256 + Math.round((toMm - fromMm) * 2)) * 64 + pressedFret(context, contact.string)) * 16 + contact.string;
  const found = known.get(key);
  if (found !== undefined) return found;
  const made = chimes(context, contact.string, [contact]);
  known.set(key, made);
  return made;
}

function chimes(context: ShapeContext, string: number, contacts: readonly Contact[]): number {
  return (
    chimingPartial(
      context.strings.live(string, pressedFret(context, string)),
      contacts.map((c) => c.touch),
    ) ?? 0
  );
}

/** A shape from groups of contacts, its pose and its effort. */
export function joinShape(context: ShapeContext, doings: readonly Doing[], pose: Pose, effort: { hold: number; perStroke: number }): Shape {
  let touches = 0;
  let twice = 0;
  let muffles = 0;
  let wide = 0;
  let alwaysStops = 0;
  let offBridge = 0;
  let chiming = 0;
  let octave = 0;
  let wrapped = 0;
  const fails: number[] = new Array(context.count).fill(1);
  const contacts: Contact[] = [];
  for (const doing of doings) {
    if (doing.contacts.length === 0) continue;
    twice |= doing.twice | (touches & doing.touches);
    touches |= doing.touches;
    muffles |= doing.muffles;
    wide |= doing.wide;
    alwaysStops |= doing.alwaysStops;
    offBridge |= doing.offBridge;
    chiming |= doing.chimesAlone;
    octave |= doing.octaveAlone;
    wrapped |= doing.wrapped;
    for (let s = 0; s < context.count; s++) fails[s]! *= doing.fails[s]!;
    for (const contact of doing.contacts) contacts.push(contact);
  }
  chiming &= ~wide;
  octave &= ~wide;
  // Two narrow contacts on one string chime only when they share a node.
  const together = twice & ~wide;
  if (together !== 0)
    for (let string = 1; string <= context.count; string++) {
      if ((together & bit(string)) === 0) continue;
      const here = contacts.filter((c) => c.string === string && c.part !== "fret-wrap");
      const partial = chimes(context, string, here);
      chiming = partial > 0 ? chiming | bit(string) : chiming & ~bit(string);
      octave = partial === 2 ? octave | bit(string) : octave & ~bit(string);
    }
  return {
    contacts,
    damps: (touches & ~octave) | wrapped,
    stops: (touches & ~chiming) | alwaysStops,
    deadens: offBridge & ~chiming,
    muffles,
    ...effort,
    pose,
    fails,
  };
}

export function makeShape(context: ShapeContext, contacts: readonly Contact[], pose: Pose, effort: { hold: number; perStroke: number }): Shape {
  return joinShape(context, [doingOf(context, contacts)], pose, effort);
}

/** Drops shapes that another one of the same pose equals or betters in everything, keeping the order. */
export function withoutDominated(shapes: readonly Shape[]): Shape[] {
  const byPose = new Map<string, Shape[]>();
  for (const shape of shapes) {
    const same = byPose.get(shape.pose.key);
    if (same) same.push(shape);
    else byPose.set(shape.pose.key, [shape]);
  }
  return shapes.filter((shape) => {
    const same = byPose.get(shape.pose.key)!;
    const own = same.indexOf(shape);
    return !same.some((other, k) => k !== own && betters(other, shape) && (k < own || !betters(shape, other)));
  });
}

/** Whether a does at least what b does, with at most its effort and risk. */
function betters(a: Shape, b: Shape): boolean {
  if (a.hold > b.hold || a.perStroke > b.perStroke) return false;
  if (!covers(a.damps, b.damps) || !covers(a.stops, b.stops) || !covers(a.deadens, b.deadens) || !covers(a.muffles, b.muffles)) return false;
  for (let s = 0; s < a.fails.length; s++) if (a.fails[s]! > b.fails[s]!) return false;
  return true;
}

function covers(a: StringMask, b: StringMask): boolean {
  return (a & b) === b;
}
