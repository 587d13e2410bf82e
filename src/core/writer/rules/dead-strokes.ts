import { backbeats, barLength } from "../../music/beats.ts";
import { TICKS_PER_WHOLE, ticksOf } from "../../music/ticks.ts";
import { deaden, isPlayed } from "../draft.ts";
import type { RuleFor } from "./rule.ts";
import { EIGHTH, report, times } from "./rule.ts";

/** Chucks or clicks on the backbeat. */
export const backbeat: RuleFor<"backbeat"> = (draft, { as }, bars) => {
  let changed = 0;
  for (const b of bars)
    for (const tick of backbeats(draft.bars[b]!.meter)) {
      const stroke = draft.strokeAt(b, tick);
      if (stroke?.as === as) continue;
      const strings = as === "chuck" ? draft.chucked() : draft.all();
      if (stroke) deaden(stroke, as, strings);
      else draft.dead(b, tick, as, strings, null, EIGHTH);
      changed++;
    }
  const through = as === "chuck" && draft.settings.chuck === "edge" ? `, through the first ${draft.chucked().length} strings` : "";
  return report(changed, `${times(changed, as)} on the backbeat${through}`);
};

/** A rake takes so long, and goes through so many strings at most. */
const RAKE = { ticks: TICKS_PER_WHOLE / 32, strings: 3 } as const;

/** Dead strings dragged through into a note: on its bass side, down, ending in it. */
export const rake: RuleFor<"rake"> = (draft, { into }, bars) => {
  let changed = 0;
  let without = 0;
  const wanted = new Set(bars);
  for (const b of bars) {
    const played = draft.bars[b]!.strokes.filter((stroke) => isPlayed(stroke) && stroke.notes.length > 0);
    for (const target of into === "accents" ? played.filter((stroke) => stroke.accent) : played.slice(0, 1)) {
      const lowest = Math.max(...target.notes.map(({ string }) => string));
      const strings = draft
        .all()
        .filter((string) => string > lowest)
        .slice(-RAKE.strings);
      const tick = ticksOf(target.at) - RAKE.ticks;
      const [bar, at] = tick >= 0 ? [b, tick] : [b - 1, barLength(draft.bars[b - 1]?.meter ?? [4, 4]) + tick];
      const isTaken = draft.bars[bar]?.strokes.some((stroke) => ticksOf(stroke.at) >= at && ticksOf(stroke.at) < at + RAKE.ticks) ?? true;
      if (strings.length === 0 || isTaken || !wanted.has(bar)) {
        without++;
        continue;
      }
      draft.insert(bar, at, { as: "rake", strings, notes: [], stroke: "down" }, RAKE.ticks);
      target.stroke = "down";
      changed++;
    }
  }
  const left = without > 0 ? `; ${times(without, "note")} without: nothing lies before ${without === 1 ? "it" : "them"}` : "";
  return report(
    changed,
    `${times(changed, "rake")} into ${into === "accents" ? "the accents" : "the first note of each bar"}${left}`,
    without > 0 ? `No room for a rake: ${times(without, "note")} with no string or no time before.` : "No accent to rake into: set one first.",
  );
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
