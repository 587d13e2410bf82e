import { BEHIND_FRET_MM, HAND_ACROSS, type TouchKind } from "../acoustics/constants.ts";
import type { Press } from "../fingering/fingering.ts";
import { fretFromNutMm } from "../music/neck.ts";
import type { Part } from "../passage/schema.ts";
import { isLive, isWanted, type ShapeContext } from "./context.ts";
import type { Contact, ContactFinger, Refusal, RefusalCode, Shape } from "./types.ts";

/** Shapes a hand can take, and what it was refused. */
export interface HandShapes {
  shapes: Shape[];
  refusals: Refusal[];
}

export function effortOf(options: readonly { hold: number; perStroke?: number }[]): { hold: number; perStroke: number } {
  return { hold: options.reduce((sum, o) => sum + o.hold, 0), perStroke: options.reduce((sum, o) => sum + (o.perStroke ?? 0), 0) };
}

export function fingerBit(finger: ContactFinger | 0): number {
  return typeof finger === "number" ? 1 << finger : finger === "T" ? 1 : 0;
}

/** Contacts of a finger on the strings where they act; refusals say why not on the others. */
export function touched(
  context: ShapeContext,
  part: Part,
  finger: ContactFinger,
  fret: number,
  strings: readonly number[],
  kind: TouchKind,
  refusals: Refusal[],
): Contact[] {
  const contacts: Contact[] = [];
  for (const s of strings) {
    if (!isLive(context, s, fret))
      refusals.push(
        refusal(s, part, finger, "dead-side", `Fret ${fret} is at or nutwards of where string ${s} is pressed, so a touch there does nothing to it.`),
      );
    else if (isWanted(context.intents[s - 1]!))
      refusals.push(refusal(s, part, finger, "would-choke", `A finger there would choke string ${s}, which should sound.`));
    else contacts.push(contact(context, s, part, finger, fret, kind));
  }
  return contacts;
}

export function contact(context: ShapeContext, string: number, part: Part, finger: ContactFinger, fret: number, kind: TouchKind): Contact {
  const middle = Math.max(kind.widthMm / 2, fretFromNutMm(context.strings.openLengthMm, fret) - BEHIND_FRET_MM);
  return {
    string,
    hand: "fretting",
    part,
    finger,
    touch: { fromMm: middle - kind.widthMm / 2, toMm: middle + kind.widthMm / 2, rate: kind.rate },
    narrow: kind !== HAND_ACROSS,
  };
}

/** Runs of neighbouring strings that must not be heard. */
export function unwantedRuns(context: ShapeContext): number[][] {
  const runs: number[][] = [];
  let run: number[] = [];
  for (let s = 1; s <= context.count + 1; s++) {
    if (s <= context.count && !isWanted(context.intents[s - 1]!)) run.push(s);
    else {
      if (run.length > 0) runs.push(run);
      run = [];
    }
  }
  return runs;
}

/** Whether a finger must press a new place sooner than it could get there. */
export function isBusy(context: ShapeContext, finger: Press["finger"], needMs: number): boolean {
  return (context.hand.neededInMs.get(finger) ?? Number.POSITIVE_INFINITY) < needMs;
}

export function busy(string: number, part: Part, finger: Press["finger"]): Refusal {
  return refusal(string, part, finger as ContactFinger, "finger-busy", "That finger is already on its way to its next note.");
}

export function refusal(string: number, part: Part, finger: ContactFinger | 0, code: RefusalCode, reason: string): Refusal {
  return { string, hand: "fretting", part, ...(finger === 0 ? {} : { finger }), code, reason };
}

export function range(from: number, to: number): number[] {
  return to < from ? [] : Array.from({ length: to - from + 1 }, (_, i) => from + i);
}
