import { bassMostOf, type Press, underBarre } from "../fingering/hand-state.ts";
import { HAND_ACROSS } from "../hands/contact-areas.ts";
import { type FingerMask, fingerBit } from "../hands/fingers.ts";
import type { FrettingPart } from "../hands/parts.ts";
import { type FrettingPosture, frettingPosture } from "../hands/postures.ts";
import { PRICES } from "../hands/prices.ts";
import { type Doing, doingOf, effortOf, joinShape, makeShape, withoutDominated } from "./assemble.ts";
import { type FingerOption, hold, kind, NOTHING } from "./fretting-options.ts";
import { isLive, type RefusalList, range, refuseAll, refuseOne, touched } from "./gate.ts";
import { idleOptions } from "./idle-fingers.ts";
import { leanOptions, rolledFrom } from "./lean.ts";
import { ShapeList } from "./shape-list.ts";
import { type FrettingContext, type FrettingSituation, frettingContext, isWanted, type Setup } from "./situation.ts";
import { bit, type Contact, type FrettingShape, type RefusalCode, type Why } from "./types.ts";

/**
 * Every posture the fretting hand can take besides the presses themselves. What costs a player nothing and changes with the
 * presses comes with every one of them: the tip on the bass side, fingers resting where they pressed, what a barre covers.
 */
export function frettingShapes(setup: Setup, situation: FrettingSituation): ShapeList<FrettingPosture> {
  const context = frettingContext(setup, situation);
  return new ShapeList(context, (refusals) => shapesFor(context, refusals));
}

function shapesFor(context: FrettingContext, refusals: RefusalList): FrettingShape[] {
  const pressing = context.presses.reduce((mask, p) => mask | fingerBit(p.finger), 0);
  const wrap = fretWrap(context);
  const across = layAcross(context, pressing, refusals);
  const acrossShape = () => makeShape(context, [...across!.contacts, ...wrap], frettingPosture(across!.posture!), effortOf([across!]));
  if (across && context.slaps) return [acrossShape()];
  const rests = restingFingers(context, pressing, refusals);
  const resting = rests.reduce((mask, c) => mask | fingerBit(c.finger ?? 0), 0);
  const idle = ([1, 2, 3, 4] as const).filter((f) => ((pressing | resting) & fingerBit(f)) === 0);
  const groups: FingerOption[][] = [
    leanOptions(context, rests, refusals),
    ...context.presses.map((press) => flatOptions(context, press, refusals)),
    idleOptions(context, idle, rests, refusals),
    thumbOptions(context, pressing, refusals),
    bassMuffle(context, pressing, rests),
  ];
  const always = [...context.presses.flatMap((press) => besidePress(context, press, refusals)), ...wrap];
  const combining: Combining = { context, choices: choicesOf(context, groups), always, rests, bases: new Map(), chosen: [], doings: [], shapes: [] };
  combine(0, 0, combining);
  const { shapes } = combining;
  if (across) shapes.push(acrossShape());
  return withoutDominated(shapes);
}

/** One option of every group is chosen after the other: what is chosen so far, and the shapes that came of it. */
interface Combining {
  context: FrettingContext;
  choices: readonly (readonly Choice[])[];
  /** What is there whatever is chosen, and what fingers that are taken give up. */
  always: readonly Contact[];
  rests: readonly Contact[];
  /** What is there besides the choices, by the fingers that they take. */
  bases: Map<FingerMask, Doing>;
  chosen: FingerOption[];
  doings: Doing[];
  shapes: FrettingShape[];
}

/** An option, and what it does to the strings; null for nothing. */
interface Choice {
  option: FingerOption;
  doing: Doing | null;
}

function choicesOf(context: FrettingContext, groups: readonly (readonly FingerOption[])[]): Choice[][] {
  return groups
    .filter((group) => group.length > 1 || group[0] !== NOTHING)
    .map((group) => group.map((option) => ({ option, doing: option === NOTHING ? null : doingOf(context, option.contacts) })));
}

/** Every way to go on from the k-th group with no finger taken twice. */
function combine(k: number, busy: FingerMask, combining: Combining): void {
  const { choices, chosen, doings } = combining;
  if (k === choices.length) {
    combining.shapes.push(joinShape(combining.context, baseOf(busy, combining), doings, frettingPosture(postureOf(chosen)), effortOf(chosen)));
    return;
  }
  for (const { option, doing } of choices[k]!) {
    const fingers = option.fingers ?? 0;
    if (doing === null) combine(k + 1, busy, combining);
    else if ((busy & fingers) === 0) {
      chosen.push(option);
      doings.push(doing);
      combine(k + 1, busy | fingers, combining);
      chosen.pop();
      doings.pop();
    }
  }
}

function baseOf(busy: FingerMask, { context, always, rests, bases }: Combining): Doing {
  const known = bases.get(busy);
  if (known) return known;
  const base = doingOf(context, [...always, ...rests.filter((c) => (fingerBit(c.finger ?? 0) & busy) === 0)]);
  bases.set(busy, base);
  return base;
}

/** What the options of a shape come to together: no two of them speak of the same part of the hand. */
function postureOf(chosen: readonly FingerOption[]): Partial<FrettingPosture> {
  const whole: Partial<FrettingPosture> = { lean: 0, across: false, thumb: "behind" };
  for (const { posture } of chosen) {
    if (posture?.lean) whole.lean = posture.lean;
    if (posture?.spare) whole.spare = posture.spare;
    if (posture?.thumb) whole.thumb = posture.thumb;
  }
  return whole;
}

/** What comes with a press: the strings a barre covers, the string it rolled off, the tip against the bass-side neighbour. */
function besidePress(context: FrettingContext, press: Press, refusals: RefusalList): Contact[] {
  if (press.finger === "T" || press.finger === 0) return [];
  const place = { finger: press.finger, fret: press.fret };
  const bassMost = Math.max(...press.strings);
  const between = range(Math.min(...press.strings) + 1, bassMost - 1).filter((s) => !press.strings.includes(s));
  const contacts = touched(context, kind("underside"), between, { ...place, isCovered: true });
  const rolled = rolledFrom(context, press);
  if (rolled !== null) contacts.push(...touched(context, kind("roll"), [rolled], place, refusals));
  // The finger on the bass-most pressed string, and the index wherever it is.
  const isBassMost = bassMost === bassMostOf(context.presses);
  if ((!isBassMost && press.finger !== 1) || (rolled !== null && rolled > bassMost) || bassMost >= context.count) return contacts;
  if ((context.bending & fingerBit(press.finger)) !== 0) {
    bends(refusals, bassMost + 1, "tip", press.finger);
    return contacts;
  }
  if (context.presses.some((other) => other.strings.includes(bassMost + 1)) || (context.keptOpen & bit(bassMost + 1)) !== 0) return contacts;
  return [...contacts, ...touched(context, kind("tip"), [bassMost + 1], place, refusals)];
}

function bends(refusals: RefusalList, string: number, part: FrettingPart, finger: Press["finger"]): void {
  refuseOne(refusals, kind(part), string, finger, "contortion", ["bends"]);
}

/** A pressing finger flattened onto one or two strings on its treble side; the index leans instead. */
function flatOptions(context: FrettingContext, press: Press, refusals: RefusalList): FingerOption[] {
  if (press.finger === 1 || press.finger === "T" || press.finger === 0) return [NOTHING];
  const trebleMost = Math.min(...press.strings);
  if ((context.bending & fingerBit(press.finger)) !== 0) {
    if (trebleMost > 1) bends(refusals, trebleMost - 1, "flat", press.finger);
    return [NOTHING];
  }
  const options: FingerOption[] = [NOTHING];
  for (let reach = 1; reach <= 2 && reach < trebleMost; reach++) {
    const contacts = touched(context, kind("flat"), range(trebleMost - reach, trebleMost - 1), { finger: press.finger, fret: press.fret }, refusals);
    if (contacts.length < reach) break;
    options.push({ contacts, hold: hold("flat") + (reach > 1 ? PRICES.flatter : 0) });
  }
  return options;
}

/** On bass the index presses, or lets go for a dead note, and 2 to 4 lie together softly on the same string nearer the bridge. */
function bassMuffle(context: FrettingContext, pressing: FingerMask, rests: readonly Contact[]): FingerOption[] {
  if (context.kind !== "electric-bass" || (pressing & ~fingerBit(1)) !== 0) return [NOTHING];
  const meant = range(1, context.count).filter((s) => context.intents[s - 1] === "muffled");
  const dead = range(1, context.count).filter((s) => context.intents[s - 1] === "thud");
  if (meant.length + dead.length !== 1) return [NOTHING];
  const string = [...meant, ...dead][0]!;
  const press = context.presses.find((p) => p.strings.includes(string));
  if (pressing !== 0 && press?.strings.length !== 1) return [NOTHING];
  const fret = (press?.fret ?? context.position) + 2;
  const covered = [string, string - 1, string - 2].filter((s) => s >= 1);
  // A finger that rests on another string stays there.
  const elsewhere = rests.reduce((mask, c) => (covered.includes(c.string) ? mask : mask | fingerBit(c.finger ?? 0)), 0);
  const fingers = (fingerBit(2) | fingerBit(3) | fingerBit(4)) & ~elsewhere;
  if (fingers === 0) return [NOTHING];
  return [
    {
      // They lie flat, over the strings on its treble side as well.
      contacts: touched(context, kind("spare"), covered, { finger: 2, fret, area: HAND_ACROSS }),
      hold: 0,
      posture: { spare: { kind: "along", string } },
      fingers,
    },
    NOTHING,
  ];
}

/** Fingers whose note is over stay where they are with the pressure gone, unless their string is to sound otherwise. */
function restingFingers(context: FrettingContext, pressing: FingerMask, refusals: RefusalList): Contact[] {
  const contacts: Contact[] = [];
  for (const { finger, fret, strings } of context.left) {
    if (finger === 0 || (pressing & fingerBit(finger)) !== 0) continue;
    const choked = strings.find((s) => isWanted(context.intents[s - 1]!) && isLive(context, s, fret));
    if (choked !== undefined) {
      for (const s of strings) refuseOne(refusals, kind("ease"), s, finger, "would-choke", ["has-to-leave", choked]);
      continue;
    }
    contacts.push(...touched(context, kind("ease"), underBarre({ finger, strings }), { finger, fret }, refusals));
  }
  return contacts;
}

/** Two or more fingers laid, or in a slap of this hand slapped, across all strings: only when nothing has to sound. */
function layAcross(context: FrettingContext, pressing: FingerMask, refusals: RefusalList): FingerOption | null {
  const strings = range(1, context.count);
  const refuse = (code: RefusalCode, why: Why) => {
    refuseAll(context, refusals, kind("lay"), strings, 2, code, why);
    return null;
  };
  if (context.settings.damps === "picking" && !context.slaps) return refuse("school", ["picking-hand-damps"]);
  if (pressing !== 0) return refuse("finger-busy", ["hand-holds-notes"]);
  const wanted = strings.find((s) => isWanted(context.intents[s - 1]!));
  if (wanted !== undefined) return refuse("would-choke", ["laid-across-chokes", wanted]);
  const part = context.slaps ? "slap" : "lay";
  const contacts = touched(context, kind(part), strings, { finger: 2, fret: Math.max(2, context.position + 1) });
  return { contacts, hold: context.settings.index === "arched" ? 0 : hold(part), posture: { across: true } };
}

function thumbOptions(context: FrettingContext, pressing: FingerMask, refusals: RefusalList): FingerOption[] {
  const lowest = context.count;
  if (isWanted(context.intents[lowest - 1]!) || (pressing & fingerBit("T")) !== 0) return [NOTHING];
  if (context.settings.thumbOver === "no") {
    refuseOne(refusals, kind("thumb"), lowest, "T", "school", ["thumb-behind"]);
    return [NOTHING];
  }
  const contacts = touched(context, kind("thumb"), [lowest], { finger: "T", fret: Math.max(1, context.position) }, refusals);
  return contacts.length > 0 ? [NOTHING, { contacts, hold: hold("thumb"), posture: { thumb: "over" } }] : [NOTHING];
}

function fretWrap(context: FrettingContext): Contact[] {
  return context.wrapped ? touched(context, { hand: "aid", part: "fret-wrap" }, range(1, context.count), {}) : [];
}
