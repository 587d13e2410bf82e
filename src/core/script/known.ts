import { type Press, pressedAt } from "../fingering/hand-state.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { sameItems } from "../memory/fold.ts";
import type { Action, ActionPlace } from "../verdict/document.ts";

/*
 * What somebody knows of both hands who is told nothing but actions: what was told, and what hands do by habit. Habits are told
 * once; after that only what departs from them is.
 */

/** Strings under one part of one finger, by `keyOf`. */
export type Groups = ReadonlyMap<string, readonly number[]>;

export interface Known {
  /** How many strings there are. */
  count: number;
  presses: readonly Press[];
  /** Fingers that rest where they pressed. */
  resting: readonly Press[];
  /** Everything that touches strings besides presses. */
  groups: Groups;
  /** Strings that the last stroke went through, ascending: told again only when they change. */
  struck: readonly number[];
  /** Strings, as bits, that were struck open and have not been touched since. */
  open: number;
  /** Fingers that bend or shake their string: they do nothing else. */
  bending: readonly ContactFinger[];
  /** Chords told by name, and where their fingers are. */
  chords: ReadonlyMap<string, readonly ActionPlace[]>;
  /** The index leans wherever it presses. */
  leans: boolean;
  /** Fingers with nothing to press lie on strings beside the grip. */
  lies: boolean;
  /** A wrap lies near the nut, over every string that is not pressed. */
  wrapped: boolean;
  /** From how many strings below the struck one the palm lies that follows the pick; 0 when none follows. */
  palmFollows: number;
  thumbFollows: boolean;
  /** Plucking fingers come to rest on the next string. */
  rests: boolean;
}

export function nothingKnown(count: number): Known {
  return {
    count,
    presses: [],
    resting: [],
    groups: new Map(),
    struck: [],
    open: 0,
    bending: [],
    chords: new Map(),
    leans: true,
    lies: false,
    wrapped: false,
    palmFollows: 2,
    thumbFollows: false,
    rests: false,
  };
}

export function keyOf(hand: string, part: string, finger: ContactFinger | undefined): string {
  return `${hand} ${part} ${finger ?? ""}`;
}

const UNDERSIDE = keyOf("fretting", "underside", 1);
const WRAP = keyOf("aid", "fret-wrap", undefined);
const PALM = keyOf("picking", "palm", undefined);
const THUMB = keyOf("picking", "thumb", "p");
const THUMB_BACK = keyOf("picking", "thumb-return", "p");

/** Parts that lie there for one stroke, or as long as a press. */
const FOR_A_STROKE = new Set(["heel", "slap", "rest-stroke", "replant"]);
const WITH_A_PRESS = new Set(["roll", "flat"]);

const SETS_DOWN: ReadonlySet<Action["does"]> = new Set(["down", "hammer", "slide", "pull"]);
const STROKES: ReadonlySet<Action["does"]> = new Set(["stroke", "pluck", "brush", "chuck", "rake", "click"]);
const TOLD_OF_CONTACTS: ReadonlySet<Action["does"]> = new Set(["lean", "rest", "lay", "thumb-over", "thumb-off", "palm", "follow", "plant", "park", "lift"]);

/** What is known after the actions of one step. */
export function after(known: Known, told: readonly Action[]): Known {
  const actions = told.map((action) => withPlaces(known, action));
  const strokes = actions
    .filter((action) => action.hand === "picking" && STROKES.has(action.does))
    .map((action) => (action.strings || action.places ? action : { ...action, strings: [...struckByHabit(known, actions)] }));
  const hands = pressedAfter(known, actions);
  const struck = strokes.filter(({ does, part }) => does !== "chuck" && does !== "click" && part !== "dead").flatMap(stringsOf);
  const ringing = opened({ ...known, ...hands }, struck, strokes);
  const last = strokes[0] ? stringsOf(strokes[0]).sort((a, b) => a - b) : known.struck;
  const habits = { ...known, ...hands, struck: last, open: ringing, bending: bendingAfter(known, hands.presses, actions), chords: named(known, actions) };
  const groups = byHabit(habits, known, strokes);
  let now: Known = { ...habits, groups };
  for (const action of actions) if (TOLD_OF_CONTACTS.has(action.does)) now = toldOf(now, action);
  return { ...now, open: untouched(now.open, now.groups) };
}

/** A chord told before by name is put down as it was then. */
function withPlaces({ chords }: Known, action: Action): Action {
  const places = action.does === "down" && !action.places && action.chord !== undefined ? chords.get(action.chord) : undefined;
  return places ? { ...action, places: [...places] } : action;
}

function named({ chords }: Known, actions: readonly Action[]): ReadonlyMap<string, readonly ActionPlace[]> {
  const fresh = actions.flatMap(({ does, chord, places }) => (does === "down" && chord !== undefined && places ? [[chord, places] as const] : []));
  return fresh.every(([chord, places]) => samePlaces(chords.get(chord), places)) ? chords : new Map([...chords, ...fresh]);
}

export function samePlaces(a: readonly ActionPlace[] | undefined, b: readonly ActionPlace[]): boolean {
  return (
    a !== undefined &&
    a.length === b.length &&
    a.every(({ string, fret, finger }, k) => string === b[k]!.string && fret === b[k]!.fret && finger === b[k]!.finger)
  );
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

export function stringsOf({ strings = [], places = [] }: Action): number[] {
  return [...strings, ...places.map(({ string }) => string)];
}

/** Fingers that press and that rest where they pressed. */
function pressedAfter({ presses, resting }: Known, actions: readonly Action[]): { presses: Press[]; resting: Press[] } {
  const fretting = actions.filter(({ hand }) => hand === "fretting");
  const fingers = (does: Action["does"]) => new Set(fretting.flatMap(({ does: is, by, part }) => (is === does && by !== undefined && !part ? [by] : [])));
  const isAll = fretting.some(({ does, by }) => does === "let-go" && by === undefined);
  const [given, kept, lifted, pressedAgain] = [fingers("let-go"), fingers("hold"), fingers("lift"), fingers("press")];
  const setDown = pressesFrom(
    fretting.filter(({ does, part }) => SETS_DOWN.has(does) && !part).flatMap(({ places = [] }) => places.filter(({ fret }) => fret !== 0)),
  );
  const isAgain = fretting.some(({ does, by }) => does === "press" && by === undefined);
  const again = resting.filter(({ finger }) => (isAgain && !lifted.has(finger as 1)) || pressedAgain.has(finger as 1));
  const down = [...setDown, ...again.filter(({ finger }) => setDown.every((press) => press.finger !== finger))];
  // A chord by name is all that the hand holds; in a line one finger presses at a time.
  const isChord = fretting.some(({ does, chord }) => does === "down" && chord !== undefined);
  const movesOn = down.length > 0 && presses.length === 1 && presses[0]!.strings.length === 1;
  const stays = ({ finger }: Press) =>
    !isAll &&
    !isChord &&
    !given.has(finger as 1) &&
    !lifted.has(finger as 1) &&
    (!movesOn || kept.has(finger as 1)) &&
    down.every((press) => press.finger !== finger);
  const now = [...presses.filter(stays), ...down];
  const laid = pressesFrom(fretting.filter(({ does, part }) => does === "rest" && !part).flatMap(({ places = [] }) => places));
  const left = [...resting, ...presses.filter((press) => !stays(press)), ...laid].filter(
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
  const order = ({ finger }: Press) => (finger === "T" ? 0 : finger);
  return [...presses].sort((a, b) => order(a) - order(b));
}

function bit(string: number): number {
  return 1 << (string - 1);
}

/** Strings struck where no finger presses and none lies ring open until something touches them or they are struck dead. */
function opened(now: Known, struck: readonly number[], strokes: readonly Action[]): number {
  const { open: before, groups, presses, leans } = now;
  const under = (part: string) => [...groups].flatMap(([key, strings]) => (key.startsWith(`fretting ${part}`) ? strings : []));
  const was = under("underside");
  const held = new Set([...under("spare"), ...(leans ? leant(now, (s) => (before & bit(s)) !== 0).filter((s) => was.includes(s)) : [])]);
  let open = before;
  for (const action of strokes) for (const string of stringsOf(action)) open &= ~bit(string);
  for (const string of struck) if (pressedAt(presses, string) === 0 && !held.has(string)) open |= bit(string);
  return open;
}

function untouched(open: number, groups: Groups): number {
  let left = open;
  for (const strings of groups.values()) for (const string of strings) left &= ~bit(string);
  return left;
}

function range(from: number, to: number): number[] {
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
}

/** Where everything lies if nothing more is told. */
function byHabit(now: Known, before: Known, strokes: readonly Action[]): Map<string, readonly number[]> {
  const groups = new Map<string, readonly number[]>();
  const pressChanged =
    String(now.presses.map(({ finger, fret, strings }) => [finger, fret, strings])) !==
    String(before.presses.map(({ finger, fret, strings }) => [finger, fret, strings]));
  for (const [key, strings] of before.groups) {
    const part = key.split(" ")[1]!;
    if (
      FOR_A_STROKE.has(part) ||
      (WITH_A_PRESS.has(part) && pressChanged) ||
      part === "ease" ||
      part === "tip" ||
      (part === "spare" && before.lies && key.startsWith("fretting"))
    )
      continue;
    groups.set(key, strings);
  }
  const pressed = (string: number) => pressedAt(now.presses, string) > 0;
  const isOpen = (string: number) => (now.open & bit(string)) !== 0;
  const isAcross = [...groups.keys()].some((key) => key.startsWith("fretting lay") || key.startsWith("fretting slap"));
  for (const { finger, strings } of isAcross ? [] : now.resting) {
    const covered = finger === 1 && strings.length > 1 ? range(strings[0]!, strings.at(-1)!) : strings;
    put(
      groups,
      keyOf("fretting", "ease", finger as ContactFinger),
      covered.filter((s) => !pressed(s) && !isOpen(s)),
    );
  }
  const rolled = rolledOff(now, before);
  for (const [finger, string] of rolled) if (!pressed(string) && !isOpen(string)) put(groups, keyOf("fretting", "roll", finger), [string]);
  for (const [finger, string] of tipsOf(now)) {
    // A tip that was away stays away as long as its finger does not move.
    const press = now.presses.find((p) => p.finger === finger)!;
    const wasFree = (before.open & bit(string)) === 0;
    const isAway = wasFree && before.presses.some((was) => samePress(was, press)) && !before.groups.has(keyOf("fretting", "tip", finger));
    if (rolled.get(finger) !== string && !isAway) put(groups, keyOf("fretting", "tip", finger), [string]);
  }
  // An index that stays does not lean over a string that has just stopped ringing.
  const index = now.presses.find(({ finger }) => finger === 1);
  const stays = index !== undefined && before.presses.some((was) => samePress(was, index));
  const rang = (string: number) => isOpen(string) || (stays && (before.open & bit(string)) !== 0);
  if (now.leans)
    put(
      groups,
      UNDERSIDE,
      leant(now, rang).filter((s) => !pressed(s)),
    );
  if (now.wrapped)
    put(
      groups,
      WRAP,
      range(1, now.count).filter((s) => !pressed(s)),
    );
  if (now.lies) {
    const idle = ([1, 2, 3, 4] as const).filter(
      (finger) => [...now.presses, ...now.resting].every((press) => press.finger !== finger) && (finger !== 1 || !now.leans),
    );
    const lowest = Math.min(now.count + 1, ...now.presses.flatMap(({ strings }) => strings));
    const beside = range(1, lowest - 1).reverse();
    const end = beside.findIndex(isOpen);
    const free = (end < 0 || now.presses.length === 0 ? beside : beside.slice(0, end)).filter((s) => !isOpen(s));
    if (idle.length > 0)
      put(
        groups,
        keyOf("fretting", "spare", idle.at(-1)!),
        free.slice(0, now.presses.length > 0 ? 2 * idle.length : now.count).sort((a, b) => a - b),
      );
  }
  habitsOfPicking(now, groups, strokes);
  return groups;
}

/**
 * What lies under an index that leans: all strings on the treble side of the one it presses, as far as one that rings; behind other
 * fingers as far as the string beside them; all of them where nothing presses.
 */
function leant({ presses, resting, count }: Known, isOpen: (string: number) => boolean): number[] {
  const index = presses.find(({ finger }) => finger === 1);
  if (index) {
    const treble = range(1, index.strings[0]! - 1);
    const end = treble.findLastIndex(isOpen);
    return treble.slice(end + 1);
  }
  const own = resting.find(({ finger }) => finger === 1)?.strings ?? [];
  const furthest = presses.length > 0 ? Math.min(count, Math.max(...presses.flatMap(({ strings }) => strings)) + 1) : count;
  return range(1, furthest).filter((s) => !own.includes(s) && !isOpen(s));
}

/** A finger that goes to the next string at its fret rolls there and stays on the one it left. */
function rolledOff(now: Known, before: Known): Map<ContactFinger, number> {
  const found = new Map<ContactFinger, number>();
  for (const { finger, fret, strings } of now.presses) {
    const was = [...before.presses, ...before.resting].find((press) => press.finger === finger && press.fret === fret);
    if (was && was.strings.length === 1 && strings.length === 1 && Math.abs(was.strings[0]! - strings[0]!) === 1)
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

function habitsOfPicking(now: Known, groups: Map<string, readonly number[]>, strokes: readonly Action[]): void {
  const chuck = strokes.find(({ does, from }) => does === "chuck" && from !== undefined);
  if (chuck) {
    for (const key of [...groups.keys()]) if (key.startsWith("picking ")) groups.delete(key);
    put(groups, keyOf("picking", "heel", undefined), range(chuck.from!, now.count));
    return;
  }
  const struck = strokes.flatMap(stringsOf);
  if (struck.length === 0) return;
  const lowest = Math.max(...struck);
  if (now.palmFollows > 0 && strokes.some(({ direction }) => direction !== undefined)) put(groups, PALM, range(lowest + now.palmFollows, now.count));
  // The next string is the one on which the plucking finger comes to rest, where another is left for the thumb.
  const beside = Math.min(now.count, lowest + 2);
  if (now.thumbFollows) put(groups, THUMB, range(beside > lowest ? beside : now.count + 1, Math.min(now.count, beside + 2)));
  if (now.rests)
    for (const { places = [] } of strokes.filter(({ does }) => does === "pluck"))
      for (const { string, finger } of places)
        if (finger !== "p" && string < now.count) put(groups, keyOf("picking", "rest-stroke", finger as ContactFinger), [string + 1]);
}

function put(groups: Map<string, readonly number[]>, key: string, strings: readonly number[]): void {
  if (strings.length > 0) groups.set(key, strings);
  else groups.delete(key);
}

function isIdle({ hand, part }: Action): boolean {
  return hand === "fretting" && part === "spare";
}

/** What one action says of contacts. */
function toldOf(known: Known, action: Action): Known {
  const groups = new Map(known.groups);
  const { does, part, by, strings = [], places = [], from } = action;
  const key = action.hand === "picking" || part ? keyOf(part === "fret-wrap" ? "aid" : action.hand, part ?? "", by as ContactFinger | undefined) : "";
  switch (does) {
    case "lean":
      put(groups, keyOf("fretting", "underside", by ?? 1), strings);
      return { ...known, groups, leans: by === undefined ? strings.length > 0 : known.leans };
    case "lay":
      for (const key of [...groups.keys()]) if (key.startsWith("fretting ease")) groups.delete(key);
      put(groups, keyOf("fretting", part ?? "lay", 2), strings);
      return { ...known, groups };
    case "thumb-over":
    case "thumb-off":
      put(groups, keyOf("fretting", "thumb", "T"), strings);
      return { ...known, groups };
    case "palm":
      put(groups, PALM, strings);
      return { ...known, groups, palmFollows: 0 };
    case "follow":
      put(groups, by === "p" ? THUMB : PALM, strings);
      return by === "p" ? { ...known, groups, thumbFollows: true } : { ...known, groups, palmFollows: from ?? known.palmFollows };
    case "lift":
      if (!part) {
        groups.delete(keyOf("fretting", "ease", by));
        return { ...known, groups, resting: known.resting.filter(({ finger }) => finger !== by) };
      }
      groups.delete(key);
      if (part === "palm") return { ...known, groups, palmFollows: 0 };
      if (part === "thumb" && action.hand === "picking") return { ...known, groups, thumbFollows: false };
      return { ...known, groups, rests: part === "rest-stroke" ? false : known.rests, lies: isIdle(action) ? false : known.lies };
    case "rest":
      if (!part) {
        const resting = pressesFrom(places);
        for (const { finger, strings: on } of resting) put(groups, keyOf("fretting", "ease", finger as ContactFinger), on);
        const others = known.resting.filter(({ finger }) => resting.every((press) => press.finger !== finger));
        return { ...known, groups, resting: byFinger([...others, ...resting]) };
      }
      if (part === "fret-wrap") {
        // First it is put over all strings, those that a finger presses aside; what is told later is meant to the string.
        const lies = known.wrapped ? strings : strings.filter((s) => pressedAt(known.presses, s) === 0);
        put(groups, WRAP, lies);
        return { ...known, groups, wrapped: true };
      }
      put(groups, key, strings);
      // There is one thumb: resting on the string it left, it is nowhere else.
      if (key === THUMB) groups.delete(THUMB_BACK);
      if (key === THUMB_BACK) groups.delete(THUMB);
      if (part === "rest-stroke") return { ...known, groups, rests: true };
      return { ...known, groups, lies: isIdle(action) || known.lies };
    default:
      put(groups, key, strings);
      return { ...known, groups };
  }
}

export function sameKnown(a: Known | null, b: Known | null): boolean {
  if (a === null || b === null) return a === b;
  return (
    a.count === b.count &&
    a.open === b.open &&
    a.leans === b.leans &&
    a.lies === b.lies &&
    a.wrapped === b.wrapped &&
    a.palmFollows === b.palmFollows &&
    a.thumbFollows === b.thumbFollows &&
    a.rests === b.rests &&
    sameItems(a.struck, b.struck) &&
    sameItems(a.bending, b.bending) &&
    a.chords.size === b.chords.size &&
    [...a.chords].every(([chord, places]) => samePlaces(b.chords.get(chord), places)) &&
    samePresses(a.presses, b.presses) &&
    samePresses(a.resting, b.resting) &&
    a.groups.size === b.groups.size &&
    [...a.groups].every(([key, strings]) => sameItems(strings, b.groups.get(key) ?? []))
  );
}

function samePresses(a: readonly Press[], b: readonly Press[]): boolean {
  return a.length === b.length && a.every((press, k) => samePress(press, b[k]!));
}

export function samePress(a: Press, b: Press): boolean {
  return a.finger === b.finger && a.fret === b.fret && sameItems(a.strings, b.strings);
}
