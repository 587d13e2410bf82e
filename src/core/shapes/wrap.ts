import type { IntentTable } from "../intent/intent.ts";
import { fractionOf } from "../music/ticks.ts";
import type { Pin } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Issue, Timeline } from "../timeline/types.ts";

/** Whether a fret wrap lies near the nut: for a whole passage or not at all, since nobody ties it on and off between notes. */
export interface Wrap {
  on: boolean;
  issues: readonly Issue[];
}

/** A wrap that the player uses, left off where an open string has to sound or where the player has ruled it out. */
export function wrapOf({ steps }: Timeline, intent: IntentTable, settings: Settings, pins: readonly Pin[]): Wrap {
  if (settings.fretWrap === "never") return OFF;
  if (pins.some((pin) => pin.want === "ban" && pin.contact.part === "fret-wrap")) return OFF;
  const choked = steps.flatMap((step, i) =>
    step.sounding.flatMap((note, s) => (note && step.begins[s] && note.pressedFret === 0 && sounds(intent[i]![s]!) ? [{ step, note }] : [])),
  );
  const [first] = choked;
  if (!first) return { on: true, issues: [] };
  const more = choked.length > 1 ? `, and ${choked.length - 1} more after it` : "";
  return {
    on: false,
    issues: [
      {
        code: "wrap-under-open-string",
        path: `/bars/${first.note.bar}/strokes/${first.note.stroke}/notes/${first.note.note}`,
        bar: first.step.bar + 1,
        at: fractionOf(first.step.atTicks),
        says: `A fret wrap would choke the open string ${first.note.string}${more}: the plan leaves it off. Fret these notes, or play without a wrap.`,
      },
    ],
  };
}

const OFF: Wrap = { on: false, issues: [] };

function sounds(intent: IntentTable[number][number]): boolean {
  return intent === "ring" || intent === "muffled";
}
