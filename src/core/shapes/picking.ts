import { HEEL_CHUCK, PLUCK_REST } from "../acoustics/constants.ts";
import type { Part, PickingFinger } from "../passage/schema.ts";
import { fingerOfString } from "../timeline/strokes.ts";
import { HOLD, makeShape, withoutDominated } from "./assemble.ts";
import { effortOf, type HandShapes, range } from "./contacts.ts";
import { isSlapped, isTapping, isWanted, type ShapeContext } from "./context.ts";
import { bit, type Contact, type ContactFinger, NO_POSE, type Pose, type Refusal, type RefusalCode, type Shape } from "./types.ts";

interface Option {
  contacts: Contact[];
  hold: number;
  perStroke?: number;
  pose: Partial<Pose>;
}

const OFF: Option = { contacts: [], hold: 0, pose: {} };

/** How long before the pick a chuck hand lands. Common practice: 10-40 ms. */
export const CHUCK_LEAD_MS = 25;

/** Every shape the picking hand can take while it makes this step's stroke, or waits. */
export function pickingShapes(context: ShapeContext): HandShapes {
  const refusals: Refusal[] = [];
  if (isTapping(context)) {
    for (const s of range(1, context.count))
      if (!isWanted(context.intents[s - 1]!))
        refusals.push(refusal(s, "palm", undefined, "finger-busy", "The picking hand is at the neck, holding a tapped note."));
    return { shapes: [makeShape(context, [], poseOf(OFF, OFF), effortOf([]))], refusals };
  }
  const main: Option[] = [OFF, ...palmOptions(context, refusals), ...heelOption(context, refusals)];
  const side: Option[] = [OFF, ...replantOption(context)];
  const style = context.settings.playsWith;
  const fingers = style === "fingers" || style === "thumb";
  if (context.count < 6 && style === "fingers") {
    main.push(...bassThumbOptions(context, refusals));
    side.push(...restStrokeOption(context), ...parkOption(context));
  } else if (fingers) {
    main.push(...thumbReturnOptions(context, refusals));
    side.push(...plantOption(context, refusals), ...restStrokeOption(context));
  } else if (style === "pick") {
    main.push(...pickThumbOptions(context, refusals));
    side.push(...thumbEdgeOption(context), ...curledFingers(context, refusals));
  }
  let shapes: Shape[] = [];
  for (const m of main)
    for (const s of side) {
      if (m.pose.heel && s !== OFF) continue;
      const taken = new Set(m.contacts.map((c) => c.string));
      const extra = s.contacts.filter((c) => !taken.has(c.string));
      if (s !== OFF && extra.length === 0) continue;
      shapes.push(makeShape(context, [...m.contacts, ...extra], poseOf(m, s), effortOf([m, s])));
    }
  shapes = withMutedTone(context, withChuckHand(context, shapes));
  return { shapes: withoutDominated(shapes), refusals };
}

function poseOf(main: Option, side: Option): Pose {
  const pose = { ...NO_POSE, ...main.pose, ...side.pose };
  const key = `p${pose.palm}h${pose.heel ? 1 : 0}t${pose.thumb}f${pose.planted}${pose.spare}`;
  return { ...pose, key };
}

/** A chuck is made by the picking hand unless the player's school gives it to the fretting hand's release. */
function withChuckHand(context: ShapeContext, shapes: Shape[]): Shape[] {
  if (context.step.stroke?.as !== "chuck") return shapes;
  const heel = shapes.filter((s) => s.pose.heel);
  return heel.length > 0 ? heel : shapes;
}

/** Palm-muted notes need a palm over them: shapes without one are out, where one can be had. */
function withMutedTone(context: ShapeContext, shapes: Shape[]): Shape[] {
  const muted = maskOf(context, (intent) => intent === "muffled");
  if (muted === 0) return shapes;
  const best = Math.max(...shapes.map((s) => bits(s.muffles & muted)));
  return shapes.filter((s) => bits(s.muffles & muted) === best);
}

function palmOptions(context: ShapeContext, refusals: Refusal[]): Option[] {
  const { count, intents, settings } = context;
  const free = Math.max(0, ...range(1, count).filter((s) => intents[s - 1] === "ring" || intents[s - 1] === "free"));
  const muted = range(1, count).filter((s) => intents[s - 1] === "muffled");
  const refuse = (from: number, to: number, code: RefusalCode, reason: string) => {
    for (const s of range(from, to)) if (!isWanted(intents[s - 1]!)) refusals.push(refusal(s, "palm", undefined, code, reason));
  };
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
  const { stroke } = context.step;
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
  const margin = settings.neighbour === "fingertip" && free > 0 ? free + 2 : free + 1;
  const reaches = range(margin, count);
  const forced = muted.length > 0 ? Math.min(...muted) : count + 1;
  if (margin > free + 1 && free + 1 <= count) {
    if (muted.includes(free + 1)) reaches.unshift(free + 1);
    else refuse(free + 1, free + 1, "palm-margin", `The palm stops one string short of string ${free}; that neighbour is the fingertip's.`);
  }
  return reaches
    .filter((reach) => reach <= forced)
    .map((reach) => {
      const { palm } = context.strings.rig;
      // An accent that the palm has no time to lift for is made by letting up on it; on strings that must not be heard the heel
      // presses harder, but not while the stroke goes through them.
      const isStruck = (s: number) => intents[s - 1] === "muffled" || intents[s - 1] === "thud";
      const grade = (s: number) => (!isStruck(s) ? palm.choked : stroke?.accent ? palm.light : palm.medium);
      const contacts = range(reach, count).map((s) => nearBridge(context, s, "palm", grade(s)));
      // Under the palm school, stopping short of the neighbour one could take is dearer.
      const short = settings.neighbour === "palm" && free > 0 && reach > free + 1 && muted.length === 0 ? 2 : 0;
      // The heel lies on the lower strings with ease; further it has to be stretched flat.
      const stretch = 0.5 * Math.max(0, count - reach + 1 - 3);
      return { contacts, hold: HOLD.palm! + short + stretch, pose: { palm: reach } };
    });
}

/** The hand laid flat just before a chuck (or a ghost the fretting hand cannot make). */
function heelOption(context: ShapeContext, refusals: Refusal[]): Option[] {
  const { count, intents, settings, step } = context;
  const dead = step.stroke && step.stroke.as !== "play" && !isSlapped(context) ? step.stroke : null;
  if (!dead) return [];
  const refuse = (code: RefusalCode, reason: string) => {
    for (const s of range(1, count)) if (intents[s - 1] === "thud") refusals.push(refusal(s, "heel", undefined, code, reason));
    return [];
  };
  if (settings.chuck === "release") return refuse("school", "Your chucks are made by the fretting hand's release.");
  const wanted = range(1, count).find((s) => intents[s - 1] === "ring" || intents[s - 1] === "free");
  if (wanted !== undefined) return refuse("would-choke", `The hand would also choke string ${wanted}.`);
  const lowest = Math.max(...dead.crossed);
  const strings = settings.chuck === "edge" ? range(Math.max(1, lowest - 3), count) : range(1, count);
  // A ghost is the fretting hand's if it can make it.
  const perStroke = dead.as === "chuck" ? 0 : 60;
  const contacts = strings.map((s) => ({ ...nearBridge(context, s, "heel", HEEL_CHUCK), leadMs: CHUCK_LEAD_MS }));
  return [{ contacts, hold: HOLD.heel!, perStroke, pose: { heel: true } }];
}

/** Pick players of the thumb school rest the thumb on the strings on the bass side. */
function pickThumbOptions(context: ShapeContext, refusals: Refusal[]): Option[] {
  const { count, settings } = context;
  const lowestUsed = lowestWantedOrStruck(context);
  const strings = range(lowestUsed + 1, count);
  if (settings.pickHand !== "thumb") {
    for (const s of strings) refusals.push(refusal(s, "thumb", "p", "school", "Your palm is at the bridge, so the thumb does not rest on the strings."));
    return [];
  }
  return strings.map((s) => ({
    contacts: range(s, Math.min(count, s + 2)).map((t) => nearBridge(context, t, "thumb", PLUCK_REST, "p")),
    hold: HOLD.thumb!,
    pose: { thumb: s },
  }));
}

/** The edge of the picking thumb stops the string just left while the pick plays its treble-side neighbour. */
function thumbEdgeOption(context: ShapeContext): Option[] {
  const { stroke } = context.step;
  if (stroke?.kind !== "down" || stroke.crossed.length !== 1 || stroke.as !== "play") return [];
  const neighbour = stroke.crossed[0]! + 1;
  if (neighbour > context.count || isWanted(context.intents[neighbour - 1]!)) return [];
  return [{ contacts: [nearBridge(context, neighbour, "thumb-edge", PLUCK_REST, "p")], hold: HOLD["thumb-edge"]!, pose: { spare: "e" } }];
}

/** Curled fingers of the picking hand on treble strings, well clear of the stroke. */
function curledFingers(context: ShapeContext, refusals: Refusal[]): Option[] {
  const { stroke } = context.step;
  const clear = Math.min(
    context.count + 1,
    ...range(1, context.count).filter((s) => isWanted(context.intents[s - 1]!) || (stroke?.crossed.includes(s) ?? false)),
  );
  const strings = range(1, Math.min(3, clear - 2));
  for (const s of range(strings.length + 1, Math.min(3, context.count)))
    if (!isWanted(context.intents[s - 1]!)) refusals.push(refusal(s, "spare", "a", "out-of-reach", "Curled fingers would be in the way of the pick there."));
  if (strings.length === 0) return [];
  return [{ contacts: strings.map((s) => nearBridge(context, s, "spare", PLUCK_REST, "a")), hold: HOLD.spare! + 2, pose: { spare: `c${strings.length}` } }];
}

/** Floating thumb: rests on one string with its back on the next; anchored: stays on the lowest. */
function bassThumbOptions(context: ShapeContext, refusals: Refusal[]): Option[] {
  const { count, settings } = context;
  const lowestUsed = lowestWantedOrStruck(context);
  const strings = range(lowestUsed + 1, count);
  for (const s of range(1, lowestUsed))
    if (!isWanted(context.intents[s - 1]!))
      refusals.push(refusal(s, "thumb", "p", "out-of-reach", "The thumb rests on the bass side of the string that is played."));
  if (settings.bassThumb === "anchored") {
    for (const s of strings.slice(0, -1)) refusals.push(refusal(s, "thumb", "p", "school", "Your thumb stays anchored on the lowest string."));
    return strings.length > 0 ? [{ contacts: [nearBridge(context, count, "thumb", PLUCK_REST, "p")], hold: HOLD.thumb!, pose: { thumb: count } }] : [];
  }
  return strings.map((s) => ({
    contacts: range(s, Math.min(count, s + 1)).map((t) => nearBridge(context, t, "thumb", PLUCK_REST, "p")),
    hold: HOLD.thumb!,
    pose: { thumb: s },
  }));
}

/** Pick or finger set back on the string it plays next: that silences it, and the note is shorter by that much. */
function replantOption(context: ShapeContext): Option[] {
  const { nextStroke, step, intents, settings } = context;
  if (step.stroke || !nextStroke || settings.playsWith === "slap") return [];
  if (isWanted(intents[nextStroke.string - 1]!)) return [];
  const { kind } = nextStroke;
  const finger = kind === "down" || kind === "up" ? undefined : (kind as PickingFinger);
  return [{ contacts: [nearBridge(context, nextStroke.string, "replant", PLUCK_REST, finger)], hold: HOLD.replant!, pose: { spare: `o${nextStroke.string}` } }];
}

/** With an anchored thumb the ring finger parks on a string between thumb and playing finger. */
function parkOption(context: ShapeContext): Option[] {
  if (context.settings.bassThumb !== "anchored") return [];
  const strings = range(lowestWantedOrStruck(context) + 1, context.count - 1);
  return strings.slice(-1).map((s) => ({ contacts: [nearBridge(context, s, "park", PLUCK_REST, "a")], hold: HOLD.park!, pose: { spare: `k${s}` } }));
}

/** A plucking finger comes to rest on the bass-side neighbour, a thumb on the treble-side one. */
function restStrokeOption(context: ShapeContext): Option[] {
  const { stroke } = context.step;
  if (stroke?.crossed.length !== 1) return [];
  const played = stroke.crossed[0]!;
  const thumb = stroke.kind === "p" || stroke.kind === "down";
  if (stroke.kind === "none" || stroke.kind === "slap" || stroke.kind === "pop" || stroke.kind === "up") return [];
  const rest = thumb ? played - 1 : played + 1;
  if (rest < 1 || rest > context.count || isWanted(context.intents[rest - 1]!)) return [];
  return [
    {
      contacts: [nearBridge(context, rest, "rest-stroke", PLUCK_REST, thumb ? "p" : (stroke.kind as PickingFinger))],
      hold: HOLD["rest-stroke"]!,
      pose: { spare: "r" },
    },
  ];
}

/** The thumb lies back on the bass string it played; its back can stop the next one. */
function thumbReturnOptions(context: ShapeContext, refusals: Refusal[]): Option[] {
  const { lastThumbString: last, count } = context;
  const plucking = pluckedBy(context);
  const options: Option[] = [];
  if (plucking.has("p")) {
    const own = plucking.get("p")!;
    const neighbour = Math.max(...own) + 1;
    if (neighbour <= count && !isWanted(context.intents[neighbour - 1]!))
      options.push({ contacts: [nearBridge(context, neighbour, "thumb", PLUCK_REST, "p")], hold: HOLD.thumb!, pose: { thumb: neighbour } });
    for (const s of range(4, count))
      if (!isWanted(context.intents[s - 1]!) && s !== neighbour)
        refusals.push(refusal(s, "thumb-return", "p", "finger-busy", "The thumb is plucking another string."));
    return options;
  }
  for (const s of range(Math.max(4, 1), count)) {
    if (isWanted(context.intents[s - 1]!)) continue;
    const back = s + 1 <= count && !isWanted(context.intents[s]!) ? [s + 1] : [];
    const contacts = [s, ...back].map((t) => nearBridge(context, t, "thumb-return", PLUCK_REST, "p"));
    options.push({ contacts, hold: HOLD["thumb-return"]! + (s === last ? 0 : 1), pose: { thumb: s } });
  }
  return options;
}

/** i m a lie back on "their" strings 3 2 1 between the notes they pluck. */
function plantOption(context: ShapeContext, refusals: Refusal[]): Option[] {
  const plucking = pluckedBy(context);
  const contacts: Contact[] = [];
  for (const s of [1, 2, 3]) {
    if (isWanted(context.intents[s - 1]!)) continue;
    const finger = fingerOfString(s, 6) as PickingFinger;
    if (plucking.has(finger)) refusals.push(refusal(s, "plant", finger, "finger-busy", "That finger is plucking another string."));
    else contacts.push(nearBridge(context, s, "plant", PLUCK_REST, finger));
  }
  return contacts.length > 0 ? [{ contacts, hold: HOLD.plant!, pose: { planted: contacts.reduce((m, c) => m | bit(c.string), 0) } }] : [];
}

/** Which plucking finger is at work on which strings. */
function pluckedBy(context: ShapeContext): Map<PickingFinger, number[]> {
  const { stroke, sounding, begins } = context.step;
  const plucking = new Map<PickingFinger, number[]>();
  if (!stroke || stroke.kind === "none" || stroke.as === "click") return plucking;
  for (const string of stroke.crossed) {
    const note = begins[string - 1] ? sounding[string - 1] : null;
    const single = stroke.crossed.length === 1 && ["p", "i", "m", "a", "c"].includes(stroke.kind) ? (stroke.kind as PickingFinger) : undefined;
    const finger = note?.by ?? single ?? (stroke.kind === "down" || stroke.kind === "up" ? "p" : fingerOfString(string, context.count));
    plucking.set(finger, [...(plucking.get(finger) ?? []), string]);
  }
  return plucking;
}

function lowestWantedOrStruck(context: ShapeContext): number {
  const { stroke } = context.step;
  return Math.max(0, ...range(1, context.count).filter((s) => isWanted(context.intents[s - 1]!) || (stroke?.crossed.includes(s) ?? false)));
}

function nearBridge(
  context: ShapeContext,
  string: number,
  part: Part,
  patch: { rate: number; fromBridgeMm: number; toBridgeMm: number },
  finger?: ContactFinger,
): Contact {
  const bridge = context.strings.openLengthMm;
  return {
    string,
    hand: "picking",
    part,
    ...(finger === undefined ? {} : { finger }),
    touch: { fromMm: bridge - patch.toBridgeMm, toMm: bridge - patch.fromBridgeMm, rate: patch.rate },
    narrow: false,
  };
}

function maskOf(context: ShapeContext, test: (intent: string) => boolean): number {
  return context.intents.reduce((mask, intent, s) => (test(intent) ? mask | (1 << s) : mask), 0);
}

function bits(mask: number): number {
  let count = 0;
  for (let m = mask; m !== 0; m &= m - 1) count++;
  return count;
}

function refusal(string: number, part: Part, finger: ContactFinger | undefined, code: RefusalCode, reason: string): Refusal {
  return { string, hand: "picking", part, ...(finger === undefined ? {} : { finger }), code, reason };
}
