import type { Passage } from "../passage/schema.ts";
import type { Step } from "../timeline/types.ts";
import type { PlannedStages } from "../verdict/verdict.ts";

/** A note as it is meant: on which string, at which fret, from which step to which; times are of the plan, in ms. */
export interface Voice {
  string: number;
  /** The fret whose pitch is heard. */
  fret: number;
  /** Every how many partials it has: 1 but for harmonics. */
  partial: number;
  step: number;
  fromMs: number;
  toMs: number;
  /** Dulled by the palm, or dead: it does not ring. */
  isDull: boolean;
  /** Dulled by the palm. */
  isMuffled: boolean;
  isPlucked: boolean;
  isBent: boolean;
}

/** Where a string is to be still, from one step on to another. */
export interface Rest {
  string: number;
  step: number;
  fromMs: number;
  toMs: number;
  /** Frets at which it may ring: where it was pressed last, and open. */
  frets: number[];
  /** It sounded until then: a room may still hold it. */
  isStilled: boolean;
}

/** The notes of a plan. */
export function voicesOf({ timeline: { steps, endMs } }: PlannedStages): Voice[] {
  const found: Voice[] = [];
  for (const [i, step] of steps.entries())
    for (const [s, note] of step.sounding.entries()) {
      if (!note || !step.begins[s]) continue;
      const next = steps.findIndex((later, k) => k > i && (later.sounding[s] !== note || later.begins[s]));
      const isTouched = note.pressedFret !== note.fret && note.from !== "tap";
      found.push({
        string: s + 1,
        fret: isTouched ? note.pressedFret : note.pitchFret,
        partial: isTouched ? Math.max(1, Math.round(2 ** (note.pitchFret / 12))) : 1,
        step: i,
        fromMs: step.ms,
        toMs: next < 0 ? endMs : steps[next]!.ms,
        isDull: note.tone !== "open",
        isMuffled: note.tone === "palm",
        isPlucked: note.from === "stroke",
        isBent: note.bend !== null || note.vibrato,
      });
    }
  return found;
}

/** Where strings are to be still, a stretch each: from the step that stills them to the next that touches or strikes them. */
export function restsOf(passage: Passage, { timeline: { steps, endMs }, intent }: PlannedStages): Rest[] {
  const found: Rest[] = [];
  for (let s = 0; s < passage.instrument.tuning.length; s++) {
    let open: Rest | null = null;
    let last = 0;
    const close = (toMs: number) => {
      if (open) found.push({ ...open, toMs });
      open = null;
    };
    steps.forEach((step, i) => {
      const isStruck = step.stroke !== null && (step.stroke.crossed.includes(s + 1) || step.stroke.clicked.includes(s + 1));
      const isStill = intent[i]![s] === "quiet" || intent[i]![s] === "thud";
      if (open && (isStruck || !isStill)) close(step.ms);
      if (step.sounding[s]) last = step.sounding[s]!.pressedFret;
      const before = intent[i - 1]?.[s] ?? "quiet";
      const isStilled = before !== "quiet" && before !== "thud";
      if (!open && isStill) open = { string: s + 1, step: i, fromMs: step.ms, toMs: 0, frets: [...new Set([last, 0])], isStilled };
    });
    close(endMs);
  }
  return found;
}

/** Strokes of a plan. */
export function strokesOf(steps: readonly Step[]): { step: number; ms: number; isDead: boolean; isUp: boolean; crossed: readonly number[] }[] {
  return steps.flatMap((step, i) =>
    step.stroke
      ? [
          {
            step: i,
            ms: step.ms,
            isDead: step.stroke.as === "chuck" || step.stroke.as === "ghost",
            isUp: step.stroke.kind === "up",
            crossed: step.stroke.crossed,
          },
        ]
      : [],
  );
}
