import { bassMostOf, orderOf } from "../fingering/hand-state.ts";
import { FINGER_PAD, FINGER_TIP, type FingerArea, HAND_ACROSS } from "../hands/contact-areas.ts";
import { fingerBit } from "../hands/fingers.ts";
import { PRICES } from "../hands/prices.ts";
import { chimesAlone } from "./assemble.ts";
import { type FingerOption, hold, kind, NOTHING, runs } from "./fretting-options.ts";
import { isLive, type RefusalList, range, refuseAll, touched } from "./gate.ts";
import type { FrettingContext } from "./situation.ts";
import type { Contact, RefusalCode, Why } from "./types.ts";

/** Strings that a finger with nothing to press covers by lying there. */
const PER_FINGER = 2;

/** How many strings at the beginning are of a kind. */
function leading(strings: readonly number[], isOfKind: (string: number) => boolean): number {
  const end = strings.findIndex((s) => !isOfKind(s));
  return end < 0 ? strings.length : end;
}

/**
 * Fingers that are in no grip: lying together on strings beside it, as many as they reach, which is how players with an arched
 * index rest; or one spare finger from the grip to two strings on its treble side. None reaches past the grip to the bass side.
 */
export function idleOptions(context: FrettingContext, idle: readonly (1 | 2 | 3 | 4)[], rests: readonly Contact[], refusals: RefusalList): FingerOption[] {
  const { presses, position, settings } = context;
  const options: FingerOption[] = [NOTHING];
  const isArched = settings.index === "arched";
  // An index that leans is not idle.
  const free = idle.filter((f) => isArched || f !== 1);
  const ready = free.filter((f) => (context.hurried & fingerBit(f)) === 0);
  const bassMost = bassMostOf(presses);
  const refuse = (strings: readonly number[], code: RefusalCode, why: Why) => refuseAll(context, refusals, kind("spare"), strings, free.at(-1) ?? 4, code, why);
  if (bassMost > 0) refuse(range(bassMost + 1, context.count), "contortion", ["past-the-grip"]);
  const beside = range(1, bassMost > 0 ? bassMost : context.count);
  if (free.length === 0) {
    refuse(beside, "finger-busy", ["all-at-work"]);
    return options;
  }
  if (ready.length === 0) {
    refuse(beside, "no-time", ["wanted-too-soon"]);
    return options;
  }
  const front = ready.at(-1)!;
  const fret = Math.max(1, Math.min(positionOf(front), ...presses.filter((p) => orderOf(p.finger) > front).map((p) => p.fret)));
  const together = ready.length > 1;
  for (const run of runs(context, fret, beside.length)) {
    // Nearest the grip first, and only beside it: no finger lies across a string that sounds.
    if (bassMost > 0 && !isBeside(run)) {
      refuse(run, "contortion", ["across-a-sounding"]);
      continue;
    }
    // While nothing is pressed an arched hand lies flat as a whole: resting fingers cover strings too, and the others lie over theirs.
    const flat = isArched && presses.length === 0;
    const isResting = (s: number) => rests.some((c) => c.string === s);
    const open = [...run].reverse().filter((s) => isLive(context, s, fret) && !presses.some((p) => p.strings.includes(s)));
    // Beside fingers that press, those that rest next to the grip have their strings already.
    const beyond = presses.length > 0 ? open.slice(leading(open, isResting)) : open.filter((s) => !isResting(s));
    const reach = PER_FINGER * (flat ? 4 : ready.length) - (flat ? open.length - beyond.length : 0);
    if (beyond.length > reach) refuse(beyond.slice(reach), "contortion", ["too-far"]);
    const covered = beyond.slice(0, reach);
    const near = flat ? open.filter((s) => covered.includes(s) || isResting(s)) : covered;
    const laidAt = (at: number, area: FingerArea, refusals: RefusalList) => touched(context, kind("spare"), near, { finger: front, fret: at, area }, refusals);
    // They lie out of the way of a node.
    const at = [fret, fret + 1].find((f) => laidAt(f, FINGER_TIP, null).every((c) => chimesAlone(context, c) === 0)) ?? fret;
    const contacts = laidAt(at, together ? HAND_ACROSS : FINGER_PAD, refusals);
    if (contacts.length === 0) continue;
    const strings = contacts.map((c) => c.string);
    options.push({
      contacts,
      hold: isArched ? 0 : together ? PRICES.together : hold("spare"),
      posture: { spare: { kind: "laid", strings } },
      fingers: ready.reduce((mask, f) => mask | fingerBit(f), 0),
    });
  }
  return options;

  function isBeside(run: readonly number[]): boolean {
    return presses.some(({ strings }) => strings.some((s) => run.includes(s) || run.includes(s - 1) || run.includes(s + 1)));
  }
  function positionOf(finger: 1 | 2 | 3 | 4): number {
    const below = presses.filter((p) => orderOf(p.finger) < finger).map((p) => p.fret);
    return Math.max(position + finger - 1, ...below);
  }
}
