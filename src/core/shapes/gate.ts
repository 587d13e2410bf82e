import type { PalmKind } from "../acoustics/constants.ts";
import type { StringSet, Touch } from "../acoustics/modal.ts";
import { knownIn } from "../caching/known.ts";
import { BEHIND_FRET_MM, type ContactArea, type FingerArea } from "../hands/contact-areas.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { type Kind, type PartRow, partOf } from "../hands/parts.ts";
import type { Intent } from "../intent/intent.ts";
import { fretFromNutMm, placeNumber } from "../music/neck.ts";
import type { Settings } from "../passage/settings.ts";
import { isWanted } from "./situation.ts";
import type { Contact, Refusal, RefusalCode, Why } from "./types.ts";

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

/** Where a contact lies, if its part's own area does not say so. */
export interface ContactSpot {
  finger?: ContactFinger | undefined;
  /** For fingers on the neck. */
  fret?: number;
  /** Another area than the part's own: two fingers for one, a tip for a pad. */
  area?: FingerArea;
  /** For the heel at the bridge. */
  grade?: PalmKind;
  /** Under a barre that presses on either side of it. */
  isCovered?: true;
}

/** Where refusals are gathered, if somebody wants to know; else nothing is put into words. */
export type RefusalList = Refusal[] | null;

/** Contacts of one kind on the strings where they may lie and act; the others are refused with the reason. */
export function touched(
  context: Gated,
  kind: Kind,
  strings: readonly number[],
  place: ContactSpot | ((string: number) => ContactSpot),
  refusals: RefusalList = null,
): Contact[] {
  const contacts: Contact[] = new Array(strings.length);
  let count = 0;
  for (const string of strings) {
    const here = typeof place === "function" ? place(string) : place;
    const made = contactAt(context, kind, string, here);
    const code = refusedAt(context, made, here);
    if (code === null) contacts[count++] = made;
    else if (refusals) refuseOne(refusals, kind, string, here.finger, code, reasonOf(code, string, here));
  }
  contacts.length = count;
  return contacts;
}

type GateCode = "dead-side" | "school" | "would-choke";

function refusedAt(context: Gated, contact: Contact, { fret = 0, isCovered }: ContactSpot): GateCode | null {
  const { string } = contact;
  if (!acts(context, contact, fret)) return "dead-side";
  const intent = context.intents[string - 1]!;
  const damps = context.settings?.damps ?? "both";
  if (damps !== "both" && damps !== contact.hand && !isCovered) {
    // What the music asks for is no damping: the palm of a muted tone, a chuck, a slap, what a barre covers.
    const isAsked = partOf(contact).role === "whole-hand" || intent === "muffled" || contact.hand === "aid";
    if (!isAsked) return "school";
  }
  if (!isWanted(intent)) return null;
  // Two fingers and more, a palm or a flat hand leave a muffled string its pitch; one finger does not.
  return intent === "muffled" && partOf(contact).muffles && !contact.narrow ? null : "would-choke";
}

function reasonOf(code: GateCode, string: number, { fret = 0 }: ContactSpot): Why {
  if (code === "dead-side") return ["dead-side", fret, string];
  if (code === "school") return ["other-hand-damps"];
  return ["chokes", string];
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

/** There are few contacts, each in hundreds of shapes: the same one is the same object. */
function contactAt({ strings }: Gated, kind: Kind, string: number, { finger, fret = 0, area, grade }: ContactSpot): Contact {
  const row = partOf(kind);
  const own = area ?? row.area;
  const where = grade && own.at === "heel" ? grade : own;
  const places = placesOf(where, strings.openLengthMm);
  const byPlace = knownIn(places.contacts, row, () => new Map<number, ByFinger>());
  const byFinger = knownIn(byPlace, placeNumber(string, fret), () => new Map());
  const known = byFinger.get(finger);
  if (known) return known;
  places.touches[fret] ??= makeTouch(where, strings.openLengthMm, fret);
  const made = makeContact(kind, row, string, fret, finger, places.touches[fret], own.at === "finger" && own.lone);
  byFinger.set(finger, made);
  return made;
}

type ByFinger = Map<ContactFinger | undefined, Contact>;

/** Touches of one area by their fret; contacts there by part, place and finger. */
interface Places {
  touches: Touch[];
  contacts: Map<PartRow, Map<number, ByFinger>>;
}

/** By the open length of the strings. */
const knownPlaces = new WeakMap<ContactArea | PalmKind, Map<number, Places>>();

function placesOf(where: ContactArea | PalmKind, openLengthMm: number): Places {
  const byLength = knownIn(knownPlaces, where, () => new Map<number, Places>());
  return knownIn(byLength, openLengthMm, () => ({ touches: [], contacts: new Map() }));
}

function makeContact(
  { hand, part }: Kind,
  { leadMs }: PartRow,
  string: number,
  fret: number,
  finger: ContactFinger | undefined,
  touch: Touch,
  narrow: boolean,
): Contact {
  const contact = { string, hand, part, finger, touch, narrow, fret: hand === "fretting" ? fret : undefined, leadMs };
  return contact as Contact;
}

function makeTouch(where: ContactArea | PalmKind, bridge: number, fret: number): Touch {
  const fromBridge = ({ rate, fromBridgeMm, toBridgeMm }: PalmKind): Touch => ({ fromMm: bridge - toBridgeMm, toMm: bridge - fromBridgeMm, rate });
  if (!("at" in where)) return fromBridge(where);
  switch (where.at) {
    case "finger": {
      const middle = Math.max(where.widthMm / 2, fretFromNutMm(bridge, fret) - BEHIND_FRET_MM);
      return { fromMm: middle - where.widthMm / 2, toMm: middle + where.widthMm / 2, rate: where.rate };
    }
    case "bridge":
      return fromBridge(where);
    case "heel":
      throw new Error("a palm has a grade");
    case "nut":
      return { fromMm: where.fromNutMm, toMm: where.toNutMm, rate: where.rate };
    case "press":
      throw new Error("a press is no touch");
  }
}

/** Why a kind of contact is not to be had on a string. */
export function refuseOne(
  refusals: RefusalList,
  { hand, part }: Kind,
  string: number,
  finger: ContactFinger | 0 | undefined,
  code: RefusalCode,
  why: Why,
): void {
  const kind = { hand, part } as Kind;
  refusals?.push({ string, ...kind, ...(finger === undefined || finger === 0 ? {} : { finger }), code, why });
}

/** The same on every one of these strings that nobody wants to hear. */
export function refuseAll(
  { intents }: Gated,
  refusals: RefusalList,
  kind: Kind,
  strings: readonly number[],
  finger: ContactFinger | 0 | undefined,
  code: RefusalCode,
  why: Why,
): void {
  if (refusals) for (const s of strings) if (!isWanted(intents[s - 1]!)) refuseOne(refusals, kind, s, finger, code, why);
}

export function range(from: number, to: number): number[] {
  const all: number[] = [];
  for (let n = from; n <= to; n++) all.push(n);
  return all;
}
