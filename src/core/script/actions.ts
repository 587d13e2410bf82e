import { sameItems } from "../caching/fold.ts";
import type { Action, ActionPlace } from "../document/plan.ts";
import { type Press, pressedAt, samePress, underBarre } from "../fingering/hand-state.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { bendOf } from "../passage/bends.ts";
import type { FrettingShape, PickingShape } from "../shapes/types.ts";
import { fingerOfString } from "../timeline/strokes.ts";
import { turnOf } from "../timeline/timeline.ts";
import type { Step, TimelineNote, TimelineStroke } from "../timeline/types.ts";
import type { PlannedStages } from "../verdict/verdict.ts";
import { isOff, palmBehind } from "./habits.ts";
import { type Body, bit, bodyOf, IDLE, isPart, type Known, nothingKnown, PALM, range, samePlaces, THUMB, THUMB_BACK, UNDERSIDE } from "./known.ts";
import { type Heard, habitsAfter, hear, isDeadByHabit, isFreed, isPulledOff, movedTo, movesFingers, placesOf, struckByHabit, toldAfter } from "./reading.ts";

/** The shapes that both hands are in at a step. */
export interface Held {
  fretting: FrettingShape;
  picking: PickingShape;
}

/** What both hands do at a step, and what is known of them then. */
export interface StepActions {
  actions: Action[];
  known: Known;
}

/**
 * What both hands do at one step, so that who hears no more than actions knows where every finger is: strokes and presses first,
 * then what touches strings otherwise than habit has it.
 */
export function actionsAt({ settings, timeline, fingering, wrap }: PlannedStages, held: Held, index: number, before: Known | null): StepActions {
  const step = timeline.steps[index]!;
  const known = before ?? nothingKnown(timeline.strings);
  const hand = fingering.hands[index]!;
  const presses = hand.presses.filter(({ finger }) => finger !== 0);
  const wraps: Action[] = index === 0 && wrap.on ? [{ hand: "fretting", does: "rest", part: "fret-wrap", strings: range(1, timeline.strings) }] : [];
  const touching = new Set(held.fretting.contacts.flatMap(({ part, finger }) => (part === "ease" ? [finger as Press["finger"]] : [])));
  const school: Action[] = index === 0 && settings.index === "arched" ? [{ hand: "fretting", does: "lean", part: "arched", strings: [] }] : [];
  const put = pressing(known, presses, hand.left, touching, step);
  const first = [...strokesOf(step, held, known, put), ...put, ...shaping(step, presses, put), ...wraps, ...school];
  const target = groupsOf(held, step);
  let { actions, heard } = heardWithDeadness(known, first, step);
  let habits = habitsAfter(known, heard);
  // What is said of one finger can change what habit says of another.
  for (let round = 0; round < ROUNDS; round++) {
    const now = toldAfter(habits, heard.actions);
    const more = corrections(now, known, target, held, step, round > 0);
    if (more.length === 0) return { actions, known: now };
    if (more.some(movesFingers)) {
      ({ actions, heard } = heardWithDeadness(known, [...actions, ...more], step));
      habits = habitsAfter(known, heard);
    } else {
      actions = [...actions, ...more];
      heard = { ...heard, actions: [...heard.actions, ...more] };
    }
  }
  throw new Error("what is said of the hands does not settle");
}

const ROUNDS = 8;

function heardWithDeadness(known: Known, actions: Action[], step: Step): { actions: Action[]; heard: Heard } {
  const heard = hear(known, actions);
  const told = withDeadness(actions, heard, step);
  return { actions: told, heard: told === actions ? heard : hear(known, told) };
}

/** That a stroke is dead is said where nobody would know it, and that it sounds where nobody would; the same list where that is known. */
function withDeadness(actions: Action[], heard: Heard, { stroke }: Step): Action[] {
  if (!stroke || (stroke.as !== "play" && stroke.as !== "ghost")) return actions;
  const isDead = stroke.as === "ghost" || (stroke.notes.length > 0 && stroke.notes.every(({ tone }) => tone === "ghost"));
  if (isDead === isDeadByHabit(heard)) return actions;
  return actions.map((action): Action => {
    const { hand, does, part = "", by } = action;
    // What was said once stays said.
    if (hand !== "picking" || does !== "stroke" || by === "T" || /^(dead|open)/.test(part)) return action;
    return { ...action, part: `${isDead ? "dead" : "open"} ${part}`.trim() };
  });
}

/** Every contact by hand, part and finger, the tapping finger's among them. */
function groupsOf({ fretting, picking }: Held, { sounding }: Step): Map<Body, readonly number[]> {
  const bits = new Map<Body, number>();
  const add = (body: Body, string: number) => bits.set(body, (bits.get(body) ?? 0) | bit(string));
  for (const { contacts } of [fretting, picking])
    for (const { hand, part, finger, string } of contacts) add(hand === "fretting" && part === "spare" ? IDLE : bodyOf(hand, part, finger), string);
  for (const note of sounding) if (note?.from === "tap") add(bodyOf("picking", "press", "m"), note.string);
  const groups = new Map<Body, readonly number[]>();
  for (const [body, mask] of bits)
    groups.set(
      body,
      range(1, sounding.length).filter((string) => (mask & bit(string)) !== 0),
    );
  return groups;
}

/** Strokes, the strings named where they are others than those of the notes put down with it or, without such, of the last stroke. */
function strokesOf({ stroke }: Step, held: Held, known: Known, put: readonly Action[]): Action[] {
  if (!stroke) return [];
  const clicks: Action[] = stroke.clicked.length > 0 ? [{ hand: "picking", does: "click", strings: [...stroke.clicked] }] : [];
  const usual = String(struckByHabit(known, put));
  const isSame = (strings: readonly number[]) => String([...strings].sort((a, b) => a - b)) === usual;
  const strokes = strokeOf(stroke, held, known.count).map((action): Action => {
    const { strings, from, ...rest } = action;
    if (action.does === "chuck") return String(strings) === String(known.chucks?.strings) && from === known.chucks?.from ? rest : action;
    return strings && isSame(strings) ? rest : action;
  });
  return [...strokes, ...clicks];
}

function strokeOf(stroke: TimelineStroke, held: Held, count: number): Action[] {
  const { kind, as } = stroke;
  const strings = [...stroke.crossed];
  if (strings.length === 0) return [];
  // A slap of the fretting hand goes by that hand's name.
  if (kind === "none") return [{ hand: "picking", does: "stroke", part: "dead", by: "T", strings }];
  const way = kind === "down" || kind === "up" ? { direction: kind } : kind === "slap" || kind === "pop" ? { part: kind } : { by: kind };
  const hand = "picking" as const;
  if (as === "chuck") {
    const heel = held.picking.contacts.filter(({ part }) => part === "heel").map(({ string }) => string);
    return [{ hand, does: "chuck", ...way, strings, ...(heel.length > 0 ? { from: Math.min(...heel) } : {}) }];
  }
  if (as === "click") return [{ hand, does: "click", ...way, strings }];
  if (as === "rake") return [{ hand, does: "rake", ...way, strings }];
  if (as === "ghost") return [{ hand, does: "stroke", ...way, strings }];
  if (kind === "down" || kind === "up" || kind === "slap" || kind === "pop") return [{ hand, does: "stroke", ...way, strings }];
  const named = new Map(stroke.notes.flatMap((note) => (note.by ? [[note.string, note.by] as const] : [])));
  if (strings.length > 1 && named.size === 0 && strings.some((string) => fingerOfString(string, count) !== kind) && !isPinch(strings, count))
    return [{ hand, does: "brush", by: kind, strings }];
  const places = strings.map((string) => ({ string, finger: named.get(string) ?? (strings.length === 1 ? kind : fingerOfString(string, count)) }));
  return [{ hand, does: "pluck", places: places as ActionPlace[] }];
}

/** Whether strings plucked at once have a finger each. */
function isPinch(strings: readonly number[], count: number): boolean {
  const fingers = strings.map((string) => fingerOfString(string, count));
  return new Set(fingers).size === fingers.length;
}

const WAYS = new Set<TimelineNote["from"]>(["hammer", "pull", "slide", "tap"]);

/** What presses, lets go and holds. */
function pressing(known: Known, presses: readonly Press[], left: readonly Press[], touching: ReadonlySet<Press["finger"]>, step: Step): Action[] {
  const hand = "fretting" as const;
  const actions: Action[] = [];
  const fresh = presses.filter((press) => !known.presses.some((was) => isThere(was, press, presses)));
  const slurred = new Map<number, TimelineNote>();
  step.sounding.forEach((note, s) => {
    if (note && step.begins[s] && WAYS.has(note.from) && note.from !== "tap") slurred.set(note.string, note);
  });
  const again = fresh.filter((press) => known.resting.some((was) => samePress(was, press)) && press.strings.every((s) => !slurred.has(s)));
  const down = fresh.filter((press) => !again.includes(press) && press.strings.every((s) => !slurred.has(s)));
  const slurs = [...slurred].map(([string, note]): Action => {
    const press = presses.find((p) => p.strings.includes(string) && p.fret === note.fret);
    const finger = press?.finger ?? known.presses.find((p) => p.strings.includes(string))?.finger ?? 1;
    const dead = press || note.fret === 0 ? {} : { part: "dead" };
    return { hand, does: note.from as "hammer", ...dead, places: [{ string, fret: note.fret, finger: finger as ContactFinger }] };
  });
  actions.push(...together(slurs));
  // A finger that slurs one of several strings it presses is said for the others too.
  const partly = fresh.filter((press) => press.strings.some((s) => slurred.has(s)) && press.strings.some((s) => !slurred.has(s)));
  if (partly.length > 0) actions.push({ hand, does: "down", places: placesOf(partly).filter(({ string }) => !slurred.has(string)) });
  const gone = known.presses.filter((was) => presses.every(({ finger }) => finger !== was.finger) && !isPulledOff(was, slurs));
  const rests = ({ finger }: Press) => left.some((press) => press.finger === finger);
  const chord = step.stroke?.chord;
  const whole = placesOf(presses);
  const isChord = chord !== undefined && down.length > 0 && whole.length > 1 && slurred.size === 0;
  if (isChord) actions.push({ hand, does: "down", ...(samePlaces(known.chords.get(chord), whole) ? {} : { places: whole }), chord });
  else {
    const lettingGo = gone.filter(rests);
    const tapped = step.sounding.flatMap((note, s) => (note?.from === "tap" && step.begins[s] ? [note.string] : []));
    const freed = again.filter((press) => lettingGo.some((was) => isFreed(press, was, tapped)));
    const other = (press: Press) => !freed.includes(press);
    const isAll = freed.length === 0 && gone.length === known.presses.length;
    actions.push(...byFinger(known, presses, { fresh: fresh.filter(other), again: again.filter(other), down, gone: lettingGo, isAll }));
  }
  // Fingers that neither press nor rest any more leave the strings.
  const off = [...known.resting, ...gone].filter(
    (press, k, all) => !rests(press) && presses.every(({ finger }) => finger !== press.finger) && all.findIndex(({ finger }) => finger === press.finger) === k,
  );
  if (!isChord) actions.push(...off.map(({ finger }): Action => ({ hand, does: "lift", by: finger as ContactFinger })));
  // Before its first note the hand lies where that will be.
  const come = left.filter(
    (press) => press.finger !== 0 && [...known.presses, ...known.resting].every(({ finger }) => finger !== press.finger) && touching.has(press.finger),
  );
  actions.push(...come.map((press): Action => ({ hand, does: "rest", places: placesOf([{ ...press, strings: underBarre(press) }]) })));
  return actions;
}

/** What is done to several strings in the same way at once is said once; the bass ones first. */
function together(slurs: readonly Action[]): Action[] {
  const all: Action[] = [];
  for (const slur of [...slurs].reverse()) {
    const same = all.findIndex(
      ({ does, part, places }) => does === slur.does && part === slur.part && (places![0]!.fret === 0) === (slur.places![0]!.fret === 0),
    );
    if (same < 0) all.push(slur);
    else all[same] = { ...slur, places: [...all[same]!.places!, ...slur.places!] };
  }
  return all;
}

/** Whether a press is what is left free of one that was put down before: other fingers go over a barre and leave it again. */
function isThere(was: Press, press: Press, presses: readonly Press[]): boolean {
  const free = was.strings.filter((string) => pressedAt(presses, string) <= was.fret);
  return samePress({ ...was, strings: free }, press);
}

/** What presses, lets go and holds, finger by finger. */
function byFinger(
  known: Known,
  presses: readonly Press[],
  { fresh, again, down, gone, isAll }: { fresh: readonly Press[]; again: readonly Press[]; down: readonly Press[]; gone: readonly Press[]; isAll: boolean },
): Action[] {
  const hand = "fretting" as const;
  const each = (does: "press" | "let-go" | "hold", which: readonly Press[]) => which.map(({ finger }): Action => ({ hand, does, by: finger as ContactFinger }));
  const actions: Action[] = [];
  const movesOn = fresh.length > 0 && known.presses.length === 1 && known.presses[0]!.strings.length === 1;
  if (!movesOn && isAll && known.presses.length > 0 && fresh.length === 0) actions.push({ hand, does: "let-go" });
  else if (!movesOn) actions.push(...each("let-go", gone));
  if (again.length > 0 && known.resting.every((was) => again.some((press) => samePress(was, press)))) actions.push({ hand, does: "press" });
  else actions.push(...each("press", again));
  const moved = movedTo(known.shape, down[0]?.fret ?? 0);
  const isMoved = moved.length > 1 && moved.length === down.length && down.every((press, k) => samePress(press, moved[k]!));
  if (isMoved) actions.push({ hand, does: "down", to: down[0]!.fret });
  else if (down.length > 0) actions.push({ hand, does: "down", places: placesOf(down) });
  if (movesOn)
    actions.push(
      ...each(
        "hold",
        known.presses.filter((was) => presses.some((press) => samePress(was, press))),
      ),
    );
  return actions;
}

/** What fingers and tapping hand do to notes that begin or are let back here; of what is put down in the same moment the place is not named again. */
function shaping(step: Step, presses: readonly Press[], put: readonly Action[]): Action[] {
  const hand = "fretting" as const;
  const down = put.findLast(({ does }) => does === "down" || does === "hammer" || does === "slide" || does === "pull")?.places;
  return step.sounding.flatMap((note, s): Action[] => {
    if (!note) return [];
    const finger = (presses.find((press) => press.strings.includes(note.string))?.finger ?? 1) as ContactFinger;
    const places = [{ string: note.string, fret: note.fret, finger }];
    const where = samePlaces(down, places) ? {} : { places };
    const { bend } = note;
    if (!step.begins[s]) return bend && turnOf(note) === step.tick ? [{ hand, does: "release-bend", places, to: bend.back! }] : [];
    const actions: Action[] = [];
    if (note.from === "tap") actions.push({ hand, does: "tap", places: [{ string: note.string, fret: note.fret, finger: "m" }] });
    const usual = bendOf({ bend: 1, string: note.string })?.side;
    const way = !bend || bend.side === usual ? {} : { direction: bend.side === 1 ? ("bass" as const) : ("treble" as const) };
    if (bend) actions.push({ hand, does: "bend", ...where, ...(bend.from > 0 ? { from: bend.from } : {}), to: bend.most, ...way });
    if (note.vibrato) actions.push({ hand, does: "vibrato", ...where });
    return actions;
  });
}

/** What touches strings otherwise than is known by habit. */
function corrections(habit: Known, before: Known, target: ReadonlyMap<Body, readonly number[]>, held: Held, step: Step, inFull: boolean): Action[] {
  const actions: Action[] = [];
  const palm = palmAction(habit, before, target, held, step, inFull);
  if (palm) actions.push(palm);
  // Fingers that come to lie across are said first: with them the index is off.
  const comeAcross = isOff(habit) && !habit.lies && target.has(IDLE);
  for (const body of new Set([...habit.groups.keys(), ...target.keys()])) {
    const { hand, part, finger } = body;
    if (body === PALM) continue;
    const is = target.get(body) ?? NONE;
    const isElsewhere =
      isPart(body, "fretting", "ease") && is.length > 0 && habit.resting.find((press) => press.finger === finger)?.fret !== easedAt(held, finger);
    if (sameItems(is, habit.groups.get(body) ?? NONE) && !isElsewhere) continue;
    if (body === UNDERSIDE && is.length === 0 && comeAcross) continue;
    const other = OTHER_THUMB.get(body);
    if (other && is.length === 0 && target.has(other)) continue;
    actions.push(hand === "picking" ? pickingAction(part, finger, [...is], held) : frettingAction(part, finger, [...is], held));
  }
  return actions;
}

const NONE: readonly number[] = [];

/** There is one thumb: where it is said to rest it is not where it was. */
const OTHER_THUMB: ReadonlyMap<Body, Body> = new Map([
  [THUMB, THUMB_BACK],
  [THUMB_BACK, THUMB],
]);

/** The fret behind which a finger rests; undefined where it does not. */
function easedAt({ fretting }: Held, finger: ContactFinger | undefined): number | undefined {
  return fretting.contacts.find((contact) => contact.part === "ease" && contact.finger === finger)?.fret;
}

function frettingAction(part: string, finger: ContactFinger | undefined, strings: number[], held: Held): Action {
  const hand = "fretting" as const;
  const by = finger === undefined ? {} : { by: finger };
  if (part === "underside") return { hand, does: "lean", ...(finger === 1 ? {} : by), strings };
  if (part === "ease") {
    const fret = easedAt(held, finger) ?? 0;
    if (strings.length === 0) return { hand, does: "lift", ...by };
    return { hand, does: "rest", places: strings.map((string) => ({ string, fret, finger: finger! })) };
  }
  if (part === "lay" || part === "slap") return strings.length === 0 ? { hand, does: "lift", part } : { hand, does: "lay", part, strings };
  if (strings.length === 0) return part === "thumb" ? { hand, does: "thumb-off" } : { hand, does: "lift", part, ...by };
  if (part === "thumb") return { hand, does: "thumb-over", strings };
  return { hand, does: "rest", part, ...by, strings };
}

function pickingAction(part: string, finger: ContactFinger | undefined, strings: number[], { picking }: Held): Action {
  const hand = "picking" as const;
  const by = finger === undefined ? {} : { by: finger };
  if (strings.length === 0) return { hand, does: "lift", part, ...by };
  if (part === "thumb" && picking.posture.at.kind === "thumb-follow") return { hand, does: "follow", by: "p", strings };
  // The thumb of a pick hand goes right beside what is struck.
  if (part === "thumb" && picking.posture.at.kind === "follow") return { hand, does: "follow", by: "p", from: 1, strings };
  if (part === "plant" || part === "park") return { hand, does: part, part, ...by, strings };
  return { hand, does: "rest", part, ...by, strings };
}

/** The palm follows, stays or is off; `inFull` where it was said without its strings in vain. */
function palmAction(
  habit: Known,
  before: Known,
  target: ReadonlyMap<Body, readonly number[]>,
  { picking }: Held,
  { stroke }: Step,
  inFull: boolean,
): Action | null {
  const is = [...(target.get(PALM) ?? NONE)];
  const hand = "picking" as const;
  if (sameItems(is, habit.groups.get(PALM) ?? NONE)) return null;
  const { kind } = picking.posture.at;
  if (kind === "follow") {
    const lowest = stroke && stroke.crossed.length > 0 ? Math.max(...stroke.crossed) : 0;
    const from = lowest > 0 && is.length > 0 ? Math.max(1, is[0]! - lowest) : before.palmFollows || 1;
    return !inFull && String(palmBehind(habit, Math.max(0, ...habit.struck), from)) === String(is)
      ? { hand, does: "follow", from }
      : { hand, does: "follow", strings: is, from };
  }
  return is.length > 0 ? { hand, does: "palm", strings: is } : { hand, does: "lift", part: "palm" };
}
