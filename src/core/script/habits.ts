import type { Action } from "../document/plan.ts";
import { type Press, pressedAt, samePress, samePresses, underBarre } from "../fingering/hand-state.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import {
  type Body,
  bit,
  bodyOf,
  HEEL,
  IDLE,
  isLay,
  type Known,
  LAY,
  laidAgain,
  PALM,
  put,
  range,
  SLAP,
  stringsOf,
  TAP,
  THUMB,
  UNDERSIDE,
  WRAP,
} from "./known.ts";

/* Where parts of the hands lie when nothing else is said of them. */

/** Parts that lie there for one step, until the next stroke, or as long as a press. */
const FOR_A_STEP = new Set(["rest-stroke", "replant"]);

const UNTIL_A_STROKE = new Set(["heel", "roll", "slap"]);

const WITH_A_PRESS = new Set(["flat"]);

/** Where everything lies if nothing more is said. */
export function byHabit(now: Known, before: Known, strokes: readonly Action[], tapped: readonly number[] = []): Map<Body, readonly number[]> {
  const groups = new Map<Body, readonly number[]>();
  const pressChanged = !samePresses(now.presses, before.presses);
  for (const [body, strings] of before.groups) {
    const { part } = body;
    // A hand that has slapped, or come down flat, lies there until something is played; so does a finger that rolled.
    if (UNTIL_A_STROKE.has(part) && (strokes.length > 0 || (part === "roll" && pressChanged))) continue;
    if (FOR_A_STEP.has(part) || (WITH_A_PRESS.has(part) && pressChanged) || part === "ease" || part === "tip" || (body === IDLE && before.lies)) continue;
    groups.set(body, strings);
  }
  if (strokes.some(({ by, does }) => does === "stroke" && by === "T")) {
    groups.delete(LAY);
    put(groups, SLAP, range(1, now.count));
  }
  put(groups, TAP, tapped);
  const pressed = (string: number) => pressedAt(now.presses, string) > 0;
  const isOpen = (string: number) => (now.open & bit(string)) !== 0 || tapped.includes(string);
  const isAcross = [...groups.keys()].some((body) => body === LAY || body === SLAP);
  for (const { finger, strings } of isAcross ? [] : now.resting) {
    put(
      groups,
      bodyOf("fretting", "ease", finger as ContactFinger),
      underBarre({ finger, strings }).filter((s) => !pressed(s) && !isOpen(s)),
    );
  }
  const rolled = rolledOff(now, before);
  for (const [finger, string] of rolled) if (!pressed(string) && !isOpen(string)) put(groups, bodyOf("fretting", "roll", finger), [string]);
  for (const [finger, string] of tipsOf(now)) {
    // A tip that was away stays away as long as its finger does not move; through a dead stroke also from a string that rang.
    const press = now.presses.find((p) => p.finger === finger)!;
    const wasFree = (before.open & bit(string)) === 0 || strokes.some(({ does }) => does === "chuck" || does === "click");
    const wasThere = ["tip", "roll"].some((part) => before.groups.get(bodyOf("fretting", part, finger))?.includes(string));
    const isAway = wasFree && before.presses.some((was) => samePress(was, press)) && !wasThere;
    if (rolled.get(finger) !== string && !isAway) put(groups, bodyOf("fretting", "tip", finger), [string]);
  }
  // An index that stays does not lean over a string that has just stopped ringing; one that leaned over nothing goes on so.
  const index = now.presses.find(({ finger }) => finger === 1);
  const stays = index !== undefined && before.presses.some((was) => samePress(was, index));
  const wasClear = (string: number) => !before.groups.has(UNDERSIDE) && pressedAt(before.presses, string) === 0;
  const rang = (string: number) => isOpen(string) || (stays && ((before.open & bit(string)) !== 0 || (wasClear(string) && !pressed(string))));
  // Where it rolled it lies already.
  const hasRolled = (string: number) => index !== undefined && rolled.get(1) === string;
  // Where nothing is pressed and other fingers lie across, the index has nothing to lean on.
  const areAcross = now.lies && isOff(now);
  if (now.leans && !areAcross)
    put(
      groups,
      UNDERSIDE,
      leant(now, rang).filter((s) => !pressed(s) && !hasRolled(s)),
    );
  if (now.wrapped)
    put(
      groups,
      WRAP,
      range(1, now.count).filter((s) => !pressed(s) && !tapped.includes(s)),
    );
  if (now.lies) {
    // A finger down behind another one touches nothing.
    const busy = [...now.presses, ...now.resting.filter(({ strings, fret }) => strings.some((s) => pressedAt(now.presses, s) < fret))];
    const idle = ([1, 2, 3, 4] as const).filter((finger) => busy.every((press) => press.finger !== finger) && (finger !== 1 || !now.leans));
    const lowest = Math.min(now.count + 1, ...now.presses.flatMap(({ strings }) => strings));
    // Fingers that rest next to the grip have their strings already.
    const below = range(1, lowest - 1).reverse();
    const rested = below.findIndex((s) => pressedAt(now.resting, s) === 0);
    const beside = now.presses.length === 0 ? below.filter((s) => pressedAt(now.resting, s) === 0) : below.slice(rested < 0 ? below.length : rested);
    const end = beside.findIndex(isOpen);
    const free = (end < 0 || now.presses.length === 0 ? beside : beside.slice(0, end)).filter((s) => !isOpen(s));
    // Fingers that lie on the very string that is pressed go with it.
    const was = before.groups.get(IDLE) ?? [];
    const isAlong = was.some((string) => pressedAt(before.presses, string) > 0);
    const along = now.presses.length > 0 ? range(Math.max(1, lowest - 2), lowest) : was;
    if (idle.length > 0) put(groups, IDLE, isAlong ? along : free.slice(0, now.presses.length > 0 ? 2 * idle.length : now.count).sort((a, b) => a - b));
  }
  const again = laidAgain(now, before);
  if (again) {
    for (const body of [...groups.keys()]) if (isLay(body)) groups.delete(body);
    const isFree = (s: number) => !pressed(s) && !tapped.includes(s);
    for (const [body, strings] of again.groups) put(groups, body, strings.filter(isFree));
  }
  habitsOfPicking(now, groups, strokes);
  return groups;
}

/** Whether no finger presses, or rests where it pressed. */
export function isOff({ presses, resting }: Pick<Known, "presses" | "resting">): boolean {
  return presses.length === 0 && resting.length === 0;
}

/**
 * What lies under an index that leans: all strings between those that it presses and on their treble side, as far as one that rings; behind other
 * fingers as far as the string beside them or one beyond where it pressed; all of them where nothing presses.
 */
export function leant({ presses, resting, count }: Known, isOpen: (string: number) => boolean): number[] {
  const index = presses.find(({ finger }) => finger === 1);
  if (index) {
    const treble = range(1, index.strings[0]! - 1);
    const end = treble.findLastIndex(isOpen);
    const between = range(index.strings[0]!, index.strings.at(-1)!).filter((s) => !isOpen(s));
    return [...treble.slice(end + 1), ...between];
  }
  const home = resting.find(({ finger }) => finger === 1);
  const own = home ? underBarre(home) : [];
  const tip = Math.max(...presses.flatMap(({ strings }) => strings)) + 1;
  const isBehind = home !== undefined && presses.every(({ fret }) => fret >= home.fret);
  const furthest = presses.length > 0 ? Math.min(count, Math.max(tip, ...(isBehind ? own.map((s) => s + 1) : []))) : count;
  return range(1, furthest).filter((s) => !own.includes(s) && !isOpen(s));
}

/** A finger that goes to the next string at its fret rolls there and stays on the one it left, unless that has sounded otherwise since. */
function rolledOff(now: Known, before: Known): Map<ContactFinger, number> {
  const found = new Map<ContactFinger, number>();
  for (const { finger, fret, strings } of now.presses) {
    const was = [...before.presses, ...before.resting].find((press) => press.finger === finger && press.fret === fret);
    const isAway = ({ strings: [s] }: Press) => doesRing(before, s!) && pressedAt(before.presses, s!) < fret;
    if (was && !isAway(was) && was.strings.length === 1 && strings.length === 1 && Math.abs(was.strings[0]! - strings[0]!) === 1)
      found.set(finger as ContactFinger, was.strings[0]!);
  }
  return found;
}

/** The tip of the finger on the bass-most pressed string, and of the index, against its bass-side neighbour. */
function tipsOf({ presses, open, count, bending }: Known): [ContactFinger, number][] {
  const lowest = Math.max(0, ...presses.flatMap(({ strings }) => strings));
  return presses.flatMap(({ finger, strings }): [ContactFinger, number][] => {
    if (finger === 0 || finger === "T" || bending.includes(finger)) return [];
    const own = Math.max(...strings);
    const beside = own + 1;
    const isFree = beside <= count && pressedAt(presses, beside) === 0 && (open & bit(beside)) === 0;
    return (own === lowest || finger === 1) && isFree ? [[finger, beside]] : [];
  });
}

/** Right beside what is struck: so the thumb of a pick hand follows, and the palm behind it. */
const CLOSE = 1;

/** Strings under a thumb that follows. */
const THUMB_STRINGS = 3;

/** Strings that a strummed chord has at least. */
const CHORD = 3;

function habitsOfPicking(now: Known, groups: Map<Body, readonly number[]>, strokes: readonly Action[]): void {
  const chuck = strokes.find(({ does, from }) => does === "chuck" && from !== undefined);
  if (chuck) {
    for (const body of [...groups.keys()]) if (body.hand === "picking") groups.delete(body);
    put(groups, HEEL, range(chuck.from!, now.count));
    return;
  }
  const struck = strokes.flatMap(stringsOf);
  if (struck.length === 0) return;
  // A finger that plucks rests nowhere else.
  for (const { places = [] } of strokes.filter(({ does }) => does === "pluck"))
    for (const { finger } of places) for (const part of ["plant", "park", "thumb", "thumb-return"]) groups.delete(bodyOf("picking", part, finger));
  const lowest = Math.max(...struck);
  const lowestRinging = Math.max(lowest, ...range(1, now.count).filter((string) => doesRing(now, string)));
  const isLine = struck.length < CHORD && lowestRinging === lowest;
  if (strokes.some(({ direction }) => direction !== undefined)) {
    if (now.thumbFollows === CLOSE) put(groups, PALM, range(lowestRinging + CLOSE + THUMB_STRINGS, now.count));
    else if (now.palmFollows > 0 && (now.palmSaid || isLine)) put(groups, PALM, palmBehind(now, lowest, now.palmFollows));
  }
  // On bass the next string is the one on which the plucking finger comes to rest, where another is left for the thumb.
  const beside = now.thumbFollows === CLOSE ? lowestRinging + CLOSE : Math.min(now.count, lowest + now.thumbFollows);
  if (now.thumbFollows > 0) put(groups, THUMB, range(beside > lowest ? beside : now.count + 1, Math.min(now.count, beside + THUMB_STRINGS - 1)));
  if (now.rests)
    for (const { places = [] } of strokes.filter(({ does }) => does === "pluck"))
      for (const { string, finger } of places)
        if (finger !== "p" && string < now.count) put(groups, bodyOf("picking", "rest-stroke", finger as ContactFinger), [string + 1]);
}

/** Where a palm lies that follows so many strings behind the lowest one struck: it keeps off what rings. */
export function palmBehind(known: Known, lowest: number, from: number): number[] {
  const beyond = range(lowest + from, known.count);
  return beyond.slice(beyond.findLastIndex((string) => doesRing(known, string)) + 1);
}

function doesRing({ open, presses }: Known, string: number): boolean {
  return (open & bit(string)) !== 0 || pressedAt(presses, string) > 0;
}
