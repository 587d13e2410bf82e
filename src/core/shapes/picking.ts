import type { ContactFinger, PickingFinger } from "../hands/fingers.ts";
import { type BesidePart, partOf } from "../hands/parts.ts";
import { FREE_PICKING, type PickingPosture, pickingPosture } from "../hands/postures.ts";
import { PRICES } from "../hands/prices.ts";
import { fingerOfString } from "../timeline/strokes.ts";
import { effortOf, makeShape, type Option, withoutDominated } from "./assemble.ts";
import { type RefusalList, range, refuseAll, refuseOne, touched } from "./gate.ts";
import { followOptions, heelOption, palmOptions } from "./palm.ts";
import { FINGERS_OFF, type FingerOption, HAND_OFF, type HandOption, hold, kind, lowestWantedOrStruck, mutedStrings, THUMB_REACH } from "./picking-options.ts";
import { ShapeList } from "./shape-list.ts";
import { isWanted, type PickingContext, type PickingSituation, pickingContext, type Setup } from "./situation.ts";
import { bit, bitCount, type PickingShape } from "./types.ts";

/** Every shape the picking hand can take while it makes this step's stroke, or waits. */
export function pickingShapes(setup: Setup, situation: PickingSituation): ShapeList<PickingPosture> {
  const context = pickingContext(setup, situation);
  return new ShapeList(context, (refusals) => shapesFor(context, refusals));
}

function shapesFor(context: PickingContext, refusals: RefusalList): PickingShape[] {
  if (context.taps) {
    refuseAll(context, refusals, kind("palm"), range(1, context.count), undefined, "finger-busy", ["taps"]);
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
    fingers.push(...besideEachOther(plantOption(context, refusals), restStrokeOption(context)));
  } else if (style === "pick") {
    if (context.settings.pickHand !== "thumb")
      refuseAll(context, refusals, kind("thumb"), range(lowestWantedOrStruck(context) + 1, context.count), "p", "school", ["palm-at-bridge"]);
    fingers.push(...thumbEdgeOption(context), ...curledFingers(context, refusals));
  }
  if (clickedStrings(context).length > 0 && style !== "fingers" && style !== "thumb") fingers.push(...clickOption(context));
  const shapes: PickingShape[] = [];
  for (const h of hands)
    for (const f of fingers) {
      if (f !== FINGERS_OFF && takesWholeHand(h)) continue;
      // A thumb that comes to rest on the next string lies on no other.
      if (f.beside?.part === "rest-stroke" && usesThumb(f) && usesThumb(h)) continue;
      const taken = new Set(h.contacts.map((c) => c.string));
      const extra = f.contacts.filter((c) => !taken.has(c.string));
      if (f !== FINGERS_OFF && extra.length === 0) continue;
      shapes.push(makeShape(context, [...h.contacts, ...extra], pickingPosture(h.at, f.beside), effortOf([h, f])));
    }
  return withoutDominated(withMutedTone(context, withClick(context, withChuckHand(context, shapes))));
}

function usesThumb({ contacts }: Option): boolean {
  return contacts.some(({ finger }) => finger === "p");
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

/** Fingers that are written to come down on strings do. */
function withClick(context: PickingContext, shapes: PickingShape[]): PickingShape[] {
  const clicked = clickedStrings(context).reduce((mask, s) => mask | bit(s), 0);
  const clicking = shapes.filter((shape) => (shape.deadens & clicked) === clicked);
  return clicked === 0 || clicking.length === 0 ? shapes : clicking;
}

/** Palm-muted notes need a palm over them: shapes without one are out, where one can be had. */
function withMutedTone(context: PickingContext, shapes: PickingShape[]): PickingShape[] {
  const muted = mutedStrings(context).reduce((mask, s) => mask | bit(s), 0);
  if (muted === 0) return shapes;
  const best = Math.max(...shapes.map((s) => bitCount(s.muffles & muted)));
  return shapes.filter((s) => bitCount(s.muffles & muted) === best);
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
function curledFingers(context: PickingContext, refusals: RefusalList): FingerOption[] {
  const clear = Math.min(
    context.count + 1,
    ...range(1, context.count).filter((s) => isWanted(context.intents[s - 1]!) || (context.stroke?.crossed.includes(s) ?? false)),
  );
  const strings = range(1, Math.min(3, clear - 2));
  refuseAll(context, refusals, kind("spare"), range(strings.length + 1, Math.min(3, context.count)), "a", "out-of-reach", ["in-the-way"]);
  return besideOption(context, "spare", strings, "a", strings.length);
}

/** Floating thumb: goes along with the playing fingers and leans on all lower strings, three at most; anchored: stays on the lowest. */
function bassThumbOptions(context: PickingContext, refusals: RefusalList): HandOption[] {
  const { count, settings, lastPicked } = context;
  const lowestUsed = lowestWantedOrStruck(context);
  // In a rest it stays where it followed to; before the first note, and after the lowest string, it lies on the lowest ones.
  const followed = lastPicked > 0 && lastPicked < count ? lastPicked + 1 : Math.max(1, count + 1 - THUMB_REACH);
  const strings = range(lowestUsed > 0 ? lowestUsed + 1 : followed, count);
  refuseAll(context, refusals, kind("thumb"), range(1, lowestUsed), "p", "out-of-reach", ["bass-side-thumb"]);
  if (settings.bassThumb === "pickup") {
    refuseAll(context, refusals, kind("thumb"), strings, "p", "school", ["thumb-on-pickup"]);
    return [];
  }
  if (settings.bassThumb === "anchored") {
    for (const s of strings.slice(0, -1)) refuseOne(refusals, kind("thumb"), s, "p", "school", ["thumb-anchored"]);
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
  // A slap comes from above the string; a pop begins with the index under it.
  if (way === "slap" || way === "none") return [];
  return besideOption(context, "replant", [string], way === "down" || way === "up" ? undefined : way === "pop" ? "i" : way, string);
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
function thumbReturnOptions(context: PickingContext, refusals: RefusalList): HandOption[] {
  const { lastThumb, count } = context;
  const isFree = (s: number) => s <= count && !isWanted(context.intents[s - 1]!);
  const own = pluckedBy(context).get("p");
  if (own) {
    const neighbour = Math.max(...own) + 1;
    const others = range(4, count).filter((s) => s !== neighbour);
    refuseAll(context, refusals, kind("thumb-return"), others, "p", "finger-busy", ["thumb-plucks"]);
    return isFree(neighbour) ? [thumbOption(context, "thumb", [neighbour])] : [];
  }
  return range(4, count)
    .filter(isFree)
    .map((s) => thumbOption(context, "thumb-return", [s, s + 1].filter(isFree), { dearer: s === lastThumb ? 0 : PRICES.thumbAway }));
}

/** i m a lie back on "their" strings 3 2 1 between the notes they pluck. */
function plantOption(context: PickingContext, refusals: RefusalList): FingerOption[] {
  const plucking = pluckedBy(context);
  const contacts = [...new Set([1, 2, 3, ...clickedStrings(context)])].flatMap((s) => {
    if (isWanted(context.intents[s - 1]!)) return [];
    // Nails that come down on lower strings are those of the index.
    const finger = s > 3 ? "i" : fingerOfString(s, 6);
    if (!plucking.has(finger)) return touched(context, kind("plant"), [s], { finger });
    refuseOne(refusals, kind("plant"), s, finger, "finger-busy", ["finger-plucks"]);
    return [];
  });
  const strings = contacts.reduce((mask, c) => mask | bit(c.string), 0);
  return contacts.length > 0 ? [{ contacts, hold: hold("plant"), beside: { part: "plant", at: strings } }] : [];
}

/** Strings on which a click is made by fingers that land on them, beside what sounds or by themselves. */
function clickedStrings({ stroke }: PickingContext): readonly number[] {
  if (!stroke || stroke.kind === "none") return [];
  return stroke.as === "click" ? stroke.crossed : stroke.clicked;
}

/** Free fingers of a hand that holds a pick, slaps or plucks a bass come down on the strings that are clicked. */
function clickOption(context: PickingContext): FingerOption[] {
  const clicked = clickedStrings(context);
  return besideOption(
    context,
    "plant",
    clicked,
    "m",
    clicked.reduce((mask, s) => mask | bit(s), 0),
  );
}

/** The fingers planted, the thumb at rest beside the string it plays, and both together. */
function besideEachOther(planted: FingerOption[], rested: FingerOption[]): FingerOption[] {
  const both = planted.flatMap((plant) =>
    rested
      .filter(({ contacts }) => contacts.every((c) => c.finger === "p" && plant.contacts.every(({ string }) => string !== c.string)))
      .map((rest): FingerOption => {
        const contacts = [...plant.contacts, ...rest.contacts];
        return { contacts, hold: plant.hold + rest.hold, beside: { part: "plant", at: contacts.reduce((mask, c) => mask | bit(c.string), 0) } };
      }),
  );
  return [...planted, ...rested, ...both];
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
