import type { ContactFinger, PickingFinger } from "../hands/fingers.ts";
import { type BesidePart, PICKING_PARTS, type PickingPart, partOf } from "../hands/parts.ts";
import { type FingersBeside, FREE_PICKING, type HandAtStrings, type PickingPosture, pickingPosture } from "../hands/postures.ts";
import { fingerOfString } from "../timeline/strokes.ts";
import { effortOf, makeShape, type Option, withoutDominated } from "./assemble.ts";
import { range, refuseAll, refuseOne, type Told, touched } from "./gate.ts";
import { HandShapes } from "./hand-shapes.ts";
import { isWanted, type PickingContext } from "./situation.ts";
import { bit, type PickingShape, type RefusalCode } from "./types.ts";

/** What heel or thumb can do, and what the fingers can do beside it; a shape takes one of each. */
interface HandOption extends Option {
  at: HandAtStrings;
}

interface FingerOption extends Option {
  beside: FingersBeside;
}

const HAND_OFF: HandOption = { contacts: [], hold: 0, at: { kind: "off" } };
const FINGERS_OFF: FingerOption = { contacts: [], hold: 0, beside: null };

/** How long before the pick a chuck hand lands. Common practice: 10-40 ms. */
export const CHUCK_LEAD_MS = 25;

const kind = <P extends PickingPart>(part: P) => ({ hand: "picking", part }) as const;
const hold = (part: PickingPart) => PICKING_PARTS[part].hold;

/** Every shape the picking hand can take while it makes this step's stroke, or waits. */
export function pickingShapes(context: PickingContext): HandShapes<PickingPosture> {
  return new HandShapes(context, (told) => shapesFor(context, told));
}

function shapesFor(context: PickingContext, refusals: Told): PickingShape[] {
  if (context.taps) {
    refuseAll(context, refusals, kind("palm"), range(1, context.count), undefined, "finger-busy", "The picking hand is at the neck, holding a tapped note.");
    return [makeShape(context, [], FREE_PICKING, effortOf([]))];
  }
  const hands: HandOption[] = [HAND_OFF, ...followOptions(context, refusals), ...palmOptions(context, refusals), ...heelOption(context, refusals)];
  const fingers: FingerOption[] = [FINGERS_OFF, ...replantOption(context)];
  const style = context.settings.playsWith;
  if (context.count < 6 && style === "fingers") {
    hands.push(...bassThumbOptions(context, refusals));
    fingers.push(...restStrokeOption(context), ...parkOption(context));
  } else if (style === "fingers" || style === "thumb") {
    hands.push(...thumbReturnOptions(context, refusals));
    fingers.push(...plantOption(context, refusals), ...restStrokeOption(context));
  } else if (style === "pick") {
    if (context.settings.pickHand !== "thumb")
      refuseAll(
        context,
        refusals,
        kind("thumb"),
        range(lowestWantedOrStruck(context) + 1, context.count),
        "p",
        "school",
        "Your palm is at the bridge, so the thumb does not rest on the strings.",
      );
    fingers.push(...thumbEdgeOption(context), ...curledFingers(context, refusals));
  }
  const shapes: PickingShape[] = [];
  for (const h of hands)
    for (const f of fingers) {
      if (f !== FINGERS_OFF && takesWholeHand(h)) continue;
      const taken = new Set(h.contacts.map((c) => c.string));
      const extra = f.contacts.filter((c) => !taken.has(c.string));
      if (f !== FINGERS_OFF && extra.length === 0) continue;
      shapes.push(makeShape(context, [...h.contacts, ...extra], pickingPosture(h.at, f.beside), effortOf([h, f])));
    }
  return withoutDominated(withMutedTone(context, withChuckHand(context, shapes)));
}

function takesWholeHand({ contacts }: Option): boolean {
  return contacts.some((contact) => partOf(contact).role === "whole-hand");
}

/** A chuck is made by the picking hand unless the player's school gives it to the fretting hand's release. */
function withChuckHand(context: PickingContext, shapes: PickingShape[]): PickingShape[] {
  if (context.stroke?.as !== "chuck") return shapes;
  const heel = shapes.filter((s) => s.posture.at.kind === "heel");
  return heel.length > 0 ? heel : shapes;
}

/** Palm-muted notes need a palm over them: shapes without one are out, where one can be had. */
function withMutedTone(context: PickingContext, shapes: PickingShape[]): PickingShape[] {
  const muted = mutedStrings(context).reduce((mask, s) => mask | bit(s), 0);
  if (muted === 0) return shapes;
  const best = Math.max(...shapes.map((s) => bits(s.muffles & muted)));
  return shapes.filter((s) => bits(s.muffles & muted) === best);
}

/** Strokes of effort, in tenths, for a palm that lies one string nearer or further than the player's school has it. */
const OFF_SCHOOL = 1;

/**
 * The side of the hand on the strings on the bass side of the one being picked: it goes along with the pick. Up to that string
 * or one short of it, as the player has learned it.
 */
function followOptions(context: PickingContext, refusals: Told): HandOption[] {
  const { count, settings, stroke, lastPicked } = context;
  // Where thumb and nails swing, the ball of the hand stays at the bridge.
  if (settings.playsWith !== "pick" && settings.playsWith !== "thumb") return [];
  const wanted = lowestWantedOrStruck(context);
  const beside = stroke && stroke.crossed.length > 0 ? wanted : Math.max(wanted, lastPicked);
  const { palm } = context.strings.rig;
  const option = (from: number, perStroke: number): HandOption => {
    const palmed = settings.pickHand === "thumb" ? range(from + THUMB_REACH, count) : range(from, count);
    const thumbed = settings.pickHand === "thumb" ? touched(context, kind("thumb"), range(from, Math.min(count, from + THUMB_REACH - 1)), { finger: "p" }) : [];
    const contacts = [...thumbed, ...touched(context, kind("palm"), palmed, { grade: palm.choked })];
    return { contacts, hold: 0, perStroke, at: { kind: "follow", from: contacts.length > 0 ? from : 0 } };
  };
  if (beside === 0) return [option(1, 0)];
  if (settings.pickHand === "thumb") return [option(beside + 1, 0)];
  const near = option(beside + 1, settings.neighbour === "palm" ? 0 : OFF_SCHOOL);
  const short = option(beside + 2, settings.neighbour === "palm" ? OFF_SCHOOL : 0);
  if (settings.neighbour === "fingertip" && beside < count)
    refuseAll(
      context,
      refusals,
      kind("palm"),
      [beside + 1],
      undefined,
      "palm-margin",
      `The palm stops one string short of string ${beside}; that neighbour is the fingertip's.`,
    );
  return [short, near];
}

/** Strings a resting thumb covers: its tip on one, side and back on the next two. */
const THUMB_REACH = 3;

/** The heel staying at the bridge from a string on: for muted tones, and for full stops in a rest. */
function palmOptions(context: PickingContext, refusals: Told): HandOption[] {
  const { count, intents, settings, stroke } = context;
  const free = Math.max(0, ...range(1, count).filter((s) => isOpenlyWanted(context, s)));
  const muted = mutedStrings(context);
  const refuse = (from: number, to: number, code: RefusalCode, reason: string) =>
    refuseAll(context, refusals, kind("palm"), range(from, to), undefined, code, reason);
  if (settings.playsWith === "slap") {
    refuse(1, count, "finger-busy", "The slapping hand swings free of the bridge.");
    return [];
  }
  if (settings.playsWith !== "pick" && muted.length === 0) {
    refuse(1, count, "school", "Plucking fingers keep the palm off the bridge unless a palm-muted tone is asked for.");
    return [];
  }
  if (settings.pickHand === "thumb" && muted.length === 0) {
    refuse(1, count, "school", "Your thumb rests on the strings, so the palm stays off the bridge.");
    return [];
  }
  if (context.kind === "electric-bass" && settings.playsWith === "fingers" && stroke && stroke.kind !== "p" && stroke.crossed.length > 0) {
    refuse(1, count, "finger-busy", "Plucking with the fingers holds the palm off the bridge; the thumb could pluck under it.");
    return [];
  }
  const crossed = stroke?.crossed.length ?? 0;
  if (settings.strumPalmMute === "percussive" && muted.length > 1 && stroke?.kind === "up" && crossed > 1) {
    refuse(1, count, "school", "Your palm lands with the down-stroke only.");
    return [];
  }
  refuse(1, free, "would-choke", `The palm cannot pass string ${free}, which should ring.`);
  const forced = muted.length > 0 ? Math.min(...muted) : count + 1;
  const { palm } = context.strings.rig;
  // An accent that the palm has no time to lift for is made by letting up on it; on strings that must not be heard the heel
  // presses harder, but not while the stroke goes through them.
  const isStruck = (s: number) => intents[s - 1] === "muffled" || intents[s - 1] === "thud";
  const grade = (s: number) => (!isStruck(s) ? palm.choked : stroke?.accent ? palm.light : palm.medium);
  return range(free + 1, count)
    .filter((reach) => reach <= forced)
    .map((reach) => {
      const contacts = touched(context, kind("palm"), range(reach, count), (s) => ({ grade: grade(s) }));
      // Right beside an open string it may dull it; a palm of the other school is used to that.
      const perStroke = free > 0 && reach === free + 1 && settings.neighbour === "fingertip" ? OFF_SCHOOL : 0;
      // The heel lies on the lower strings with ease; further it has to be stretched flat.
      const stretch = 0.5 * Math.max(0, count - reach + 1 - 3);
      return { contacts, hold: hold("palm") + STAYS + stretch, perStroke, at: { kind: "palm", from: reach } };
    });
}

/** A heel that stays at the bridge is held there, which one that follows is not; in tenths a second. */
const STAYS = 0.5;

/** The hand laid flat just before a chuck, or a ghost of a player whose fretting hand only presses. */
function heelOption(context: PickingContext, refusals: Told): HandOption[] {
  const { count, intents, settings, stroke } = context;
  if (!stroke || stroke.as === "play" || context.slaps) return [];
  const refuse = (code: RefusalCode, reason: string) => {
    for (const s of range(1, count)) if (intents[s - 1] === "thud") refuseOne(refusals, kind("heel"), s, undefined, code, reason);
    return [];
  };
  if (settings.damps !== "picking" && stroke.as !== "chuck")
    return refuse("school", "A dead stroke is the fretting hand's; the picking hand goes on swinging.");
  if (settings.chuck === "release") return refuse("school", "Your chucks are made by the fretting hand's release.");
  const wanted = range(1, count).find((s) => isOpenlyWanted(context, s));
  if (wanted !== undefined) return refuse("would-choke", `The hand would also choke string ${wanted}.`);
  const lowest = Math.max(...stroke.crossed);
  const strings = settings.chuck === "edge" ? range(Math.max(1, lowest - 3), count) : range(1, count);
  return [{ contacts: touched(context, kind("heel"), strings, { leadMs: CHUCK_LEAD_MS }), hold: hold("heel"), at: { kind: "heel" } }];
}

/** The thumb on one string, its side and back on the next ones. */
function thumbOption(
  context: PickingContext,
  part: "thumb" | "thumb-return",
  strings: readonly number[],
  { dearer = 0, follows = false }: { dearer?: number; follows?: boolean } = {},
): HandOption {
  return {
    contacts: touched(context, kind(part), strings, { finger: "p" }),
    hold: hold(part) + dearer,
    at: { kind: follows ? "thumb-follow" : "thumb", string: strings[0]! },
  };
}

/** The edge of the picking thumb stops the string just left while the pick plays its treble-side neighbour. */
function thumbEdgeOption(context: PickingContext): FingerOption[] {
  const { stroke } = context;
  if (stroke?.kind !== "down" || stroke.crossed.length !== 1 || stroke.as !== "play") return [];
  return besideOption(context, "thumb-edge", [stroke.crossed[0]! + 1], "p");
}

/** A finger on strings beside the hand, where there are such strings and it may lie there. */
function besideOption(context: PickingContext, part: BesidePart, strings: readonly number[], finger: ContactFinger | undefined, at = 0): FingerOption[] {
  const contacts = touched(
    context,
    kind(part),
    strings.filter((s) => s >= 1 && s <= context.count),
    { finger },
  );
  return contacts.length > 0 ? [{ contacts, hold: hold(part), beside: { part, at } }] : [];
}

/** Curled fingers of the picking hand on treble strings, well clear of the stroke. */
function curledFingers(context: PickingContext, refusals: Told): FingerOption[] {
  const clear = Math.min(
    context.count + 1,
    ...range(1, context.count).filter((s) => isWanted(context.intents[s - 1]!) || (context.stroke?.crossed.includes(s) ?? false)),
  );
  const strings = range(1, Math.min(3, clear - 2));
  refuseAll(
    context,
    refusals,
    kind("spare"),
    range(strings.length + 1, Math.min(3, context.count)),
    "a",
    "out-of-reach",
    "Curled fingers would be in the way of the pick there.",
  );
  return besideOption(context, "spare", strings, "a", strings.length);
}

/** Floating thumb: goes along with the playing fingers and leans on all lower strings, three at most; anchored: stays on the lowest. */
function bassThumbOptions(context: PickingContext, refusals: Told): HandOption[] {
  const { count, settings } = context;
  const lowestUsed = lowestWantedOrStruck(context);
  const strings = range(lowestUsed + 1, count);
  refuseAll(context, refusals, kind("thumb"), range(1, lowestUsed), "p", "out-of-reach", "The thumb rests on the bass side of the string that is played.");
  if (settings.bassThumb === "pickup") {
    refuseAll(context, refusals, kind("thumb"), strings, "p", "school", "Your thumb stays on the pickup.");
    return [];
  }
  if (settings.bassThumb === "anchored") {
    for (const s of strings.slice(0, -1)) refuseOne(refusals, kind("thumb"), s, "p", "school", "Your thumb stays anchored on the lowest string.");
    return strings.length > 0 ? [thumbOption(context, "thumb", [count])] : [];
  }
  // One string further where the finger that plucks comes to rest on the neighbour.
  const beside = strings.length > 1 && restStrokeOption(context).length > 0 ? 1 : 0;
  return strings.length > 0 ? [thumbOption(context, "thumb", strings.slice(beside, beside + THUMB_REACH), { follows: true })] : [];
}

/** Pick or finger set back on the string it plays next: that silences it, and the note is shorter by that much. */
function replantOption(context: PickingContext): FingerOption[] {
  const { nextStroke, stroke, settings } = context;
  if (stroke || !nextStroke || settings.playsWith === "slap") return [];
  const { kind: way, string } = nextStroke;
  return besideOption(context, "replant", [string], way === "down" || way === "up" ? undefined : (way as PickingFinger), string);
}

/** With an anchored thumb, or one on the pickup, ring and little finger park on strings between, each on its own. */
function parkOption(context: PickingContext): FingerOption[] {
  const { count, settings } = context;
  const free = (string: number) => string > lowestWantedOrStruck(context);
  if (settings.bassThumb === "floating") return [];
  const lowest = settings.bassThumb === "anchored" ? count - 1 : count;
  const parked = [lowest, lowest - 1].filter(free).flatMap((string) => besideOption(context, "park", [string], string === lowest ? "c" : "a", string));
  const contacts = parked.flatMap((option) => option.contacts);
  if (contacts.length === 0) return [];
  return [{ contacts, hold: hold("park") * parked.length, beside: { part: "park", at: contacts.reduce((mask, c) => mask | bit(c.string), 0) } }];
}

/** A plucking finger comes to rest on the bass-side neighbour, a thumb on the treble-side one. */
function restStrokeOption(context: PickingContext): FingerOption[] {
  const { stroke } = context;
  if (stroke?.crossed.length !== 1) return [];
  const thumb = stroke.kind === "p" || stroke.kind === "down";
  if (stroke.kind === "none" || stroke.kind === "slap" || stroke.kind === "pop" || stroke.kind === "up") return [];
  const rest = stroke.crossed[0]! + (thumb ? -1 : 1);
  return besideOption(context, "rest-stroke", [rest], thumb ? "p" : (stroke.kind as PickingFinger));
}

/** The thumb lies back on the bass string it played; its back can stop the next one. */
function thumbReturnOptions(context: PickingContext, refusals: Told): HandOption[] {
  const { lastThumb, count } = context;
  const isFree = (s: number) => s <= count && !isWanted(context.intents[s - 1]!);
  const own = pluckedBy(context).get("p");
  if (own) {
    const neighbour = Math.max(...own) + 1;
    const others = range(4, count).filter((s) => s !== neighbour);
    refuseAll(context, refusals, kind("thumb-return"), others, "p", "finger-busy", "The thumb is plucking another string.");
    return isFree(neighbour) ? [thumbOption(context, "thumb", [neighbour])] : [];
  }
  return range(4, count)
    .filter(isFree)
    .map((s) => thumbOption(context, "thumb-return", [s, s + 1].filter(isFree), { dearer: s === lastThumb ? 0 : 1 }));
}

/** i m a lie back on "their" strings 3 2 1 between the notes they pluck. */
function plantOption(context: PickingContext, refusals: Told): FingerOption[] {
  const plucking = pluckedBy(context);
  const contacts = [1, 2, 3].flatMap((s) => {
    if (isWanted(context.intents[s - 1]!)) return [];
    const finger = fingerOfString(s, 6);
    if (!plucking.has(finger)) return touched(context, kind("plant"), [s], { finger });
    refuseOne(refusals, kind("plant"), s, finger, "finger-busy", "That finger is plucking another string.");
    return [];
  });
  const strings = contacts.reduce((mask, c) => mask | bit(c.string), 0);
  return contacts.length > 0 ? [{ contacts, hold: hold("plant"), beside: { part: "plant", at: strings } }] : [];
}

/** Which plucking finger is at work on which strings. */
function pluckedBy({ stroke, by, count }: PickingContext): Map<PickingFinger, number[]> {
  const plucking = new Map<PickingFinger, number[]>();
  if (!stroke || stroke.kind === "none" || stroke.as === "click") return plucking;
  const isFinger = ["p", "i", "m", "a", "c"].includes(stroke.kind);
  for (const string of stroke.crossed) {
    const single = stroke.crossed.length === 1 && isFinger ? (stroke.kind as PickingFinger) : undefined;
    const finger = by[string - 1] ?? single ?? (stroke.kind === "down" || stroke.kind === "up" ? "p" : fingerOfString(string, count));
    plucking.set(finger, [...(plucking.get(finger) ?? []), string]);
  }
  return plucking;
}

function lowestWantedOrStruck({ count, intents, stroke }: PickingContext): number {
  return Math.max(0, ...range(1, count).filter((s) => isWanted(intents[s - 1]!) || (stroke?.crossed.includes(s) ?? false)));
}

/** Meant to sound freely, so that not even a palm may lie on it. */
function isOpenlyWanted({ intents }: PickingContext, string: number): boolean {
  return intents[string - 1] === "ring" || intents[string - 1] === "free";
}

function mutedStrings({ count, intents }: PickingContext): number[] {
  return range(1, count).filter((s) => intents[s - 1] === "muffled");
}

function bits(mask: number): number {
  let count = 0;
  for (let m = mask; m !== 0; m &= m - 1) count++;
  return count;
}
