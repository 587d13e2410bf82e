import { holdOf, PICKING_PARTS, type PickingPart } from "../hands/parts.ts";
import type { FingersBeside, HandAtStrings } from "../hands/postures.ts";
import type { Option } from "./assemble.ts";
import { range } from "./gate.ts";
import { isWanted, type PickingContext } from "./situation.ts";

/** What heel or thumb can do, and what the fingers can do beside it; a shape takes one of each. */
export interface HandOption extends Option {
  at: HandAtStrings;
}

export interface FingerOption extends Option {
  beside: FingersBeside;
}

export const HAND_OFF: HandOption = { contacts: [], hold: 0, at: { kind: "off" } };
export const FINGERS_OFF: FingerOption = { contacts: [], hold: 0, beside: null };

export const kind = <P extends PickingPart>(part: P) => ({ hand: "picking", part }) as const;
export const hold = (part: PickingPart) => holdOf(PICKING_PARTS[part]);

/** Strings a resting thumb covers: its tip on one, side and back on the next two. */
export const THUMB_REACH = 3;

export function lowestWantedOrStruck({ count, intents, stroke }: PickingContext): number {
  return Math.max(0, ...range(1, count).filter((s) => isWanted(intents[s - 1]!) || (stroke?.crossed.includes(s) ?? false)));
}

/** Meant to sound freely, so that not even a palm may lie on it. */
export function isOpenlyWanted({ intents }: PickingContext, string: number): boolean {
  return intents[string - 1] === "ring" || intents[string - 1] === "free";
}

export function mutedStrings({ count, intents }: PickingContext): number[] {
  return range(1, count).filter((s) => intents[s - 1] === "muffled");
}
