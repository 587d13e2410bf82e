import { FINGER_PAD, FINGER_TIP, HAND_ACROSS } from "../acoustics/constants.ts";
import type { Press } from "../fingering/fingering.ts";
import { chimesAlone, type Doing, doingOf, HOLD, joinShape, makeShape, withoutDominated } from "./assemble.ts";
import { busy, contact, effortOf, fingerBit, type HandShapes, isBusy, range, refusal, touched, unwantedRuns } from "./contacts.ts";
import { isLive, isSlapped, isWanted, type ShapeContext } from "./context.ts";
import { type Contact, type ContactFinger, NO_POSE, type Pose, type Refusal, type RefusalCode, type Shape } from "./types.ts";

/** One thing a finger can do in addition to its work; a shape takes at most one per group. */
interface Option {
  contacts: Contact[];
  hold: number;
  perStroke?: number;
  pose?: Partial<Pose>;
  fingers?: number;
}

/** A little finger reaching over to the bass side: possible, and dearer than what players do. */
const BASS_SIDE_SPARE = 15;

const NOTHING: Option = { contacts: [], hold: 0 };

/** Every shape the fretting hand can take besides the presses themselves. */
export function frettingShapes(context: ShapeContext): HandShapes {
  const refusals: Refusal[] = [];
  const { hand } = context;
  const pressing = hand.presses.reduce((mask, p) => mask | fingerBit(p.finger), 0);
  const eased = easedFingers(context, pressing, refusals);
  const groups: Option[][] = [];
  for (const press of hand.presses) {
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
  const besides = new Map<number, Option[]>();
  const shapes: Shape[] = [];
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
      shapes.push(joinShape(context, [...options.map(doing), aid], poseOf(options, pressing), effortOf(options)));
    }
  }
  const lay = layAcross(context, pressing, refusals);
  if (lay && isSlapped(context)) return { shapes: [makeShape(context, [...slapOf(lay), ...wrap], poseOf([lay], pressing), effortOf([lay]))], refusals };
  if (lay) shapes.push(makeShape(context, [...lay.contacts, ...wrap], poseOf([lay], pressing), effortOf([lay])));
  return { shapes: withoutDominated(shapes), refusals };
}

function poseOf(options: readonly Option[], pressing: number): Pose {
  let { indexLaid, across, thumbOver, spare, eased } = NO_POSE;
  for (const { pose } of options) {
    if (!pose) continue;
    indexLaid ||= pose.indexLaid ?? false;
    across ||= pose.across ?? false;
    thumbOver ||= pose.thumbOver ?? false;
    spare = pose.spare ?? spare;
    eased |= pose.eased ?? 0;
  }
  const inPlace = pressing | eased;
  const key = `${indexLaid ? "L" : ""}${across ? "X" : ""}${thumbOver ? "T" : ""}${spare}|${inPlace}|${eased}`;
  return { ...NO_POSE, indexLaid, across, thumbOver, spare, eased, inPlace, key };
}

/** Every way to take one option of each group. */
function combinations(groups: readonly (readonly Option[])[]): Option[][] {
  let all: Option[][] = [[]];
  for (const group of groups) {
    if (group.length === 1 && group[0] === NOTHING) continue;
    all = all.flatMap((chosen) => group.map((option) => (option === NOTHING ? chosen : [...chosen, option])));
  }
  return all;
}

/** Underside or flattened pad on the treble side, tip on the bass side of a pressing finger. */
function pressingOptions(context: ShapeContext, press: Press, refusals: Refusal[]): Option[] {
  const finger = press.finger as 1 | 2 | 3 | 4;
  const bassMost = Math.max(...press.strings);
  const trebleMost = Math.min(...press.strings);
  const inner = touched(
    context,
    "underside",
    finger,
    press.fret,
    range(trebleMost + 1, bassMost - 1).filter((s) => !press.strings.includes(s)),
    FINGER_PAD,
    [],
  );
  const trebles: Option[] = [{ contacts: inner, hold: 0 }];
  if (finger === 1) {
    const under = undersideOption(context, press.fret, range(1, trebleMost - 1), refusals);
    if (under) trebles.push({ contacts: [...inner, ...under.contacts], hold: under.hold, pose: { indexLaid: true } });
  }
  const rolled = rolledFrom(context, press);
  if (rolled !== null && rolled < trebleMost) trebles.push(rollOption(context, press, rolled, inner, refusals));
  else if (finger !== 1 || context.settings.index === "arched") {
    for (let reach = 1; reach <= 2; reach++) {
      const targets = range(trebleMost - reach, trebleMost - 1).filter((s) => s >= 1);
      if (targets.length < reach) break;
      const flat = touched(context, "flat", finger, press.fret, targets, FINGER_PAD, refusals);
      if (flat.length === reach) trebles.push({ contacts: [...inner, ...flat], hold: HOLD.flat! * reach });
      else break;
    }
  }
  const tips: Option[] = [NOTHING];
  if (rolled !== null && rolled > bassMost) tips.push(rollOption(context, press, rolled, [], refusals));
  else if (bassMost < context.count) {
    const tip = touched(context, "tip", finger, press.fret, [bassMost + 1], FINGER_TIP, refusals);
    if (tip.length > 0) tips.push({ contacts: tip, hold: HOLD.tip! });
  }
  return trebles.flatMap((t) =>
    tips.map((tip) => ({ contacts: [...t.contacts, ...tip.contacts], hold: t.hold + tip.hold, ...(t.pose ? { pose: t.pose } : {}) })),
  );
}

/** The neighbouring string this finger has just rolled off, at the same fret; null if it did not roll. */
function rolledFrom(context: ShapeContext, press: Press): number | null {
  const before = context.hand.cameFrom.find((p) => p.finger === press.finger && p.fret === press.fret && p.strings.length === 1);
  if (!before || press.strings.length > 1) return null;
  const from = before.strings[0]!;
  return Math.abs(from - press.strings[0]!) === 1 ? from : null;
}

/** Pressure moves along the pad and the string left is eased in the same motion. */
function rollOption(context: ShapeContext, press: Press, from: number, inner: readonly Contact[], refusals: Refusal[]): Option {
  const rolled = touched(context, "roll", press.finger as ContactFinger, press.fret, [from], FINGER_TIP, refusals);
  return { contacts: [...inner, ...rolled], hold: rolled.length > 0 ? HOLD.roll! : 0 };
}

/** The index laid flat over the strings on its treble side; all or none of them. */
function undersideOption(context: ShapeContext, fret: number, strings: readonly number[], refusals: Refusal[]): Option | null {
  const refuseAll = (code: RefusalCode, reason: string) => {
    for (const string of strings)
      if (!isWanted(context.intents[string - 1]!)) refusals.push({ string, hand: "fretting", part: "underside", finger: 1, code, reason });
    return null;
  };
  if (context.settings.index === "arched") return refuseAll("school", "You play with an arched index, so its underside stays off the strings.");
  const choked = strings.find((s) => isWanted(context.intents[s - 1]!) && isLive(context, s, fret));
  if (choked !== undefined) return refuseAll("would-choke", `Laid flat, the index would also lie on string ${choked}, which should sound.`);
  const contacts = touched(context, "underside", 1, fret, strings, FINGER_PAD, refusals);
  return contacts.length > 0 ? { contacts, hold: HOLD.underside! } : null;
}

/**
 * An index that is free stays behind the other fingers as a safety net; where it has just pressed
 * it eases and lies over the treble strings in one.
 */
function indexBehind(context: ShapeContext, pressing: number, refusals: Refusal[]): Option[] {
  const { presses, position, left } = context.hand;
  const home = left.find((p) => p.finger === 1);
  const held = presses.length > 0 ? presses : left.filter((p) => p.finger !== 1);
  if ((pressing & fingerBit(1)) !== 0 || (held.length === 0 && !home)) return [NOTHING];
  const fret = Math.min(home?.fret ?? position, ...held.map((p) => p.fret - 1));
  if (fret < 1) return [NOTHING];
  const bassMost = Math.max(...[...held, ...(home ? [home] : [])].flatMap((p) => p.strings));
  if (isBusy(context, 1, context.settings.moveMs.indexFlatten)) {
    for (const s of range(1, bassMost)) if (!isWanted(context.intents[s - 1]!)) refusals.push(busy(s, "underside", 1));
    return [NOTHING];
  }
  const under = undersideOption(context, fret, range(1, bassMost), refusals);
  if (!under) return [NOTHING];
  const stays = home !== undefined && home.fret === fret;
  const contacts = stays ? under.contacts.map((c) => (home.strings.includes(c.string) ? { ...c, part: "ease" as const } : c)) : under.contacts;
  return [{ ...under, contacts, pose: { indexLaid: true, ...(stays ? { eased: fingerBit(1) } : {}) }, fingers: fingerBit(1) }, NOTHING];
}

/** On bass the index presses and 2 to 4 lie together softly on the same string nearer the bridge: a muffled tone. */
function bassMuffle(context: ShapeContext, pressing: number): Option[] {
  if (context.kind !== "electric-bass" || (pressing & ~fingerBit(1)) !== 0) return [NOTHING];
  const muffled = range(1, context.count).filter((s) => context.intents[s - 1] === "muffled");
  if (muffled.length !== 1) return [NOTHING];
  const string = muffled[0]!;
  const press = context.hand.presses.find((p) => p.strings.includes(string));
  if (pressing !== 0 && press?.strings.length !== 1) return [NOTHING];
  const fret = (press?.fret ?? context.hand.position) + 2;
  return [
    {
      contacts: [contact(context, string, "spare", 2, fret, HAND_ACROSS)],
      hold: 2,
      pose: { spare: `m${string}` },
      fingers: fingerBit(2) | fingerBit(3) | fingerBit(4),
    },
    NOTHING,
  ];
}

/** Fingers that have nothing else to do ease where they are, or none does. */
function easedBeside(eased: Option, busyFingers: number): Option[] {
  const contacts = eased.contacts.filter((c) => (fingerBit(c.finger ?? 0) & busyFingers) === 0);
  if (contacts.length === 0) return [NOTHING];
  const fingers = contacts.reduce((mask, c) => mask | fingerBit(c.finger ?? 0), 0);
  const hold = HOLD.ease! * new Set(contacts.map((c) => c.finger)).size;
  return [{ contacts, hold, pose: { eased: fingers }, fingers }, NOTHING];
}

/** Fingers whose note is over stay where they are with the pressure gone. */
function easedFingers(context: ShapeContext, pressing: number, refusals: Refusal[]): Option {
  const contacts: Contact[] = [];
  for (const place of context.hand.left) {
    if ((pressing & fingerBit(place.finger)) !== 0 || place.finger === 0) continue;
    if (isBusy(context, place.finger, 2 * context.settings.moveMs.release)) {
      for (const s of place.strings) if (!isWanted(context.intents[s - 1]!)) refusals.push(busy(s, "ease", place.finger));
      continue;
    }
    const choked = place.strings.find((s) => isWanted(context.intents[s - 1]!) && isLive(context, s, place.fret));
    if (choked !== undefined) {
      for (const s of place.strings)
        refusals.push(refusal(s, "ease", place.finger, "would-choke", `The finger has to leave: string ${choked} should sound there.`));
      continue;
    }
    // A barre that eases lies on every string it covers.
    const covered = place.finger === 1 && place.strings.length > 1 ? range(Math.min(...place.strings), Math.max(...place.strings)) : place.strings;
    const here = touched(context, "ease", place.finger, place.fret, covered, FINGER_TIP, refusals);
    if (here.length === 0) continue;
    contacts.push(...here);
  }
  return { contacts, hold: 0 };
}

/** How far, in frets, a finger with nothing to press lies beside a node it would be over. */
const BESIDE_NODE = 1;

/** Spare fingers laid on a run of strings in front of the chord. */
function spareOptions(context: ShapeContext, pressing: number, refusals: Refusal[]): Option[] {
  const { presses, position } = context.hand;
  const options: Option[] = [NOTHING];
  const highest = Math.max(0, ...presses.map((p) => (typeof p.finger === "number" ? p.finger : 0)));
  const free = ([4, 3, 2] as const).filter((f) => (pressing & fingerBit(f)) === 0 && f > highest);
  const ready = free.filter((f) => !isBusy(context, f, 2 * context.settings.moveMs.spare));
  const bassMost = Math.max(0, ...presses.flatMap((p) => p.strings));
  for (const whole of unwantedRuns(context)) {
    const run = reachable(whole, bassMost, refusals);
    // Nothing is wanted at all: that is laying the hand across, told as such.
    if (run.length === 0 || run.length === context.count) continue;
    const needed = run.length > 2 ? 2 : 1;
    if (ready.length < needed) {
      for (const s of run)
        refusals.push(
          refusal(
            s,
            "spare",
            free[0] ?? 4,
            free.length >= needed ? "no-time" : "finger-busy",
            free.length >= needed ? "The spare finger is wanted elsewhere too soon." : "No finger is spare here.",
          ),
        );
      continue;
    }
    const used = ready.slice(0, needed);
    const lowest = Math.min(...used);
    const fret = Math.max(position + lowest - 1, ...presses.map((p) => p.fret));
    const kind = needed > 1 ? HAND_ACROSS : FINGER_PAD;
    const laidAt = (place: number) => touched(context, "spare", used[0] as 2 | 3 | 4, place, run, kind, []);
    // A spare finger goes out of the way of the octave's node.
    const place = [fret, fret + BESIDE_NODE].find((f) => laidAt(f).every((c) => !c.narrow || chimesAlone(context, c) !== 2)) ?? fret;
    const contacts = touched(context, "spare", used[0] as 2 | 3 | 4, place, run, kind, refusals);
    const bassSide = bassMost > 0 && bassMost < run[0]!;
    if (contacts.length === run.length)
      options.push({
        contacts,
        hold: HOLD.spare! * needed,
        perStroke: bassSide ? BASS_SIDE_SPARE : 0,
        pose: { spare: `s${run.join("")}` },
        fingers: used.reduce((m, f) => m | fingerBit(f), 0),
      });
  }
  return options;
}

/** A spare finger lies on the treble side of the chord; on the bass side it reaches one string, two away at most. */
function reachable(run: readonly number[], bassMost: number, refusals: Refusal[]): number[] {
  // A hand that presses nothing lies over the whole run.
  if (bassMost === 0) return [...run];
  if (run[0]! < bassMost) return run.slice(0, 3);
  const near = run.filter((s) => s <= bassMost + 2).slice(0, 1);
  for (const s of run)
    if (!near.includes(s)) refusals.push(refusal(s, "spare", 4, "out-of-reach", "The little finger does not reach that far over on the bass side."));
  return near;
}

/** Two or more fingers laid across all strings: only when nothing has to sound. */
function layAcross(context: ShapeContext, pressing: number, refusals: Refusal[]): Option | null {
  const strings = range(1, context.count);
  const refuseAll = (code: RefusalCode, reason: string) => {
    for (const s of strings) if (!isWanted(context.intents[s - 1]!)) refusals.push(refusal(s, "lay", 2, code, reason));
    return null;
  };
  if (pressing !== 0) return refuseAll("finger-busy", "The hand is holding notes and cannot be laid across the strings.");
  const wanted = strings.find((s) => isWanted(context.intents[s - 1]!));
  if (wanted !== undefined) return refuseAll("would-choke", `Laid across, the hand would also choke string ${wanted}.`);
  const fret = Math.max(2, context.hand.position + 1);
  const contacts = strings.map((s) => contact(context, s, "lay", 2, fret, HAND_ACROSS));
  return { contacts, hold: HOLD.lay!, pose: { across: true } };
}

/** Two or more fingers slapped across all strings: a sound and a mute in one. */
function slapOf(lay: Option): Contact[] {
  return lay.contacts.map((c) => ({ ...c, part: "slap" }));
}

function thumbOptions(context: ShapeContext, pressing: number, refusals: Refusal[]): Option[] {
  const lowest = context.count;
  if (isWanted(context.intents[lowest - 1]!) || (pressing & fingerBit("T")) !== 0) return [NOTHING];
  if (!context.settings.thumbOver) {
    refusals.push(refusal(lowest, "thumb", "T", "school", "You keep the thumb behind the neck."));
    return [NOTHING];
  }
  const contacts = touched(context, "thumb", "T", Math.max(1, context.hand.position), [lowest], FINGER_PAD, refusals);
  return contacts.length > 0 ? [NOTHING, { contacts, hold: HOLD.thumb!, pose: { thumbOver: true } }] : [NOTHING];
}

function fretWrap(context: ShapeContext): Contact[] {
  if (!context.settings.fretWrap) return [];
  return range(1, context.count)
    .filter((s) => !isWanted(context.intents[s - 1]!))
    .map((s) => ({ string: s, hand: "aid", part: "fret-wrap", touch: { fromMm: 2, toMm: 22, rate: FINGER_PAD.rate }, narrow: false }));
}
