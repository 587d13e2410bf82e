import { each, type FoldMemory } from "../memory/fold.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Finger, Instrument, Passage } from "../passage/schema.ts";
import { lastFret } from "../passage/settings.ts";
import type { Issue, Step, Timeline, TimelineNote } from "../timeline/types.ts";

/** A place that the fretting hand keeps, struck or not; fret 0 is an open string that belongs to the chord. */
export interface GripPlace {
  string: number;
  fret: number;
  finger: Finger | undefined;
}

/** What the fretting hand keeps from a moment until the next grip. */
export interface HeldGrip {
  /** Tick from the passage's beginning. */
  from: Ticks;
  chord: string | undefined;
  places: readonly GripPlace[];
}

export interface Grips {
  /** Per step: the grip that holds there, or null. A grip stays the same object from step to step. */
  held: readonly (HeldGrip | null)[];
  issues: readonly Issue[];
}

/**
 * The grips written in a passage, step by step. Each holds until the next one, over bar lines; one without places lets go.
 * Places beyond the neck are left out and told; so is a written note that presses a held string nearer the nut than its grip does.
 */
export function gripsOf(passage: Passage, timeline: Timeline, memory?: FoldMemory<null, readonly Issue[]>): Grips {
  const { steps, bars } = timeline;
  const written = passage.bars.flatMap((bar, b) => (bar.grips ?? []).map((grip, g) => ({ grip, b, g })));
  if (written.length === 0) return { held: steps.map(() => null), issues: [] };
  const issues: Issue[] = [];
  const inOrder = written
    .map(({ grip, b, g }): HeldGrip => {
      const span = bars[b]!;
      const places = grip.notes.flatMap(({ string, fret, finger }, n): GripPlace[] => {
        if (fret <= lastFret(passage.instrument)) return [{ string, fret, finger }];
        issues.push(beyondNeck(`/bars/${b}/grips/${g}/notes/${n}`, b, grip.at, fret, passage.instrument));
        return [];
      });
      // A pick-up starts with its first stroke: what is gripped before it is gripped then.
      return { from: Math.max(span.start, span.start + ticksOf(grip.at) - span.offset), chord: grip.chord, places };
    })
    .sort((x, y) => x.from - y.from);
  let next = 0;
  let now: HeldGrip | null = null;
  const held = steps.map((step) => {
    while (next < inOrder.length && inOrder[next]!.from <= step.tick) now = inOrder[next++]!;
    return now && now.places.length > 0 ? now : null;
  });
  const clashes = each(steps, [held], (i) => clashesAt(steps[i]!, held[i]!), memory);
  return { held, issues: [...issues, ...clashes.flat()] };
}

function beyondNeck(path: string, bar: number, at: string, fret: number, instrument: Instrument): Issue {
  return {
    code: "fret-beyond-neck",
    path,
    bar: bar + 1,
    at,
    says: `Fret ${fret} lies beyond the neck's ${lastFret(instrument)} frets; the grip is held without it.`,
  };
}

/** Notes that no finger can press while another one holds their string further up, and fingers that the grip needs elsewhere. */
function clashesAt(step: Step, grip: HeldGrip | null): Issue[] {
  if (!grip) return [];
  return step.sounding.flatMap((note, s): Issue[] => {
    if (!note || !step.begins[s] || note.from === "tap" || note.pressedFret === 0) return [];
    const where = { path: `/bars/${note.bar}/strokes/${note.stroke}/notes/${note.note}`, bar: note.bar + 1, at: fractionOf(step.atTicks) };
    const place = grip.places.find(({ string }) => string === note.string);
    if (place && place.fret > note.pressedFret)
      return [
        {
          code: "grip-clash",
          ...where,
          says: `The grip holds string ${note.string} at fret ${place.fret}: a note at fret ${note.pressedFret} cannot sound behind it.`,
        },
      ];
    const busy = grip.places.find(
      ({ string, fret, finger }) => finger !== undefined && finger === note.finger && (string !== note.string || fret !== note.fret),
    );
    if (busy && busy.fret !== note.fret)
      return [
        {
          code: "grip-clash",
          ...where,
          says: `Finger ${note.finger} holds string ${busy.string} at fret ${busy.fret} in this grip and cannot press fret ${note.fret}.`,
        },
      ];
    return [];
  });
}

/** Whether a grip is down: while something of it, or with it, sounds. In a rest it lies there without pressure. */
export function isDown(grip: HeldGrip | null, sounding: readonly (TimelineNote | null)[]): grip is HeldGrip {
  return grip !== null && sounding.some((note) => note !== null && note.tone !== "ghost");
}

/** The grip's place on a string, unless a note sounds there now. */
export function placeHeld(grip: HeldGrip, sounding: readonly (TimelineNote | null)[], string: number): GripPlace | undefined {
  return sounding[string - 1] ? undefined : grip.places.find((place) => place.string === string);
}
