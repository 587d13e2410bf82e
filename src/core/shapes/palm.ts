import { PRICES } from "../hands/prices.ts";
import { type RefusalList, range, refuseAll, refuseOne, touched } from "./gate.ts";
import { type HandOption, hold, isOpenlyWanted, kind, lowestWantedOrStruck, mutedStrings, THUMB_REACH } from "./picking-options.ts";
import type { PickingContext } from "./situation.ts";
import type { RefusalCode, Why } from "./types.ts";

/**
 * The side of the hand on the strings on the bass side of the one being picked: it goes along with the pick. Up to that string
 * or one short of it, as the player has learned it.
 */
export function followOptions(context: PickingContext, refusals: RefusalList): HandOption[] {
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
  const near = option(beside + 1, settings.neighbour === "palm" ? 0 : PRICES.offSchool);
  const short = option(beside + 2, settings.neighbour === "palm" ? PRICES.offSchool : 0);
  if (settings.neighbour === "fingertip" && beside < count)
    refuseAll(context, refusals, kind("palm"), [beside + 1], undefined, "palm-margin", ["stops-short", beside]);
  return [short, near];
}

/** What keeps the heel off the bridge whatever the strings do, in the order in which it is said; see `palmOptions`. */
const OFF_THE_BRIDGE: readonly { when(context: PickingContext, muted: readonly number[]): boolean; code: RefusalCode; why: Why }[] = [
  { when: ({ settings }) => settings.playsWith === "slap", code: "finger-busy", why: ["slaps"] },
  { when: ({ settings, palmStays }, muted) => settings.playsWith !== "pick" && muted.length === 0 && !palmStays, code: "school", why: ["plucks-with-fingers"] },
  { when: ({ settings, palmStays }, muted) => settings.pickHand === "thumb" && muted.length === 0 && !palmStays, code: "school", why: ["thumb-rests"] },
  { when: fingersPluckBass, code: "finger-busy", why: ["fingers-lift-palm"] },
  { when: isPercussiveUpStroke, code: "school", why: ["lands-on-down"] },
];

function fingersPluckBass({ kind: instrument, settings, stroke }: PickingContext): boolean {
  return instrument === "electric-bass" && settings.playsWith === "fingers" && stroke !== null && stroke.kind !== "p" && stroke.crossed.length > 0;
}

/** A muted strum of the percussive school on its way up. */
function isPercussiveUpStroke({ settings, stroke }: PickingContext, muted: readonly number[]): boolean {
  return settings.strumPalmMute === "percussive" && muted.length > 1 && stroke?.kind === "up" && stroke.crossed.length > 1;
}

/** The heel staying at the bridge from a string on: for muted tones, and for full stops in a rest. */
export function palmOptions(context: PickingContext, refusals: RefusalList): HandOption[] {
  const { count, intents, settings, mutes } = context;
  const free = Math.max(0, ...range(1, count).filter((s) => isOpenlyWanted(context, s)));
  const muted = mutedStrings(context);
  const refuse = (from: number, to: number, code: RefusalCode, why: Why) => refuseAll(context, refusals, kind("palm"), range(from, to), undefined, code, why);
  const off = OFF_THE_BRIDGE.find(({ when }) => when(context, muted));
  if (off) {
    refuse(1, count, off.code, off.why);
    return [];
  }
  refuse(1, free, "would-choke", ["cannot-pass", free]);
  const forced = muted.length > 0 ? Math.min(...muted) : count + 1;
  const { palm } = context.strings.rig;
  // On strings that must not be heard the heel presses harder, but not while the stroke goes through them.
  const grade = (s: number) => palm[mutes[s - 1] ?? (intents[s - 1] === "thud" ? "medium" : "choked")];
  return range(free + 1, count)
    .filter((reach) => reach <= forced)
    .map((reach) => {
      const contacts = touched(context, kind("palm"), range(reach, count), (s) => ({ grade: grade(s) }));
      // Right beside an open string it may dull it; a palm of the other school is used to that.
      const perStroke = free > 0 && reach === free + 1 && settings.neighbour === "fingertip" ? PRICES.offSchool : 0;
      // The heel lies on the lower strings with ease; further it has to be stretched flat.
      const stretch = PRICES.stretched * Math.max(0, count - reach + 1 - 3);
      return { contacts, hold: hold("palm") + PRICES.stays + stretch, perStroke, at: { kind: "palm", from: reach } };
    });
}

/** The hand laid flat just before a chuck, or a ghost of a player whose fretting hand only presses. */
export function heelOption(context: PickingContext, refusals: RefusalList): HandOption[] {
  const { count, intents, settings, stroke } = context;
  if (!stroke || stroke.as === "play" || context.slaps) return [];
  const refuse = (code: RefusalCode, why: Why) => {
    for (const s of range(1, count)) if (intents[s - 1] === "thud") refuseOne(refusals, kind("heel"), s, undefined, code, why);
    return [];
  };
  if (settings.damps !== "picking" && stroke.as !== "chuck") return refuse("school", ["dead-is-frettings"]);
  if (settings.chuck === "release") return refuse("school", ["chucks-by-release"]);
  const wanted = range(1, count).find((s) => isOpenlyWanted(context, s));
  if (wanted !== undefined) return refuse("would-choke", ["hand-chokes", wanted]);
  const lowest = Math.max(...stroke.crossed);
  const strings = settings.chuck === "edge" ? range(Math.max(1, lowest - 3), count) : range(1, count);
  return [{ contacts: touched(context, kind("heel"), strings, {}), hold: hold("heel"), at: { kind: "heel" } }];
}
