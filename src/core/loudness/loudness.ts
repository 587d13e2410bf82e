import type { LoudnessModel } from "../acoustics/loudness-model.ts";
import type { StringState } from "../document/plan.ts";
import { levelAt } from "../hazards/excitations.ts";
import type { Excitation } from "../hazards/types.ts";
import type { TimelineNote } from "../timeline/types.ts";
import type { Outcome, PlannedStages } from "../verdict/verdict.ts";

/** How loud one string is during one step, in dB over what is heard at that step; null is silence. */
export interface Loudness {
  state: StringState;
  /** At the step's start and end under the plan. */
  planned: Span | null;
  /** The same if no hand damped anything; for a string that is meant to sound the same as planned. */
  undamped: Span | null;
}

export interface Span {
  fromDb: number;
  toDb: number;
}

/**
 * Loudness of every string over time, from the plan's own model: where a string strays or would, the figure at a step's
 * start is the `strayDb` or `undampedDb` of the plan document. Per step, per string (index string − 1).
 */
export function loudnessOf({ timeline, hazards }: PlannedStages, outcomes: readonly Outcome[], model: LoudnessModel): Loudness[][] {
  const last: (TimelineNote | null)[] = new Array(timeline.strings).fill(null);
  const onset: number[] = new Array(timeline.strings).fill(0);
  return timeline.steps.map((step, i) => {
    const { thresholdDb, strings } = hazards[i]!;
    const { states, strings: planned } = outcomes[i]!;
    const end = step.ms + step.lengthMs;
    return planned.map(({ state, intent, undampedDb, strayDb }, s): Loudness => {
      const begun = step.begins[s] ? step.sounding[s] : null;
      if (begun) {
        last[s] = begun;
        onset[s] = step.ms;
      } else if (step.stroke && intent !== "free" && (step.stroke.crossed.includes(s + 1) || step.stroke.clicked.includes(s + 1))) last[s] = null;
      const note = last[s];
      const alive = strings[s]!.alive;
      if (intent === "ring" || intent === "muffled" || intent === "free") {
        if (!note) return { state, planned: null, undamped: null };
        const level = (ms: number) =>
          intent === "muffled"
            ? model.muffled(note.string, note.pitchFret, note.mute, ms - onset[s]!)
            : model.after(note.string, note.pitchFret, ms - onset[s]!);
        const span = { fromDb: rounded(level(step.ms) - thresholdDb), toDb: rounded(level(end) - thresholdDb) };
        return { state, planned: span, undamped: span };
      }
      const over = (excitations: readonly Excitation[], fromDb: number | null): Span | null => {
        if (fromDb === null) return null;
        const left =
          excitations.length > 0 ? Math.max(...excitations.map((e) => levelAt(e, end) - thresholdDb)) : fromDb - (model.slope(s + 1, 0) * step.lengthMs) / 1000;
        return { fromDb, toDb: rounded(left) };
      };
      return { state, planned: over(alive.slice(0, states[s]!), strayDb), undamped: over(alive, undampedDb) };
    });
  });
}

function rounded(db: number): number {
  return Math.round(db * 10) / 10;
}
