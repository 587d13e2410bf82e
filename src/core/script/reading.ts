import type { Action, ActionPlace } from "../document/plan.ts";
import { orderOf, type Press, pressedAt, samePress } from "../fingering/hand-state.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { byHabit, isOff, leant, palmBehind } from "./habits.ts";
import {
  bit,
  bodyOf,
  type Groups,
  isPart,
  type Known,
  type Lay,
  laidAgain,
  PALM,
  put,
  range,
  samePlaces,
  stringsOf,
  TAP,
  THUMB,
  THUMB_BACK,
  UNDERSIDE,
  WRAP,
  withLay,
} from "./known.ts";

const SETS_DOWN: ReadonlySet<Action["does"]> = new Set(["down", "hammer", "slide", "pull"]);

const STROKES: ReadonlySet<Action["does"]> = new Set(["stroke", "pluck", "brush", "chuck", "rake", "click"]);

const TOLD_OF_CONTACTS: ReadonlySet<Action["does"]> = new Set(["lean", "rest", "lay", "thumb-over", "thumb-off", "palm", "follow", "plant", "park", "lift"]);

/** What the actions of one step say, before habit adds to it. */
export interface Heard {
  /** Chords and shapes with their places. */
  actions: readonly Action[];
  /** Where fingers press then, and where they rest. */
  hands: Pick<Known, "presses" | "resting">;
  /** Strokes with their strings. */
  strokes: readonly Action[];
  /** Strings that no finger presses and that fingers lie on as long as nothing is struck, as bits. */
  under: number;
}

export function hear(known: Known, said: readonly Action[]): Heard {
  const actions = said.map((action) => withPlaces(known, action));
  const strokes = strokesIn(known, actions);
  const hands = pressedAfter(known, actions);
  return { actions, hands, strokes, under: strokes.some(({ does }) => does === "stroke") ? underFingers(known, hands) : 0 };
}

/** What is known by habit after the actions of one step: what they say of contacts is left out. */
export function habitsAfter(known: Known, { actions, hands, strokes, under }: Heard): Known {
  const struck = strokes.filter((action) => doesSound(action, under)).flatMap(stringsOf);
  const again = laidAgain(hands, known);
  const last = strokes[0] ? stringsOf(strokes[0]).sort((a, b) => a - b) : known.struck;
  const chuck = strokes.find(({ does }) => does === "chuck");
  const chucks = chuck ? { strings: stringsOf(chuck), from: chuck.from } : known.chucks;
  const shape = hands.presses.length > 1 ? hands.presses : known.shape;
  const habits = {
    ...known,
    ...hands,
    shape,
    struck: last,
    chucks,
    open: opened(known, hands, struck, strokes, again),
    leans: !known.arched && (again ? again.groups.has(UNDERSIDE) : known.leans || isIndexDown(actions)),
    bending: bendingAfter(known, hands.presses, actions),
    chords: named(known, actions),
  };
  habits.groups = byHabit(habits, known, strokes, tappedAfter(known, actions));
  return habits;
}

/** The same with what the actions say of contacts. */
export function toldAfter(habits: Known, actions: readonly Action[]): Known {
  let now = habits;
  for (const action of actions) if (TOLD_OF_CONTACTS.has(action.does)) now = toldOf(now, action);
  const open = untouched(now.open, now.groups);
  return withLay(open === now.open ? now : { ...now, open });
}

/** Strings that the tapping finger holds: until it pulls off, or the string is struck or slurred on. */
function tappedAfter({ groups }: Known, actions: readonly Action[]): readonly number[] {
  const played = new Set(actions.filter(({ does }) => STROKES.has(does) || SETS_DOWN.has(does) || does === "tap").flatMap(stringsOf));
  const fresh = actions.filter(({ does }) => does === "tap").flatMap(stringsOf);
  return [...(groups.get(TAP) ?? []).filter((string) => !played.has(string)), ...fresh].sort((a, b) => a - b);
}

/** Whether a stroke makes strings sound; one through strings that all lie under fingers does not, unless it is said to. */
function doesSound(action: Action, under: number): boolean {
  const { does, part = "" } = action;
  if (does === "chuck" || does === "click" || part.startsWith("dead")) return false;
  return does !== "stroke" || part.startsWith("open") || !areAllIn(under, action);
}

/** Whether all strings of an action are among these bits. */
function areAllIn(bits: number, action: Action): boolean {
  return stringsOf(action).every((string) => (bits & bit(string)) !== 0);
}

/** Strings that no finger presses and that fingers lie on, as long as nothing is struck, as bits. */
function underFingers(before: Known, { presses, resting }: Heard["hands"]): number {
  let under = 0;
  for (const [body, strings] of byHabit({ ...before, presses, resting, bending: [] }, before, [])) {
    if (body.hand !== "fretting") continue;
    const lay = body.part === "ease" ? strings : (before.groups.get(body) ?? []);
    for (const string of strings) if (lay.includes(string) && pressedAt(presses, string) === 0) under |= bit(string);
  }
  return under;
}

/** Which strings the strokes of one step go through, and whether they sound. */
export function strokesKnown({ strokes, under }: Heard): { strings: number[]; sounds: boolean }[] {
  return strokes.map((action) => ({ strings: stringsOf(action), sounds: doesSound(action, under) }));
}

/** Strokes with their strings, those that were said or those that habit gives them. */
function strokesIn(known: Known, actions: readonly Action[]): Action[] {
  return actions
    .filter((action) => action.hand === "picking" && STROKES.has(action.does))
    .map((action) => {
      if (action.does !== "chuck") return action.strings || action.places ? action : { ...action, strings: [...struckByHabit(known, actions)] };
      // Of one made as the last one was nothing more is said.
      return action.strings || !known.chucks ? action : madeAs(action, known.chucks);
    });
}

function madeAs({ from: _, ...action }: Action, { strings, from }: NonNullable<Known["chucks"]>): Action {
  return { ...action, strings: [...strings], ...(from === undefined ? {} : { from }) };
}

/** Whether the strokes of one step are dead without being said. */
export function isDeadByHabit({ strokes, under }: Heard): boolean {
  return strokes.every((action) => action.does !== "stroke" || areAllIn(under, action));
}

/** A chord said before by name is put down as it was then, a shape that moves as it lay before. */
function withPlaces({ chords, shape }: Known, action: Action): Action {
  if (action.does !== "down" || action.places) return action;
  const places = action.chord !== undefined ? chords.get(action.chord) : action.to !== undefined ? placesOf(movedTo(shape, action.to)) : undefined;
  return places ? { ...action, places: [...places] } : action;
}

/** A shape with its first finger at another fret. */
export function movedTo(shape: readonly Press[], fret: number): Press[] {
  const by = fret - (shape[0]?.fret ?? fret);
  return shape.map((press) => ({ ...press, fret: press.fret + by }));
}

/** The strings of presses as places, the bass ones first. */
export function placesOf(presses: readonly Press[]): ActionPlace[] {
  const places = presses.flatMap(({ finger, fret, strings }) => strings.map((string) => ({ string, fret, finger: finger as ContactFinger })));
  return places.sort((a, b) => b.string - a.string);
}

function named({ chords }: Known, actions: readonly Action[]): ReadonlyMap<string, readonly ActionPlace[]> {
  const fresh = actions.flatMap(({ does, chord, places }) => (does === "down" && chord !== undefined && places ? [[chord, places] as const] : []));
  return fresh.every(([chord, places]) => samePlaces(chords.get(chord), places)) ? chords : new Map([...chords, ...fresh]);
}

/** Who bends or shakes a string, until that finger is put down anew. */
function bendingAfter({ bending, presses: before }: Known, presses: readonly Press[], actions: readonly Action[]): ContactFinger[] {
  const stays = bending.filter(
    (finger) => presses.some((press) => press.finger === finger && before.some((was) => samePress(was, press))) && !isDown(actions, finger),
  );
  const shaped = actions.filter(({ does }) => does === "bend" || does === "vibrato");
  const fresh = shaped.flatMap(({ places }) => (places ?? lastDown(actions)).map(({ finger }) => finger));
  return [...new Set([...stays, ...fresh])];
}

/** An index put down anew leans again. */
function isIndexDown(actions: readonly Action[]): boolean {
  return actions.some(({ does, places = [] }) => SETS_DOWN.has(does) && places.some(({ finger, fret }) => finger === 1 && fret !== 0));
}

function isDown(actions: readonly Action[], finger: ContactFinger): boolean {
  return lastDown(actions).some((place) => place.finger === finger);
}

/** What a bend or a vibrato is on that names no place: what is put down with it. */
function lastDown(actions: readonly Action[]): readonly ActionPlace[] {
  return actions.findLast(({ does }) => SETS_DOWN.has(does))?.places ?? [];
}

/** The strings of a stroke that names none: from the first to the last of the notes put down with it, else those of the stroke before. */
export function struckByHabit(known: Known, actions: readonly Action[]): readonly number[] {
  const down = actions
    .map((action) => withPlaces(known, action))
    .filter(({ does, part }) => does === "down" && !part)
    .flatMap(stringsOf);
  return down.length > 0 ? range(Math.min(...down), Math.max(...down)) : known.struck;
}

/** Whether a finger leaves its string by pulling off to it open. */
export function isPulledOff({ finger, strings }: Press, actions: readonly Action[]): boolean {
  const isOwn = (place: ActionPlace) => place.fret === 0 && place.finger === finger && strings.length === 1 && strings[0] === place.string;
  return actions.some(({ does, places = [] }) => does === "pull" && places.some(isOwn));
}

/** Under a tapped note a finger that waits behind another one is pressed as soon as that lets go: it never left. */
export function isFreed(behind: Press, was: Press, tapped: readonly number[]): boolean {
  return was.fret > behind.fret && behind.strings.every((string) => tapped.includes(string) && was.strings.includes(string));
}

/** Whether an action says where fingers press, or where they rest that pressed. */
export function movesFingers({ hand, does, part }: Action): boolean {
  return hand === "fretting" && !part && MOVES_FINGERS.has(does);
}

const MOVES_FINGERS: ReadonlySet<Action["does"]> = new Set([...SETS_DOWN, "press", "let-go", "lift", "rest"]);

/** Fingers that press and that rest where they pressed. */
function pressedAfter({ presses, resting }: Known, actions: readonly Action[]): Heard["hands"] {
  if (!actions.some(movesFingers)) return { presses, resting };
  const fretting = actions.filter(({ hand }) => hand === "fretting");
  const fingers = (does: Action["does"]) => new Set(fretting.flatMap(({ does: is, by, part }) => (is === does && by !== undefined && !part ? [by] : [])));
  const isAll = fretting.some(({ does, by }) => does === "let-go" && by === undefined);
  const [given, kept, lifted, pressedAgain] = [fingers("let-go"), fingers("hold"), fingers("lift"), fingers("press")];
  const setDown = pressesFrom(
    fretting.filter(({ does, part }) => SETS_DOWN.has(does) && !part).flatMap(({ places = [] }) => places.filter(({ fret }) => fret !== 0)),
  );
  const isAgain = fretting.some(({ does, by }) => does === "press" && by === undefined);
  const tapped = fretting.filter(({ does }) => does === "tap").flatMap(stringsOf);
  const isNowFree = (press: Press) => presses.some((was) => given.has(was.finger as 1) && isFreed(press, was, tapped));
  const again = resting.filter((press) => (isAgain && !lifted.has(press.finger as 1)) || pressedAgain.has(press.finger as 1) || isNowFree(press));
  const down = [...setDown, ...again.filter(({ finger }) => setDown.every((press) => press.finger !== finger))];
  const hasLeft = (press: Press) => isPulledOff(press, fretting);
  // A chord by name is all that the hand holds; in a line one finger presses at a time.
  const isChord = fretting.some(({ does, chord }) => does === "down" && chord !== undefined);
  const movesOn = down.length > 0 && presses.length === 1 && presses[0]!.strings.length === 1;
  const stays = (press: Press) => !hasLeft(press) && staysDown(press);
  const staysDown = ({ finger }: Press) =>
    !isAll &&
    !isChord &&
    !given.has(finger as 1) &&
    !lifted.has(finger as 1) &&
    (!movesOn || kept.has(finger as 1)) &&
    down.every((press) => press.finger !== finger);
  const now = [...presses.filter(stays), ...down];
  const laid = pressesFrom(fretting.filter(({ does, part }) => does === "rest" && !part).flatMap(({ places = [] }) => places));
  // A chord by name takes the whole hand: what is not in it leaves the strings.
  const left = [...(isChord ? [] : [...resting, ...presses.filter((press) => !stays(press) && !hasLeft(press))]), ...laid].filter(
    ({ finger }, k, all) =>
      now.every((press) => press.finger !== finger) && !lifted.has(finger as 1) && all.findLastIndex((other) => other.finger === finger) === k,
  );
  return { presses: byFinger(now), resting: byFinger(left) };
}

/** Places by finger: a finger at one fret presses all its strings. */
export function pressesFrom(places: readonly ActionPlace[]): Press[] {
  const presses: Press[] = [];
  for (const { string, fret = 0, finger } of places) {
    const known = presses.find((press) => press.finger === finger && press.fret === fret);
    if (known) (known.strings as number[]).push(string);
    else presses.push({ finger: finger as Press["finger"], fret, strings: [string] });
  }
  return presses.map((press) => ({ ...press, strings: [...press.strings].sort((a, b) => a - b) }));
}

function byFinger(presses: readonly Press[]): Press[] {
  return [...presses].sort((a, b) => orderOf(a.finger) - orderOf(b.finger));
}

/** Strings struck where no finger presses and none lies ring open until something touches them or they are struck dead. */
function opened(before: Known, hands: Heard["hands"], struck: readonly number[], strokes: readonly Action[], again: Lay | null): number {
  let { open } = before;
  for (const action of strokes) for (const string of stringsOf(action)) open &= ~bit(string);
  const free = struck.filter((string) => pressedAt(hands.presses, string) === 0);
  if (free.length === 0) return open;
  const held = heldThroughStroke({ ...before, ...hands }, again);
  for (const string of free) if (!held.has(string)) open |= bit(string);
  return open;
}

/** Strings under idle fingers and under a leaning index, where they lay before the stroke. */
function heldThroughStroke(now: Known, again: Lay | null): ReadonlySet<number> {
  const under = (part: string, among: Groups) => [...among].flatMap(([body, strings]) => (isPart(body, "fretting", part) ? strings : []));
  if (again) return new Set([...under("spare", again.groups), ...under("underside", again.groups)]);
  const was = under("underside", now.groups);
  const leaning = now.leans ? leant(now, (s) => (now.open & bit(s)) !== 0).filter((s) => was.includes(s)) : [];
  return new Set([...under("spare", now.groups), ...leaning]);
}

function untouched(open: number, groups: Groups): number {
  let left = open;
  for (const strings of groups.values()) for (const string of strings) left &= ~bit(string);
  return left;
}

function isIdle({ hand, part }: Action): boolean {
  return hand === "fretting" && part === "spare";
}

/** What one action says of contacts. */
function toldOf(known: Known, action: Action): Known {
  const groups = new Map(known.groups);
  const { does, part, by, strings = [], places = [], from } = action;
  const finger = part === "lay" || part === "slap" ? 2 : by;
  const body = bodyOf(part === "fret-wrap" ? "aid" : action.hand, part ?? "", finger);
  switch (does) {
    case "lean":
      if (part === "arched") {
        groups.delete(UNDERSIDE);
        return { ...known, groups, leans: false, arched: true };
      }
      put(groups, bodyOf("fretting", "underside", by ?? 1), strings);
      return { ...known, groups, leans: by === undefined ? strings.length > 0 && !known.arched : known.leans };
    case "lay":
      for (const other of [...groups.keys()]) if (isPart(other, "fretting", "ease")) groups.delete(other);
      put(groups, bodyOf("fretting", part ?? "lay", 2), strings);
      return { ...known, groups };
    case "thumb-over":
    case "thumb-off":
      put(groups, bodyOf("fretting", "thumb", "T"), strings);
      return { ...known, groups };
    case "palm":
      put(groups, PALM, strings);
      return { ...known, groups, palmFollows: 0, palmSaid: true };
    case "follow":
      put(groups, by === "p" ? THUMB : PALM, action.strings ?? palmBehind(known, Math.max(0, ...known.struck), from ?? known.palmFollows));
      return by === "p" ? { ...known, groups, thumbFollows: from ?? 2 } : { ...known, groups, palmFollows: from ?? known.palmFollows, palmSaid: true };
    case "lift":
      if (!part) {
        groups.delete(bodyOf("fretting", "ease", by));
        return { ...known, groups, resting: known.resting.filter(({ finger }) => finger !== by) };
      }
      groups.delete(body);
      if (part === "palm") return { ...known, groups, palmFollows: 0, palmSaid: true };
      if (part === "thumb" && action.hand === "picking") return { ...known, groups, thumbFollows: 0 };
      return { ...known, groups, rests: part === "rest-stroke" ? false : known.rests, lies: isIdle(action) ? false : known.lies };
    case "rest":
      if (!part) {
        const resting = pressesFrom(places);
        for (const { finger, strings: on } of resting) put(groups, bodyOf("fretting", "ease", finger as ContactFinger), on);
        const others = known.resting.filter(({ finger }) => resting.every((press) => press.finger !== finger));
        return { ...known, groups, resting: byFinger([...others, ...resting]) };
      }
      if (part === "fret-wrap") {
        // First it is put over all strings, those that a finger presses aside; what is said later names just the strings that are meant.
        const tapped = groups.get(TAP) ?? [];
        const lies = known.wrapped ? strings : strings.filter((s) => pressedAt(known.presses, s) === 0 && !tapped.includes(s));
        put(groups, WRAP, lies);
        return { ...known, groups, wrapped: true };
      }
      put(groups, body, strings);
      if (isIdle(action) && isOff(known)) groups.delete(UNDERSIDE);
      // There is one thumb: resting on the string it left, it is nowhere else.
      if (body === THUMB) groups.delete(THUMB_BACK);
      if (body === THUMB_BACK) groups.delete(THUMB);
      if (part === "rest-stroke") return { ...known, groups, rests: true };
      return { ...known, groups, lies: isIdle(action) || known.lies };
    default:
      put(groups, body, strings);
      return { ...known, groups };
  }
}
