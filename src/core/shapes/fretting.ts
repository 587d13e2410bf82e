import type { Press } from "../fingering/fingering.ts";
import { type ContactFinger, type FingerMask, fingerBit } from "../hands/fingers.ts";
import { FRETTING_PARTS, type FrettingPart } from "../hands/parts.ts";
import { HAND_ACROSS } from "../hands/patches.ts";
import { type FrettingPosture, frettingPosture } from "../hands/postures.ts";
import { chimesAlone, type Doing, doingOf, effortOf, joinShape, makeShape, type Option, withoutDominated } from "./assemble.ts";
import { isLive, range, refusal, refuseAll, touched } from "./gate.ts";
import { type FrettingContext, isWanted } from "./situation.ts";
import type { Contact, FrettingShape, HandShapes, Refusal, RefusalCode } from "./types.ts";

/** One thing a finger can do in addition to its work; a shape takes at most one per group. */
interface FingerOption extends Option {
  posture?: Partial<FrettingPosture>;
  /** Fingers it needs for itself. */
  fingers?: FingerMask;
}

/** A little finger reaching over to the bass side: possible, and dearer than what players do. */
const BASS_SIDE_SPARE = 15;

const NOTHING: FingerOption = { contacts: [], hold: 0 };

const kind = <P extends FrettingPart>(part: P) => ({ hand: "fretting", part }) as const;
const hold = (part: FrettingPart) => FRETTING_PARTS[part].hold;

/** Every shape the fretting hand can take besides the presses themselves. */
export function frettingShapes(context: FrettingContext): HandShapes<FrettingPosture> {
  const refusals: Refusal[] = [];
  const pressing = context.presses.reduce((mask, p) => mask | fingerBit(p.finger), 0);
  const eased = easedFingers(context, pressing, refusals);
  const groups: FingerOption[][] = [];
  for (const press of context.presses) {
    if (press.finger === "T" || press.finger === 0) continue;
    groups.push(pressingOptions(context, press, refusals));
  }
  groups.push(indexBehind(context, pressing, refusals));
  groups.push(spareOptions(context, pressing, refusals));
  groups.push(thumbOptions(context, pressing, refusals));
  groups.push(bassMuffle(context, pressing));

  const wrap = fretWrap(context);
  const aid = doingOf(context, wrap);
  const doings = new Map<Option, Doing>();
  const doing = (option: Option) => {
    const known = doings.get(option) ?? doingOf(context, option.contacts);
    doings.set(option, known);
    return known;
  };
  const besides = new Map<FingerMask, FingerOption[]>();
  const shapes: FrettingShape[] = [];
  for (const chosen of combinations(groups)) {
    let busyFingers = 0;
    let clash = false;
    for (const option of chosen) {
      clash ||= (busyFingers & (option.fingers ?? 0)) !== 0;
      busyFingers |= option.fingers ?? 0;
    }
    if (clash) continue;
    const rests = besides.get(busyFingers) ?? easedBeside(eased, busyFingers);
    besides.set(busyFingers, rests);
    for (const rest of rests) {
      const options = [...chosen, rest];
      shapes.push(joinShape(context, [...options.map(doing), aid], postureOf(options, pressing), effortOf(options)));
    }
  }
  const across = layAcross(context, pressing, refusals);
  if (across) {
    const shape = makeShape(context, [...across.contacts, ...wrap], postureOf([across], pressing), effortOf([across]));
    if (context.slaps) return { shapes: [shape], refusals };
    shapes.push(shape);
  }
  return { shapes: withoutDominated(shapes), refusals };
}

function postureOf(options: readonly FingerOption[], pressing: FingerMask): FrettingPosture {
  const posture: Partial<FrettingPosture> = {};
  let eased = 0;
  for (const option of options) {
    Object.assign(posture, option.posture);
    eased |= option.posture?.eased ?? 0;
  }
  return frettingPosture({ ...posture, eased, inPlace: pressing | eased });
}

/** Every way to take one option of each group. */
function combinations(groups: readonly (readonly FingerOption[])[]): FingerOption[][] {
  let all: FingerOption[][] = [[]];
  for (const group of groups) {
    if (group.length === 1 && group[0] === NOTHING) continue;
    all = all.flatMap((chosen) => group.map((option) => (option === NOTHING ? chosen : [...chosen, option])));
  }
  return all;
}

/** Underside or flattened pad on the treble side, tip on the bass side of a pressing finger. */
function pressingOptions(context: FrettingContext, press: Press, refusals: Refusal[]): FingerOption[] {
  const place = { finger: press.finger as ContactFinger, fret: press.fret };
  const bassMost = Math.max(...press.strings);
  const trebleMost = Math.min(...press.strings);
  const between = range(trebleMost + 1, bassMost - 1).filter((s) => !press.strings.includes(s));
  const inner = touched(context, kind("underside"), between, { ...place, isCovered: true });
  const trebles: FingerOption[] = [{ contacts: inner, hold: 0 }];
  if (press.finger === 1) {
    const under = undersideOption(context, press.fret, range(1, trebleMost - 1), refusals);
    if (under) trebles.push({ contacts: [...inner, ...under.contacts], hold: under.hold, posture: { index: "laid" } });
  }
  const rolled = rolledFrom(context, press);
  if (rolled !== null && rolled < trebleMost) trebles.push(rollOption(context, press, rolled, inner, refusals));
  else if (press.finger !== 1 || context.settings.index === "arched") {
    for (let reach = 1; reach <= 2; reach++) {
      const targets = range(trebleMost - reach, trebleMost - 1).filter((s) => s >= 1);
      if (targets.length < reach) break;
      const flat = touched(context, kind("flat"), targets, place, refusals);
      if (flat.length === reach) trebles.push({ contacts: [...inner, ...flat], hold: hold("flat") * reach });
      else break;
    }
  }
  const tips: FingerOption[] = [NOTHING];
  if (rolled !== null && rolled > bassMost) tips.push(rollOption(context, press, rolled, [], refusals));
  else if (bassMost < context.count) {
    const tip = touched(context, kind("tip"), [bassMost + 1], place, refusals);
    if (tip.length > 0) tips.push({ contacts: tip, hold: hold("tip") });
  }
  return trebles.flatMap((t) =>
    tips.map((tip) => ({ contacts: [...t.contacts, ...tip.contacts], hold: t.hold + tip.hold, ...(t.posture ? { posture: t.posture } : {}) })),
  );
}

/** The neighbouring string this finger has just rolled off, at the same fret; null if it did not roll. */
function rolledFrom(context: FrettingContext, press: Press): number | null {
  const before = context.rolledFrom.find((p) => p.finger === press.finger && p.fret === press.fret && p.strings.length === 1);
  if (!before || press.strings.length > 1) return null;
  const from = before.strings[0]!;
  return Math.abs(from - press.strings[0]!) === 1 ? from : null;
}

/** Pressure moves along the pad and the string left is eased in the same motion. */
function rollOption(context: FrettingContext, press: Press, from: number, inner: readonly Contact[], refusals: Refusal[]): FingerOption {
  const rolled = touched(context, kind("roll"), [from], { finger: press.finger as ContactFinger, fret: press.fret }, refusals);
  return { contacts: [...inner, ...rolled], hold: rolled.length > 0 ? hold("roll") : 0 };
}

/** The index laid flat over the strings on its treble side; all or none of them. */
function undersideOption(context: FrettingContext, fret: number, strings: readonly number[], refusals: Refusal[]): FingerOption | null {
  const refuse = (code: RefusalCode, reason: string) => {
    refuseAll(context, refusals, kind("underside"), strings, 1, code, reason);
    return null;
  };
  if (context.settings.index === "arched") return refuse("school", "You play with an arched index, so its underside stays off the strings.");
  const choked = chokedBy(context, strings, fret);
  if (choked !== undefined) return refuse("would-choke", `Laid flat, the index would also lie on string ${choked}, which should sound.`);
  const contacts = touched(context, kind("underside"), strings, { finger: 1, fret }, refusals);
  return contacts.length > 0 ? { contacts, hold: hold("underside") } : null;
}

/** The first of some strings that should sound and that a finger at a fret would lie on, if any. */
function chokedBy(context: FrettingContext, strings: readonly number[], fret: number): number | undefined {
  return strings.find((s) => isWanted(context.intents[s - 1]!) && isLive(context, s, fret));
}

/** A finger that must press a new place sooner than it could get there. */
function busy(string: number, part: FrettingPart, finger: Press["finger"]): Refusal {
  return refusal(kind(part), string, finger, "finger-busy", "That finger is already on its way to its next note.");
}

/**
 * An index that is free stays behind the other fingers as a safety net; where it has just pressed
 * it eases and lies over the treble strings in one.
 */
function indexBehind(context: FrettingContext, pressing: FingerMask, refusals: Refusal[]): FingerOption[] {
  const { presses, position, left, hurried } = context;
  const home = left.find((p) => p.finger === 1);
  const held = presses.length > 0 ? presses : left.filter((p) => p.finger !== 1);
  if ((pressing & fingerBit(1)) !== 0 || (held.length === 0 && !home)) return [NOTHING];
  const fret = Math.min(home?.fret ?? position, ...held.map((p) => p.fret - 1));
  if (fret < 1) return [NOTHING];
  const bassMost = Math.max(...[...held, ...(home ? [home] : [])].flatMap((p) => p.strings));
  if ((hurried.laidFlat & fingerBit(1)) !== 0) {
    for (const s of range(1, bassMost)) if (!isWanted(context.intents[s - 1]!)) refusals.push(busy(s, "underside", 1));
    return [NOTHING];
  }
  const under = undersideOption(context, fret, range(1, bassMost), refusals);
  if (!under) return [NOTHING];
  const stays = home !== undefined && home.fret === fret;
  const contacts = stays ? under.contacts.map((c) => (home.strings.includes(c.string) ? { ...c, ...kind("ease") } : c)) : under.contacts;
  return [{ ...under, contacts, posture: { index: "laid", ...(stays ? { eased: fingerBit(1) } : {}) }, fingers: fingerBit(1) }, NOTHING];
}

/** On bass the index presses and 2 to 4 lie together softly on the same string nearer the bridge: a muffled tone. */
function bassMuffle(context: FrettingContext, pressing: FingerMask): FingerOption[] {
  if (context.kind !== "electric-bass" || (pressing & ~fingerBit(1)) !== 0) return [NOTHING];
  const muffled = range(1, context.count).filter((s) => context.intents[s - 1] === "muffled");
  if (muffled.length !== 1) return [NOTHING];
  const string = muffled[0]!;
  const press = context.presses.find((p) => p.strings.includes(string));
  if (pressing !== 0 && press?.strings.length !== 1) return [NOTHING];
  const fret = (press?.fret ?? context.position) + 2;
  return [
    {
      contacts: touched(context, kind("spare"), [string], { finger: 2, fret, patch: HAND_ACROSS }),
      hold: 2,
      posture: { spare: { kind: "along", string } },
      fingers: fingerBit(2) | fingerBit(3) | fingerBit(4),
    },
    NOTHING,
  ];
}

/** Fingers that have nothing else to do ease where they are, or none does. */
function easedBeside(eased: readonly Contact[], busyFingers: FingerMask): FingerOption[] {
  const contacts = eased.filter((c) => (fingerBit(c.finger ?? 0) & busyFingers) === 0);
  if (contacts.length === 0) return [NOTHING];
  const fingers = contacts.reduce((mask, c) => mask | fingerBit(c.finger ?? 0), 0);
  return [{ contacts, hold: hold("ease") * new Set(contacts.map((c) => c.finger)).size, posture: { eased: fingers }, fingers }, NOTHING];
}

/** Fingers whose note is over stay where they are with the pressure gone. */
function easedFingers(context: FrettingContext, pressing: FingerMask, refusals: Refusal[]): Contact[] {
  const contacts: Contact[] = [];
  for (const { finger, fret, strings } of context.left) {
    if ((pressing & fingerBit(finger)) !== 0 || finger === 0) continue;
    if ((context.hurried.eased & fingerBit(finger)) !== 0) {
      for (const s of strings) if (!isWanted(context.intents[s - 1]!)) refusals.push(busy(s, "ease", finger));
      continue;
    }
    const choked = chokedBy(context, strings, fret);
    if (choked !== undefined) {
      for (const s of strings) refusals.push(refusal(kind("ease"), s, finger, "would-choke", `The finger has to leave: string ${choked} should sound there.`));
      continue;
    }
    // A barre that eases lies on every string it covers.
    const covered = finger === 1 && strings.length > 1 ? range(Math.min(...strings), Math.max(...strings)) : strings;
    contacts.push(...touched(context, kind("ease"), covered, { finger, fret }, refusals));
  }
  return contacts;
}

/** How far, in frets, a finger with nothing to press lies beside a node it would be over. */
const BESIDE_NODE = 1;

/** Spare fingers laid on a run of strings in front of the chord. */
function spareOptions(context: FrettingContext, pressing: FingerMask, refusals: Refusal[]): FingerOption[] {
  const { presses, position } = context;
  const options: FingerOption[] = [NOTHING];
  const highest = Math.max(0, ...presses.map((p) => (typeof p.finger === "number" ? p.finger : 0)));
  const free = ([4, 3, 2] as const).filter((f) => (pressing & fingerBit(f)) === 0 && f > highest);
  const ready = free.filter((f) => (context.hurried.spare & fingerBit(f)) === 0);
  const bassMost = Math.max(0, ...presses.flatMap((p) => p.strings));
  for (const whole of unwantedRuns(context)) {
    const run = reachable(whole, bassMost, refusals);
    // Nothing is wanted at all: that is laying the hand across, told as such.
    if (run.length === 0 || run.length === context.count) continue;
    const needed = run.length > 2 ? 2 : 1;
    if (ready.length < needed) {
      const [code, reason] =
        free.length >= needed
          ? (["no-time", "The spare finger is wanted elsewhere too soon."] as const)
          : (["finger-busy", "No finger is spare here."] as const);
      for (const s of run) refusals.push(refusal(kind("spare"), s, free[0] ?? 4, code, reason));
      continue;
    }
    const used = ready.slice(0, needed);
    const lowest = Math.min(...used);
    const fret = Math.max(position + lowest - 1, ...presses.map((p) => p.fret));
    const patch = needed > 1 ? { patch: HAND_ACROSS } : {};
    const laidAt = (place: number, told: Refusal[] | null) => touched(context, kind("spare"), run, { finger: used[0]!, fret: place, ...patch }, told);
    // A spare finger goes out of the way of the octave's node.
    const place = [fret, fret + BESIDE_NODE].find((f) => laidAt(f, null).every((c) => !c.narrow || chimesAlone(context, c) !== 2)) ?? fret;
    const contacts = laidAt(place, refusals);
    const bassSide = bassMost > 0 && bassMost < run[0]!;
    if (contacts.length === run.length)
      options.push({
        contacts,
        hold: hold("spare") * needed,
        perStroke: bassSide ? BASS_SIDE_SPARE : 0,
        posture: { spare: { kind: "laid", strings: run } },
        fingers: used.reduce((m, f) => m | fingerBit(f), 0),
      });
  }
  return options;
}

/** Runs of neighbouring strings that must not be heard. */
function unwantedRuns({ count, intents }: FrettingContext): number[][] {
  const runs: number[][] = [];
  let run: number[] = [];
  for (let s = 1; s <= count + 1; s++) {
    if (s <= count && !isWanted(intents[s - 1]!)) run.push(s);
    else {
      if (run.length > 0) runs.push(run);
      run = [];
    }
  }
  return runs;
}

/** A spare finger lies on the treble side of the chord; on the bass side it reaches one string, two away at most. */
function reachable(run: readonly number[], bassMost: number, refusals: Refusal[]): number[] {
  // A hand that presses nothing lies over the whole run.
  if (bassMost === 0) return [...run];
  if (run[0]! < bassMost) return run.slice(0, 3);
  const near = run.filter((s) => s <= bassMost + 2).slice(0, 1);
  for (const s of run)
    if (!near.includes(s)) refusals.push(refusal(kind("spare"), s, 4, "out-of-reach", "The little finger does not reach that far over on the bass side."));
  return near;
}

/** Two or more fingers laid, or in a slap of this hand slapped, across all strings: only when nothing has to sound. */
function layAcross(context: FrettingContext, pressing: FingerMask, refusals: Refusal[]): FingerOption | null {
  const strings = range(1, context.count);
  const refuse = (code: RefusalCode, reason: string) => {
    refuseAll(context, refusals, kind("lay"), strings, 2, code, reason);
    return null;
  };
  if (context.settings.damps === "picking" && !context.slaps) return refuse("school", "You leave damping to your picking hand.");
  if (pressing !== 0) return refuse("finger-busy", "The hand is holding notes and cannot be laid across the strings.");
  const wanted = strings.find((s) => isWanted(context.intents[s - 1]!));
  if (wanted !== undefined) return refuse("would-choke", `Laid across, the hand would also choke string ${wanted}.`);
  const part = context.slaps ? "slap" : "lay";
  const contacts = touched(context, kind(part), strings, { finger: 2, fret: Math.max(2, context.position + 1) });
  return { contacts, hold: hold(part), posture: { across: true } };
}

function thumbOptions(context: FrettingContext, pressing: FingerMask, refusals: Refusal[]): FingerOption[] {
  const lowest = context.count;
  if (isWanted(context.intents[lowest - 1]!) || (pressing & fingerBit("T")) !== 0) return [NOTHING];
  if (context.settings.thumbOver === "no") {
    refusals.push(refusal(kind("thumb"), lowest, "T", "school", "You keep the thumb behind the neck."));
    return [NOTHING];
  }
  const contacts = touched(context, kind("thumb"), [lowest], { finger: "T", fret: Math.max(1, context.position) }, refusals);
  return contacts.length > 0 ? [NOTHING, { contacts, hold: hold("thumb"), posture: { thumb: "over" } }] : [NOTHING];
}

function fretWrap(context: FrettingContext): Contact[] {
  return context.wrapped ? touched(context, { hand: "aid", part: "fret-wrap" }, range(1, context.count), {}) : [];
}
