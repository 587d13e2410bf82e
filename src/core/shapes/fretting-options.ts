import type { FingerMask } from "../hands/fingers.ts";
import { FRETTING_PARTS, type FrettingPart, holdOf } from "../hands/parts.ts";
import type { FrettingPosture } from "../hands/postures.ts";
import type { Option } from "./assemble.ts";
import { isLive } from "./gate.ts";
import { type FrettingContext, isWanted } from "./situation.ts";

/** One thing a hand can do in addition to its work; a shape takes at most one per group. */
export interface FingerOption extends Option {
  posture?: Partial<FrettingPosture>;
  /** Fingers it needs for itself. */
  fingers?: FingerMask;
}

export const NOTHING: FingerOption = { contacts: [], hold: 0 };

export const kind = <P extends FrettingPart>(part: P) => ({ hand: "fretting", part }) as const;
export const hold = (part: FrettingPart) => holdOf(FRETTING_PARTS[part]);

/** Runs of neighbouring strings, up to one, over which a finger at a fret chokes nothing and meets no other one at that fret. */
export function runs(context: FrettingContext, fret: number, furthest: number): number[][] {
  const found: number[][] = [];
  let run: number[] = [];
  for (let s = 1; s <= furthest + 1; s++) {
    const chokes = isWanted(context.intents[s - 1]!) && isLive(context, s, fret);
    if (s <= furthest && !chokes && context.pressedFrets[s - 1] !== fret) run.push(s);
    else {
      if (run.some((string) => isLive(context, string, fret))) found.push(run);
      run = [];
    }
  }
  return found;
}
