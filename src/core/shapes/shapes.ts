import type { StringSet } from "../acoustics/modal.ts";
import { FoldCache, fold, type Stage, sameItems } from "../caching/fold.ts";
import { SharedLists } from "../caching/shared-lists.ts";
import { textOf } from "../caching/text.ts";
import type { Fingering } from "../fingering/fingering.ts";
import { doesGripMove, type HandState } from "../fingering/hand-state.ts";
import type { Grips } from "../grips/grips.ts";
import type { FrettingPosture, PickingPosture, Posture } from "../hands/postures.ts";
import type { Intent, IntentTable } from "../intent/intent.ts";
import type { Instrument, Pin } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Timeline, TimelineStroke } from "../timeline/types.ts";
import { frettingShapes } from "./fretting.ts";
import { pickingShapes } from "./picking.ts";
import { pinnedShapes } from "./pins.ts";
import type { Possible, ShapeList } from "./shape-list.ts";
import { frettingSituation, type LastStruck, pickingSituation, type Setup, wantedMask } from "./situation.ts";
import type { StringMask } from "./types.ts";

/** What both hands can do during one step. Shared between steps in equal situations. */
export interface StepShapes {
  fretting: Possible<FrettingPosture>;
  picking: Possible<PickingPosture>;
}

const MOST_REMEMBERED = 50000;

/** Lists of shapes by the whole situation they were made for. */
class BySituation<Situation extends object, P extends Posture> {
  private readonly known = new Map<string, ShapeList<P>>();
  constructor(private readonly make: (setup: Setup, situation: Situation) => ShapeList<P>) {}

  of(setup: Setup, situation: Situation): ShapeList<P> {
    const key = textOf(situation);
    const known = this.known.get(key);
    if (known) return known;
    const made = this.make(setup, situation);
    if (this.known.size >= MOST_REMEMBERED) this.known.clear();
    this.known.set(key, made);
    return made;
  }
}

/** What a step needs to know of the one after it. */
interface Ahead {
  soonWanted: StringMask;
  intents: readonly Intent[];
  hand: HandState | null;
}

/** Per step: the strings, as bits, that are to sound before any finger is set down or lets go. */
function soonWantedOf({ steps }: Timeline, intent: IntentTable, { hands }: Fingering, cache: ShapesCache): number[] {
  return fold(SOON_WANTED, { intent, hands }, { keys: steps, beside: [intent, hands], start: NOTHING_AHEAD, cache: cache.soonWanted });
}

const NOTHING_AHEAD: Ahead = { soonWanted: 0, intents: [], hand: null };

const SOON_WANTED: Stage<{ intent: IntentTable; hands: Fingering["hands"] }, Ahead, number> = {
  same: (a, b) => a.soonWanted === b.soonWanted && a.hand === b.hand && sameItems(a.intents, b.intents),
  backward: true,
  work: (next, i, { intent, hands }) => {
    const soonWanted = next.hand === null || doesGripMove(hands[i]!, next.hand) ? 0 : next.soonWanted | wantedMask(next.intents);
    return [soonWanted, { soonWanted, intents: intent[i]!, hand: hands[i]! }];
  },
};

/** What the shapes remember, for one instrument and player: lists by situation, and the steps of the last version of a passage. */
export class ShapesCache {
  readonly fretting = new BySituation(frettingShapes);
  readonly picking = new BySituation(pickingShapes);
  readonly lists = new SharedLists();
  readonly soonWanted = new FoldCache<Ahead, number>();
  readonly steps = new FoldCache<LastStruck, StepShapes>();
}

/** What the stages before found out, and whose hands they are. */
export interface Found {
  timeline: Timeline;
  intent: IntentTable;
  fingering: Fingering;
  held: Grips["held"];
  settings: Settings;
  instrument: Instrument;
  /** A fret wrap lies near the nut. */
  wrapped: boolean;
}

/** Every shape of both hands, step by step. `strings` are those of the instrument. */
export function shapesOf(found: Found, strings: StringSet, cache: ShapesCache): StepShapes[] {
  const { timeline, intent, fingering, held, settings, instrument, wrapped } = found;
  const { steps } = timeline;
  const setup: Setup = { settings, strings, kind: instrument.kind, count: timeline.strings, lists: cache.lists };
  const nextStrokes = nextStrokeOf(timeline);
  const tapping = tappingIn(timeline);
  const soonWanted = soonWantedOf(timeline, intent, fingering, cache);
  const wraps: boolean[] = new Array(steps.length).fill(wrapped);
  return fold(
    SHAPES,
    { found, setup, soonWanted, nextStrokes, tapping, cache },
    {
      keys: steps,
      beside: [intent, soonWanted, fingering.hands, held, nextStrokes, tapping, wraps],
      start: { lastThumb: 0, lastPicked: 0, wasMuted: false },
      cache: cache.steps,
    },
  );
}

interface Asked {
  found: Found;
  setup: Setup;
  soonWanted: readonly StringMask[];
  nextStrokes: readonly (TimelineStroke | null)[];
  /** Per step: the picking hand is at the neck. */
  tapping: readonly boolean[];
  cache: ShapesCache;
}

const SHAPES: Stage<Asked, LastStruck, StepShapes> = {
  same: (a, b) => a.lastThumb === b.lastThumb && a.lastPicked === b.lastPicked && a.wasMuted === b.wasMuted,
  work: (before, i, { found: { timeline, intent, fingering, held, wrapped }, setup, soonWanted, nextStrokes, tapping, cache }) => {
    const step = timeline.steps[i]!;
    const crossed = step.stroke?.kind === "none" ? [] : (step.stroke?.crossed ?? []);
    const last = {
      lastThumb: thumbString(step.stroke) ?? before.lastThumb,
      lastPicked: crossed.length > 0 ? Math.max(...crossed) : before.lastPicked,
      wasMuted: step.stroke ? step.stroke.notes.some(({ tone }) => tone === "palm") : before.wasMuted,
    };
    const shapes = {
      fretting: cache.fretting.of(setup, frettingSituation(step, intent[i]!, soonWanted[i]!, fingering.hands[i]!, held[i]!, wrapped)),
      picking: cache.picking.of(setup, pickingSituation(step, intent[i]!, nextStrokes[i]!, last, tapping[i]!)),
    };
    return [shapes, last];
  },
};

/** Keeps, at the steps that the player's pins cover, the shapes that honour them. */
export function withPins(all: readonly StepShapes[], timeline: Timeline, pins: readonly Pin[]): readonly StepShapes[] {
  if (pins.length === 0) return all;
  return all.map((here, i) => {
    const step = timeline.steps[i]!;
    const fretting = pinnedShapes(here.fretting, "fretting", step, timeline, pins);
    const picking = pinnedShapes(here.picking, "picking", step, timeline, pins);
    return fretting === here.fretting && picking === here.picking ? here : { ...here, fretting, picking };
  });
}

/** The bass string that the thumb plays in a stroke, if it does. */
function thumbString(stroke: TimelineStroke | null): number | null {
  if (stroke?.as !== "play") return null;
  const byThumb = stroke.crossed.filter((s) => s > 3 || (stroke.kind === "p" && stroke.crossed.length === 1));
  return byThumb.length > 0 ? Math.max(...byThumb) : null;
}

/** Taps no further apart than this are one figure, for which the hand stays at the neck. From memory. */
const BETWEEN_TAPS_MS = 1000;

/** Per step: whether the picking hand taps, or has tapped and does so again before any stroke. */
function tappingIn({ steps }: Timeline): boolean[] {
  const tapping = steps.map(({ sounding }) => sounding.some((note) => note?.from === "tap"));
  let next = -1;
  for (let i = steps.length - 1; i >= 0; i--) {
    const { stroke, ms, lengthMs } = steps[i]!;
    if (tapping[i]) {
      if (next > i && steps[next]!.ms - ms - lengthMs < BETWEEN_TAPS_MS) tapping.fill(true, i, next);
      next = i;
    } else if (stroke && stroke.crossed.length > 0 && stroke.kind !== "none") next = -1;
  }
  return tapping;
}

/** Per step: the next stroke after it that the picking hand makes. */
function nextStrokeOf(timeline: Timeline): (TimelineStroke | null)[] {
  const found: (TimelineStroke | null)[] = new Array(timeline.steps.length);
  let next: TimelineStroke | null = null;
  for (let i = timeline.steps.length - 1; i >= 0; i--) {
    found[i] = next;
    const { stroke } = timeline.steps[i]!;
    if (stroke && stroke.crossed.length > 0 && stroke.kind !== "none") next = stroke;
  }
  return found;
}
