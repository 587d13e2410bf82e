import { FoldCache, fold, onItsOwn } from "../caching/fold.ts";
import { fractionOf, ticksOf } from "../music/ticks.ts";
import type { Instrument, Passage } from "../passage/schema.ts";
import { lastFret, type Settings } from "../passage/settings.ts";
import type { Issue, Step, Timeline, TimelineNote } from "../timeline/types.ts";
import type { GripPlace, HeldGrip } from "./types.ts";
import { type Window, WindowCache, windowsOf } from "./windows.ts";

export interface Grips {
  /** Per step: the grip that holds there, or null. A grip stays the same object from step to step. */
  held: readonly (HeldGrip | null)[];
  /** Per step: the one shape of the music around it, or null. */
  windows: readonly (Window | null)[];
  issues: readonly Issue[];
}

/** What the grips remember of the last version of a passage. */
export class GripCache {
  readonly windows = new WindowCache();
  readonly clashes = new FoldCache<null, readonly Issue[]>();
}

/**
 * The grips of a passage, step by step. A written one holds until the next one, over bar lines; one without places lets go. Before
 * the first that is written, the hand keeps what the music itself shows to be one chord. Places beyond the neck are left out and
 * reported; so is a written note that presses a held string nearer the nut than its grip does.
 */
export function gripsOf(passage: Passage, timeline: Timeline, settings: Settings, cache = new GripCache()): Grips {
  const { steps, bars } = timeline;
  const written = passage.bars.flatMap((bar, b) => (bar.grips ?? []).map((grip, g) => ({ grip, b, g })));
  const windows = windowsOf(timeline, passage.instrument, settings, cache.windows);
  if (written.length === 0) return { held: windows.map((window) => window?.held ?? null), windows, issues: [] };
  const issues: Issue[] = [];
  const inOrder = written
    .map(({ grip, b, g }) => {
      const span = bars[b]!;
      const places = grip.notes.flatMap(({ string, fret, finger }, n): GripPlace[] => {
        if (fret <= lastFret(passage.instrument)) return [{ string, fret, finger }];
        issues.push(beyondNeck(`/bars/${b}/grips/${g}/notes/${n}`, b, grip.at, fret, passage.instrument));
        return [];
      });
      // A pick-up starts with its first stroke: what is gripped before it is gripped then.
      return { from: Math.max(span.start, span.start + ticksOf(grip.at) - span.offset), grip: { chord: grip.chord, places } };
    })
    .sort((x, y) => x.from - y.from);
  let next = 0;
  let now: HeldGrip | null = null;
  const held = steps.map((step, i) => {
    while (next < inOrder.length && inOrder[next]!.from <= step.tick) now = inOrder[next++]!.grip;
    if (next === 0) return windows[i]?.held ?? null;
    return now && now.places.length > 0 ? now : null;
  });
  const clashes = fold(CLASHES, { steps, held }, { keys: steps, beside: [held], start: null, cache: cache.clashes });
  return { held, windows, issues: [...issues, ...clashes.flat()] };
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

const CLASHES = onItsOwn((i, { steps, held }: { steps: readonly Step[]; held: Grips["held"] }): readonly Issue[] => clashesAt(steps[i]!, held[i]!));

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
