import { bassMostOf, type Press } from "../fingering/hand-state.ts";
import { fingerBit } from "../hands/fingers.ts";
import { type FingerOption, hold, kind, NOTHING, runs } from "./fretting-options.ts";
import { isLive, type RefusalList, range, refuseAll, touched } from "./gate.ts";
import { type FrettingContext, isWanted } from "./situation.ts";
import { bit, type Contact, type RefusalCode, type Why } from "./types.ts";

/**
 * The underside of the index: over strings next to the one it presses, on the treble side; where it presses nothing, over any
 * run, from where it rests or from its post behind the others.
 */
export function leanOptions(context: FrettingContext, rests: readonly Contact[], refusals: RefusalList): FingerOption[] {
  const { presses, position, left, settings, bending } = context;
  const press = presses.find((p) => p.finger === 1);
  const home = left.find((p) => p.finger === 1);
  const held = presses.length > 0 ? presses : left.filter((p) => p.finger !== 1);
  if (!press && held.length === 0 && !home) return [NOTHING];
  const refuse = (strings: readonly number[], code: RefusalCode, why: Why) => {
    refuseAll(context, refusals, kind("underside"), strings, 1, code, why);
    return [NOTHING];
  };
  if (settings.index === "arched") return refuse(range(1, press ? Math.min(...press.strings) - 1 : context.count), "school", ["arched"]);
  if (press) {
    const strings = range(1, Math.min(...press.strings) - 1).reverse();
    if ((bending & fingerBit(1)) !== 0) return refuse(strings, "contortion", ["index-bends"]);
    return leans(context, press.fret, strings, [], refusals, rolledFrom(context, press));
  }
  // Where it pressed it may be beside the others; else it is behind them.
  const fret = home ? Math.min(home.fret, ...held.map((p) => p.fret)) : Math.min(position, ...held.map((p) => p.fret - 1));
  if (fret < 1) return [NOTHING];
  const resting = home && home.fret === fret ? rests.filter((c) => c.finger === 1) : [];
  // Behind a grip that presses it lies over the treble side, its tip on the next string or still where it pressed; behind one that rests, over any run.
  const tip = Math.max(bassMostOf(presses) + 1, ...resting.map((c) => c.string + 1));
  const furthest = presses.length > 0 ? Math.min(context.count, tip) : context.count;
  const options = runs(context, fret, furthest).flatMap((run) =>
    resting.every((c) => run.includes(c.string)) ? leans(context, fret, [...run].reverse(), resting, refusals) : [],
  );
  return options.length > 0 ? options : [NOTHING];
}

/** The neighbouring string that a finger has just rolled off, at the same fret; null if it did not roll. */
export function rolledFrom(context: FrettingContext, press: Press): number | null {
  return context.rolledFrom.find(({ finger, fret }) => finger === press.finger && fret === press.fret)?.string ?? null;
}

/** Leaning over some strings, from the first on until one must sound, or until one that must before any finger moves. */
function leans(
  context: FrettingContext,
  fret: number,
  strings: readonly number[],
  resting: readonly Contact[],
  refusals: RefusalList,
  rolled: number | null = null,
): FingerOption[] {
  const choked = strings.findIndex((s) => isWanted(context.intents[s - 1]!) && isLive(context, s, fret));
  const free = choked < 0 ? strings : strings.slice(0, choked);
  if (choked >= 0) refuseAll(context, refusals, kind("underside"), strings.slice(choked + 1), 1, "would-choke", ["index-also-lies-on", strings[choked]!]);
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
    // Where it has just rolled it lies already.
    return { contacts: [...resting, ...leant.filter(({ string }) => string !== rolled)], hold: hold("underside"), posture: { lean }, fingers: fingerBit(1) };
  });
}
