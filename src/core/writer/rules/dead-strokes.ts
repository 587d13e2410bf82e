import { backbeats, barLength } from "../../music/beats.ts";
import { TICKS_PER_WHOLE } from "../../music/ticks.ts";
import { deaden } from "../draft.ts";
import type { RuleFor } from "./rule.ts";
import { EIGHTH, report, times } from "./rule.ts";

/** Chucks or clicks on the backbeat. */
export const backbeat: RuleFor<"backbeat"> = (draft, { as }, bars) => {
  let changed = 0;
  for (const b of bars)
    for (const tick of backbeats(draft.bars[b]!.meter)) {
      const stroke = draft.strokeAt(b, tick);
      if (stroke?.as === as) continue;
      if (stroke) deaden(stroke, as, draft.all());
      else draft.dead(b, tick, as, draft.all(), null, EIGHTH);
      changed++;
    }
  return report(changed, `${times(changed, as)} on the backbeat`);
};

/** Ticks of the places that can be filled. */
const UNITS = { eighth: EIGHTH, triplet: TICKS_PER_WHOLE / 12, sixteenth: TICKS_PER_WHOLE / 16 } as const;

/** Ghost strokes on the places that are empty. */
export const ghosts: RuleFor<"ghosts"> = (draft, { unit }, bars) => {
  let changed = 0;
  for (const b of bars)
    for (let tick = 0; tick < barLength(draft.bars[b]!.meter); tick += UNITS[unit]) {
      if (draft.strokeAt(b, tick) || !draft.held(b, tick)) continue;
      draft.dead(b, tick, "ghost", draft.across(draft.held(b, tick)), null, UNITS[unit]);
      changed++;
    }
  return report(changed, `${times(changed, "ghost stroke")} on the empty ${unit}s`);
};
