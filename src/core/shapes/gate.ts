import type { PalmKind } from "../acoustics/constants.ts";
import type { StringSet, Touch } from "../acoustics/modal.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { type Kind, partOf } from "../hands/parts.ts";
import { BEHIND_FRET_MM, type FingerPatch } from "../hands/patches.ts";
import type { Intent } from "../intent/intent.ts";
import { fretFromNutMm } from "../music/neck.ts";
import type { Settings } from "../passage/settings.ts";
import { isWanted } from "./situation.ts";
import type { Contact, Refusal, RefusalCode } from "./types.ts";

/*
 * The one gate to the strings, for both hands and the aid: contacts are made here and nowhere else, so that nothing ever
 * lies on the live part of a string that is to sound.
 */

/** What the gate must know of a step. */
export interface Gated {
  intents: readonly Intent[];
  strings: StringSet;
  /** Which hand damps; both when left out. */
  settings?: Pick<Settings, "damps">;
  /** Per string; left out where no contact comes near a fret. */
  pressedFrets?: readonly number[];
}

/** Where a contact lies, if its part's own patch does not say so. */
export interface Place {
  finger?: ContactFinger | undefined;
  /** For fingers on the neck. */
  fret?: number;
  /** Another patch than the part's own: two fingers for one, a tip for a pad. */
  patch?: FingerPatch;
  /** For the heel at the bridge. */
  grade?: PalmKind;
  leadMs?: number;
  /** Under a barre that presses on either side of it. */
  isCovered?: true;
}

/** Contacts of one kind on the strings where they may lie and act; `refusals` are told why not on the others. */
export function touched(
  context: Gated,
  kind: Kind,
  strings: readonly number[],
  place: Place | ((string: number) => Place),
  refusals: Refusal[] | null = null,
): Contact[] {
  const contacts: Contact[] = [];
  for (const string of strings) {
    const here = typeof place === "function" ? place(string) : place;
    const made = contactAt(context, kind, string, here);
    const refused = refusedAt(context, made, here);
    if (refused === null) contacts.push(made);
    else refusals?.push(refusal(kind, string, here.finger, ...refused));
  }
  return contacts;
}

function refusedAt(context: Gated, contact: Contact, place: Place): [RefusalCode, string] | null {
  const { string } = contact;
  const { fret = 0 } = place;
  if (!acts(context, contact, fret))
    return ["dead-side", `Fret ${fret} is at or nutwards of where string ${string} is pressed, so a touch there does nothing to it.`];
  const intent = context.intents[string - 1]!;
  const damps = context.settings?.damps ?? "both";
  // What the music asks for is no damping: the palm of a muted tone, a chuck, a slap, what a barre covers.
  const isAsked = partOf(contact).role === "whole-hand" || intent === "muffled" || contact.hand === "aid";
  if (damps !== "both" && damps !== contact.hand && !isAsked && !place.isCovered) return ["school", "You leave damping to your other hand."];
  // Two fingers and more, a palm or a flat hand leave a muffled string its pitch; one finger does not.
  const isMuffling = intent === "muffled" && partOf(contact).muffles && !contact.narrow;
  if (isWanted(intent) && !isMuffling) return ["would-choke", `A finger there would choke string ${string}, which should sound.`];
  return null;
}

/** Whether a contact lies on the live side: nearer the bridge than the fret at which its string is pressed. */
function acts(context: Gated, { string, hand }: Contact, fret: number): boolean {
  const pressed = context.pressedFrets?.[string - 1] ?? 0;
  if (hand === "picking") return true;
  return hand === "aid" ? pressed === 0 : fret > pressed;
}

/** Whether a finger at a fret lies on the live side of a string. */
export function isLive({ pressedFrets }: { pressedFrets: readonly number[] }, string: number, fret: number): boolean {
  return fret > pressedFrets[string - 1]!;
}

function contactAt({ strings }: Gated, kind: Kind, string: number, { finger, fret = 0, patch, grade, leadMs }: Place): Contact {
  const where = patch ?? partOf(kind).patch;
  return {
    string,
    ...kind,
    ...(finger === undefined ? {} : { finger }),
    touch: touchOf(),
    narrow: where.at === "finger" && where.lone,
    ...(leadMs === undefined ? {} : { leadMs }),
  };

  function touchOf(): Touch {
    const bridge = strings.openLengthMm;
    switch (where.at) {
      case "finger": {
        const middle = Math.max(where.widthMm / 2, fretFromNutMm(bridge, fret) - BEHIND_FRET_MM);
        return { fromMm: middle - where.widthMm / 2, toMm: middle + where.widthMm / 2, rate: where.rate };
      }
      case "bridge":
        return fromBridge(where);
      case "heel": {
        if (!grade) throw new Error("a palm has a grade");
        return fromBridge(grade);
      }
      case "nut":
        return { fromMm: where.fromNutMm, toMm: where.toNutMm, rate: where.rate };
      case "press":
        throw new Error("a press is no touch");
    }
    function fromBridge({ rate, fromBridgeMm, toBridgeMm }: PalmKind): Touch {
      return { fromMm: bridge - toBridgeMm, toMm: bridge - fromBridgeMm, rate };
    }
  }
}

export function refusal(kind: Kind, string: number, finger: ContactFinger | 0 | undefined, code: RefusalCode, reason: string): Refusal {
  return { string, ...kind, ...(finger === undefined || finger === 0 ? {} : { finger }), code, reason };
}

/** Refuses a kind of contact on every one of these strings that nobody wants to hear. */
export function refuseAll(
  { intents }: Gated,
  refusals: Refusal[],
  kind: Kind,
  strings: readonly number[],
  finger: ContactFinger | 0 | undefined,
  code: RefusalCode,
  reason: string,
): void {
  for (const s of strings) if (!isWanted(intents[s - 1]!)) refusals.push(refusal(kind, s, finger, code, reason));
}

export function range(from: number, to: number): number[] {
  return to < from ? [] : Array.from({ length: to - from + 1 }, (_, i) => from + i);
}
