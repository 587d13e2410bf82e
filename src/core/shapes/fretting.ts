import type { Press } from "../fingering/fingering.ts";
import { type FingerMask, fingerBit } from "../hands/fingers.ts";
import { FRETTING_PARTS, type FrettingPart } from "../hands/parts.ts";
import { FINGER_PAD, FINGER_TIP, type FingerPatch, HAND_ACROSS } from "../hands/patches.ts";
import { type FrettingPosture, frettingPosture } from "../hands/postures.ts";
import { chimesAlone, type Doing, doingOf, effortOf, joinShape, makeShape, type Option, withoutDominated } from "./assemble.ts";
import { isLive, range, refuseAll, refuseOne, type Told, touched } from "./gate.ts";
import { HandShapes } from "./hand-shapes.ts";
import { type FrettingContext, isWanted } from "./situation.ts";
import { bit, type Contact, type FrettingShape, type RefusalCode } from "./types.ts";

/** One thing a hand can do in addition to its work; a shape takes at most one per group. */
interface FingerOption extends Option {
  posture?: Partial<FrettingPosture>;
  /** Fingers it needs for itself. */
  fingers?: FingerMask;
}

const NOTHING: FingerOption = { contacts: [], hold: 0 };

const kind = <P extends FrettingPart>(part: P) => ({ hand: "fretting", part }) as const;
const hold = (part: FrettingPart) => FRETTING_PARTS[part].hold;

/**
 * Every posture the fretting hand can take besides the presses themselves. What costs a player nothing and changes with the
 * presses comes with every one of them: the tip on the bass side, fingers resting where they pressed, what a barre covers.
 */
export function frettingShapes(context: FrettingContext): HandShapes<FrettingPosture> {
  return new HandShapes(context, (told) => shapesFor(context, told));
}

function shapesFor(context: FrettingContext, refusals: Told): FrettingShape[] {
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
    bassMuffle(context, pressing),
  ];
  const always = [...context.presses.flatMap((press) => besidePress(context, press, refusals)), ...wrap];
  const doings = new Map<Option, Doing>();
  const doing = (option: Option) => {
    const known = doings.get(option) ?? doingOf(context, option.contacts);
    doings.set(option, known);
    return known;
  };
  const base = new Map<FingerMask, FingerOption>();
  const shapes: FrettingShape[] = [];
  for (const chosen of combinations(groups)) {
    let busy = 0;
    let clash = false;
    for (const option of chosen) {
      clash ||= (busy & (option.fingers ?? 0)) !== 0;
      busy |= option.fingers ?? 0;
    }
    if (clash) continue;
    const rest = base.get(busy) ?? { contacts: [...always, ...rests.filter((c) => (fingerBit(c.finger ?? 0) & busy) === 0)], hold: 0 };
    base.set(busy, rest);
    const posture: Partial<FrettingPosture> = Object.assign({}, ...chosen.map((option) => option.posture));
    shapes.push(joinShape(context, [doing(rest), ...chosen.map(doing)], frettingPosture(posture), effortOf(chosen)));
  }
  if (across) shapes.push(acrossShape());
  return withoutDominated(shapes);
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

/** What comes with a press: the strings a barre covers, the string it rolled off, the tip against the bass-side neighbour. */
function besidePress(context: FrettingContext, press: Press, refusals: Told): Contact[] {
  if (press.finger === "T" || press.finger === 0) return [];
  const place = { finger: press.finger, fret: press.fret };
  const bassMost = Math.max(...press.strings);
  const between = range(Math.min(...press.strings) + 1, bassMost - 1).filter((s) => !press.strings.includes(s));
  const contacts = touched(context, kind("underside"), between, { ...place, isCovered: true });
  const rolled = rolledFrom(context, press);
  if (rolled !== null) contacts.push(...touched(context, kind("roll"), [rolled], place, refusals));
  // The finger on the bass-most pressed string, and the index wherever it is.
  const isBassMost = bassMost === Math.max(...context.presses.flatMap((p) => p.strings));
  if ((!isBassMost && press.finger !== 1) || (rolled !== null && rolled > bassMost) || bassMost >= context.count) return contacts;
  if ((context.bending & fingerBit(press.finger)) !== 0) {
    bends(refusals, bassMost + 1, "tip", press.finger);
    return contacts;
  }
  if (context.presses.some((other) => other.strings.includes(bassMost + 1))) return contacts;
  return [...contacts, ...touched(context, kind("tip"), [bassMost + 1], place, refusals)];
}

function bends(refusals: Told, string: number, part: FrettingPart, finger: Press["finger"]): void {
  refuseOne(refusals, kind(part), string, finger, "contortion", "That finger bends its string and does nothing else.");
}

/** The neighbouring string this finger has just rolled off, at the same fret; null if it did not roll. */
function rolledFrom(context: FrettingContext, press: Press): number | null {
  const before = context.rolledFrom.find((p) => p.finger === press.finger && p.fret === press.fret && p.strings.length === 1);
  if (!before || press.strings.length > 1) return null;
  const from = before.strings[0]!;
  return Math.abs(from - press.strings[0]!) === 1 ? from : null;
}

/** A pressing finger flattened onto one or two strings on its treble side; the index leans instead. */
function flatOptions(context: FrettingContext, press: Press, refusals: Told): FingerOption[] {
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
    options.push({ contacts, hold: hold("flat") + (reach > 1 ? FLATTER : 0) });
  }
  return options;
}

/** What the second string under a flattened finger adds, in tenths a second. */
const FLATTER = 2;

/**
 * The underside of the index: over strings next to the one it presses, on the treble side; where it presses nothing, over any
 * run, from where it rests or from its post behind the others.
 */
function leanOptions(context: FrettingContext, rests: readonly Contact[], refusals: Told): FingerOption[] {
  const { presses, position, left, settings, bending } = context;
  const press = presses.find((p) => p.finger === 1);
  const home = left.find((p) => p.finger === 1);
  const held = presses.length > 0 ? presses : left.filter((p) => p.finger !== 1);
  if (!press && held.length === 0 && !home) return [NOTHING];
  const refuse = (strings: readonly number[], code: RefusalCode, reason: string) => {
    refuseAll(context, refusals, kind("underside"), strings, 1, code, reason);
    return [NOTHING];
  };
  if (settings.index === "arched")
    return refuse(
      range(1, press ? Math.min(...press.strings) - 1 : context.count),
      "school",
      "You play with an arched index, so its underside stays off the strings.",
    );
  if (press) {
    const strings = range(1, Math.min(...press.strings) - 1).reverse();
    if ((bending & fingerBit(1)) !== 0) return refuse(strings, "contortion", "The index bends its string and does nothing else.");
    return leans(context, press.fret, strings, [], refusals);
  }
  // Where it pressed it may be beside the others; else it is behind them.
  const fret = home ? Math.min(home.fret, ...held.map((p) => p.fret)) : Math.min(position, ...held.map((p) => p.fret - 1));
  if (fret < 1) return [NOTHING];
  const resting = home && home.fret === fret ? rests.filter((c) => c.finger === 1) : [];
  // Behind a grip that presses it lies over the treble side, its tip on the next string; behind one that rests, over any run.
  const furthest = presses.length > 0 ? Math.min(context.count, Math.max(...presses.flatMap((p) => p.strings)) + 1) : context.count;
  const options = runs(context, fret, furthest).flatMap((run) =>
    resting.every((c) => run.includes(c.string)) ? leans(context, fret, [...run].reverse(), resting, refusals) : [],
  );
  return options.length > 0 ? options : [NOTHING];
}

/** Leaning over some strings, from the first on until one must sound, or until one that must before any finger moves. */
function leans(context: FrettingContext, fret: number, strings: readonly number[], resting: readonly Contact[], refusals: Told): FingerOption[] {
  const choked = strings.findIndex((s) => isWanted(context.intents[s - 1]!) && isLive(context, s, fret));
  const free = choked < 0 ? strings : strings.slice(0, choked);
  if (choked >= 0)
    refuseAll(
      context,
      refusals,
      kind("underside"),
      strings.slice(choked + 1),
      1,
      "would-choke",
      `Laid flat, the index would also lie on string ${strings[choked]}, which should sound.`,
    );
  const here = resting.map((c) => c.string);
  const contacts = touched(
    context,
    kind("underside"),
    free.filter((s) => !here.includes(s)),
    { finger: 1, fret },
    refusals,
  );
  const soon = contacts.findIndex(({ string }) => (context.soonWanted & bit(string)) !== 0);
  // Not leaning is always to be had: no lean is forced by a want of anything else.
  const lengths = new Set([0, soon < 0 ? contacts.length : soon, contacts.length]);
  return [...lengths].map((length) => {
    if (length === 0) return NOTHING;
    const leant = contacts.slice(0, length);
    const lean = leant.reduce((mask, { string }) => mask | bit(string), 0);
    return { contacts: [...resting, ...leant], hold: hold("underside"), posture: { lean }, fingers: fingerBit(1) };
  });
}

/** Runs of neighbouring strings, up to one, over which a finger at a fret chokes nothing. */
function runs(context: FrettingContext, fret: number, furthest: number): number[][] {
  const found: number[][] = [];
  let run: number[] = [];
  for (let s = 1; s <= furthest + 1; s++) {
    if (s <= furthest && !(isWanted(context.intents[s - 1]!) && isLive(context, s, fret))) run.push(s);
    else {
      if (run.some((string) => isLive(context, string, fret))) found.push(run);
      run = [];
    }
  }
  return found;
}

/** On bass the index presses, or lets go for a dead note, and 2 to 4 lie together softly on the same string nearer the bridge. */
function bassMuffle(context: FrettingContext, pressing: FingerMask): FingerOption[] {
  if (context.kind !== "electric-bass" || (pressing & ~fingerBit(1)) !== 0) return [NOTHING];
  const meant = range(1, context.count).filter((s) => context.intents[s - 1] === "muffled");
  const dead = range(1, context.count).filter((s) => context.intents[s - 1] === "thud");
  if (meant.length + dead.length !== 1) return [NOTHING];
  const string = [...meant, ...dead][0]!;
  const press = context.presses.find((p) => p.strings.includes(string));
  if (pressing !== 0 && press?.strings.length !== 1) return [NOTHING];
  const fret = (press?.fret ?? context.position) + 2;
  return [
    {
      // They lie flat, over the strings on its treble side as well.
      contacts: touched(
        context,
        kind("spare"),
        [string, string - 1, string - 2].filter((s) => s >= 1),
        { finger: 2, fret, patch: HAND_ACROSS },
      ),
      hold: 0,
      posture: { spare: { kind: "along", string } },
      fingers: fingerBit(2) | fingerBit(3) | fingerBit(4),
    },
    NOTHING,
  ];
}

/** Fingers whose note is over stay where they are with the pressure gone, unless their string is to sound otherwise. */
function restingFingers(context: FrettingContext, pressing: FingerMask, refusals: Told): Contact[] {
  const contacts: Contact[] = [];
  for (const { finger, fret, strings } of context.left) {
    if (finger === 0 || (pressing & fingerBit(finger)) !== 0) continue;
    const choked = strings.find((s) => isWanted(context.intents[s - 1]!) && isLive(context, s, fret));
    if (choked !== undefined) {
      for (const s of strings) refuseOne(refusals, kind("ease"), s, finger, "would-choke", `The finger has to leave: string ${choked} should sound there.`);
      continue;
    }
    // A barre that rests lies on every string it covers.
    const covered = finger === 1 && strings.length > 1 ? range(Math.min(...strings), Math.max(...strings)) : strings;
    contacts.push(...touched(context, kind("ease"), covered, { finger, fret }, refusals));
  }
  return contacts;
}

/** Strings that a finger with nothing to press covers by lying there. */
const PER_FINGER = 2;

/**
 * Fingers that are in no grip: lying together on strings beside it, as many as they reach, which is how players with an arched
 * index rest; or one spare finger from the grip to two strings on its treble side. None reaches past the grip to the bass side.
 */
function idleOptions(context: FrettingContext, idle: readonly (1 | 2 | 3 | 4)[], rests: readonly Contact[], refusals: Told): FingerOption[] {
  const { presses, position, settings } = context;
  const options: FingerOption[] = [NOTHING];
  const isArched = settings.index === "arched";
  // The index that leans is told there.
  const free = idle.filter((f) => isArched || f !== 1);
  const ready = free.filter((f) => (context.hurried & fingerBit(f)) === 0);
  const bassMost = Math.max(0, ...presses.flatMap((p) => p.strings));
  const refuse = (strings: readonly number[], code: RefusalCode, reason: string) =>
    refuseAll(context, refusals, kind("spare"), strings, free.at(-1) ?? 4, code, reason);
  if (bassMost > 0) refuse(range(bassMost + 1, context.count), "contortion", "No idle finger reaches past the grip to the bass side.");
  const beside = range(1, bassMost > 0 ? bassMost : context.count);
  if (free.length === 0) {
    refuse(beside, "finger-busy", "All four fingers are at work here.");
    return options;
  }
  if (ready.length === 0) {
    refuse(beside, "no-time", "The idle finger is wanted elsewhere too soon.");
    return options;
  }
  const front = ready.at(-1)!;
  const fret = Math.max(1, Math.min(positionOf(front), ...presses.filter((p) => order(p.finger) > front).map((p) => p.fret)));
  const together = ready.length > 1;
  for (const run of runs(context, fret, beside.length)) {
    // Nearest the grip first, and only beside it: no finger lies across a string that sounds.
    if (bassMost > 0 && !isBeside(run)) {
      refuse(run, "contortion", "An idle finger would have to reach across a string that sounds.");
      continue;
    }
    // While nothing is pressed an arched hand lies flat as a whole: resting fingers cover strings too, and the others lie over theirs.
    const flat = isArched && presses.length === 0;
    const isResting = (s: number) => rests.some((c) => c.string === s);
    const open = [...run].reverse().filter((s) => isLive(context, s, fret) && !presses.some((p) => p.strings.includes(s)));
    const beyond = open.filter((s) => presses.length > 0 || !isResting(s));
    const reach = PER_FINGER * (flat ? 4 : ready.length) - (flat ? open.length - beyond.length : 0);
    if (beyond.length > reach) refuse(beyond.slice(reach), "contortion", "The idle fingers do not reach that far.");
    const covered = beyond.slice(0, reach);
    const near = flat ? open.filter((s) => covered.includes(s) || isResting(s)) : covered;
    const laidAt = (at: number, patch: FingerPatch, told: Told) => touched(context, kind("spare"), near, { finger: front, fret: at, patch }, told);
    // They lie out of the way of a node.
    const at = [fret, fret + 1].find((f) => laidAt(f, FINGER_TIP, null).every((c) => chimesAlone(context, c) === 0)) ?? fret;
    const contacts = laidAt(at, together ? HAND_ACROSS : FINGER_PAD, refusals);
    if (contacts.length === 0) continue;
    const strings = contacts.map((c) => c.string);
    options.push({
      contacts,
      hold: isArched ? 0 : together ? TOGETHER : hold("spare"),
      posture: { spare: { kind: "laid", strings } },
      fingers: ready.reduce((mask, f) => mask | fingerBit(f), 0),
    });
  }
  return options;

  function isBeside(run: readonly number[]): boolean {
    return presses.some(({ strings }) => strings.some((s) => run.includes(s) || run.includes(s - 1) || run.includes(s + 1)));
  }
  function positionOf(finger: 1 | 2 | 3 | 4): number {
    const below = presses.filter((p) => order(p.finger) < finger).map((p) => p.fret);
    return Math.max(position + finger - 1, ...below);
  }
}

/** Idle fingers lying together where the index usually leans, in tenths a second: not the school, and no trouble. */
const TOGETHER = 2;

function order(finger: Press["finger"]): number {
  return finger === "T" ? 0 : finger;
}

/** Two or more fingers laid, or in a slap of this hand slapped, across all strings: only when nothing has to sound. */
function layAcross(context: FrettingContext, pressing: FingerMask, refusals: Told): FingerOption | null {
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
  return { contacts, hold: context.settings.index === "arched" ? 0 : hold(part), posture: { across: true } };
}

function thumbOptions(context: FrettingContext, pressing: FingerMask, refusals: Told): FingerOption[] {
  const lowest = context.count;
  if (isWanted(context.intents[lowest - 1]!) || (pressing & fingerBit("T")) !== 0) return [NOTHING];
  if (context.settings.thumbOver === "no") {
    refuseOne(refusals, kind("thumb"), lowest, "T", "school", "You keep the thumb behind the neck.");
    return [NOTHING];
  }
  const contacts = touched(context, kind("thumb"), [lowest], { finger: "T", fret: Math.max(1, context.position) }, refusals);
  return contacts.length > 0 ? [NOTHING, { contacts, hold: hold("thumb"), posture: { thumb: "over" } }] : [NOTHING];
}

function fretWrap(context: FrettingContext): Contact[] {
  return context.wrapped ? touched(context, { hand: "aid", part: "fret-wrap" }, range(1, context.count), {}) : [];
}
