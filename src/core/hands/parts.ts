import { type ContactArea, FINGER_PAD, FINGER_TIP, HAND_ACROSS, HEEL_CHUCK, LEAN, PLUCK_REST, THUMB_OVER, WRAP } from "./contact-areas.ts";
import { PRICES, type Price } from "./prices.ts";

/*
 * The catalogue of contacts: every part of a hand that can be on a string, by hand. Shapes, costs, the plan document, pins,
 * words, drawings and mutants read it; a name that is not here is a type error. Figures are from memory, adjustable; only
 * their order matters much. docs/hands.md says how to add one.
 */

/** What one kind of contact is. */
export interface PartRow {
  area: ContactArea;
  /** Whether it ends a note that goes on: always, only where it lies on no node by itself, or never (it only keeps a string still). */
  stops: "always" | "off-nodes" | "never";
  /** Off the bridge, so that a string struck under it thuds. */
  deadens: boolean;
  /** May lie on a string that is to sound muffled. */
  muffles: boolean;
  /** How likely it fails to do its work, 0 to 1. */
  fails: number;
  /** What holding it costs; nothing where it belongs to a home posture. */
  hold: Price | null;
  /** How long before its step it lands, where it has to. */
  leadMs?: number | undefined;
  /** A shape takes at most one of a role per finger; the whole hand goes together with nothing else. */
  role: Role;
  draws: Sign;
}

export type Role =
  /** The written note itself. */
  | "press"
  /** On the treble or the bass side of a finger that presses, in the same motion. */
  | "treble-side"
  | "bass-side"
  /** Fingers whose note is over, and an index behind the others. */
  | "rests"
  | "spare"
  | "thumb"
  /** Heel and thumb of the picking hand, and what its fingers do beside them. */
  | "hand"
  | "beside"
  | "whole-hand"
  | "always";

/** How the drawing of the hands shows it. */
export type Sign =
  /** A finger down on its string, filled; one that lies over strings, in outline; its nose against the next string. */
  | "press"
  | "lying"
  | "nose"
  /** The whole hand over the neck; a band around it. */
  | "across"
  | "band"
  /** At the bridge, well off it, and one finger where strings are plucked. */
  | "bridge"
  | "flat-hand"
  | "square";

const press = { area: { at: "press" }, stops: "never", deadens: false, muffles: false, fails: 1, hold: null, role: "press", draws: "press" } as const;
const finger = { stops: "off-nodes", deadens: true, muffles: false, draws: "lying" } as const;
const plucking = { area: PLUCK_REST, stops: "off-nodes", deadens: true, muffles: false, draws: "square" } as const;

export const FRETTING_PARTS = {
  press,
  underside: { ...finger, area: LEAN, fails: 0.03, hold: null, role: "treble-side" },
  tip: { ...finger, area: FINGER_TIP, fails: 0.06, hold: null, role: "bass-side", draws: "nose" },
  flat: { ...finger, area: FINGER_PAD, fails: 0.1, hold: "flat", role: "treble-side" },
  /** Easing and rolling leave firm pressure through every lighter one: they end a note wherever they lie. */
  ease: { ...finger, area: FINGER_TIP, stops: "always", fails: 0.03, hold: null, role: "rests" },
  roll: { ...finger, area: FINGER_TIP, stops: "always", fails: 0.05, hold: null, role: "bass-side" },
  /** Two to four of them on the muffled string make the bass player's muted tone. */
  spare: { ...finger, area: FINGER_PAD, muffles: true, fails: 0.05, hold: "spareFinger", role: "spare" },
  lay: { ...finger, area: HAND_ACROSS, stops: "always", fails: 0.02, hold: "across", role: "whole-hand", draws: "across" },
  slap: { ...finger, area: HAND_ACROSS, stops: "always", fails: 0.04, hold: "slapped", role: "whole-hand", draws: "across" },
  thumb: { ...finger, area: THUMB_OVER, fails: 0.06, hold: "thumbOver", role: "thumb" },
} as const satisfies Record<string, PartRow>;

/** How long before the pick a chuck hand lands. Common practice: 10-40 ms. */
const CHUCK_LEAD_MS = 25;

export const PICKING_PARTS = {
  /** A tapped note. */
  press,
  palm: { area: { at: "heel" }, stops: "always", deadens: false, muffles: true, fails: 0.02, hold: null, role: "hand", draws: "bridge" },
  thumb: { ...plucking, fails: 0.06, hold: null, role: "hand" },
  "thumb-edge": { ...plucking, fails: 0.15, hold: "thumbEdge", role: "beside" },
  /** Curled fingers on the treble strings. */
  spare: { ...plucking, fails: 0.05, hold: "curled", role: "beside" },
  heel: {
    area: HEEL_CHUCK,
    stops: "always",
    deadens: true,
    muffles: true,
    fails: 0.02,
    hold: "flatHand",
    leadMs: CHUCK_LEAD_MS,
    role: "whole-hand",
    draws: "flat-hand",
  },
  "rest-stroke": { ...plucking, fails: 0.05, hold: null, role: "beside" },
  replant: { ...plucking, fails: 0.05, hold: "replant", role: "beside" },
  park: { ...plucking, fails: 0.05, hold: null, role: "beside" },
  "thumb-return": { ...plucking, fails: 0.04, hold: null, role: "hand" },
  plant: { ...plucking, fails: 0.05, hold: null, role: "beside" },
} as const satisfies Record<string, PartRow>;

export const AID_PARTS = {
  /** Far from every node and too light to stop what sounds: it helps against sympathy and jolt alone. */
  "fret-wrap": { area: WRAP, stops: "never", deadens: false, muffles: false, fails: 0.1, hold: null, role: "always", draws: "band" },
} as const satisfies Record<string, PartRow>;

export const PARTS_BY_HAND = { fretting: FRETTING_PARTS, picking: PICKING_PARTS, aid: AID_PARTS } as const;

export type Hand = keyof typeof PARTS_BY_HAND;
/** A hand that is planned; an aid only lies there. */
export type PlannedHand = Exclude<Hand, "aid">;
/** Both hands that are planned, in the order in which they are named. */
export const HANDS = ["fretting", "picking"] as const satisfies readonly PlannedHand[];
export type FrettingPart = keyof typeof FRETTING_PARTS;
export type PickingPart = keyof typeof PICKING_PARTS;
export type AidPart = keyof typeof AID_PARTS;
/** What fingers of the picking hand do beside its heel or thumb. */
export type BesidePart = { [P in PickingPart]: (typeof PICKING_PARTS)[P]["role"] extends "beside" ? P : never }[PickingPart];
export type Part = FrettingPart | PickingPart | AidPart;
export type PartOf<H extends Hand> = keyof (typeof PARTS_BY_HAND)[H];

/** A kind of contact: a part of the hand it belongs to. */
export type Kind = { [H in Hand]: { hand: H; part: PartOf<H> } }[Hand];

/** Names of a hand's parts, in the order of the catalogue. */
export function partsOf<H extends Hand>(hand: H): [PartOf<H>, ...PartOf<H>[]] {
  return Object.keys(PARTS_BY_HAND[hand]) as [PartOf<H>, ...PartOf<H>[]];
}

/** Every kind of contact, hand by hand. */
export const KINDS: readonly Kind[] = (Object.keys(PARTS_BY_HAND) as Hand[]).flatMap((hand) => partsOf(hand).map((part) => ({ hand, part }) as Kind));

/** The catalogue's row of a kind of contact. */
export function partOf({ hand, part }: Kind): PartRow {
  return ROWS[hand].get(part)!;
}

/** The catalogue's rows with all their fields, in one order: they are read at every contact, and so much quicker. */
const ROWS: Readonly<Record<Hand, ReadonlyMap<Part, PartRow>>> = { fretting: rowsOf("fretting"), picking: rowsOf("picking"), aid: rowsOf("aid") };

function rowsOf(hand: Hand): ReadonlyMap<Part, PartRow> {
  const rows = Object.entries(PARTS_BY_HAND[hand]) as [Part, PartRow][];
  return new Map(
    rows.map(([part, { area, stops, deadens, muffles, fails, hold, leadMs, role, draws }]) => [
      part,
      { area, stops, deadens, muffles, fails, hold, leadMs, role, draws },
    ]),
  );
}

/** The kind alone of whatever has one. */
export function kindOf({ hand, part }: Kind): Kind {
  return { hand, part } as Kind;
}

/** Which hand's shapes, signs and sentences a contact goes with: a wrap lies where the fretting hand is. */
export const SIDE: Readonly<Record<Hand, PlannedHand>> = { fretting: "fretting", picking: "picking", aid: "fretting" };

/** Effort of holding a contact, in tenths a second. */
export function holdOf({ hold }: PartRow): number {
  return hold === null ? 0 : PRICES[hold];
}
