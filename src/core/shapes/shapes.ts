import type { StringSet } from "../acoustics/modal.ts";
import type { Fingering } from "../fingering/fingering.ts";
import type { IntentTable } from "../intent/intent.ts";
import { FoldMemory, fold } from "../memory/fold.ts";
import type { Instrument, Pin } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Timeline, TimelineStroke } from "../timeline/types.ts";
import type { HandShapes } from "./contacts.ts";
import { isSlapped, isTapping, pressedFret, type ShapeContext } from "./context.ts";
import { frettingShapes } from "./fretting.ts";
import { pickingShapes } from "./picking.ts";
import { pinnedShapes } from "./pins.ts";

/** What both hands can do during one step. Shared between steps in equal surroundings. */
export interface StepShapes {
  fretting: HandShapes;
  picking: HandShapes;
  context: ShapeContext;
}

const MOST_REMEMBERED = 50000;

/** Remembers shapes by what they depend on, for one instrument and player. */
export class ShapeCache {
  private readonly fretting = new Map<string, HandShapes>();
  private readonly picking = new Map<string, HandShapes>();
  frettingOf(key: string, make: () => HandShapes): HandShapes {
    return remembered(this.fretting, key, make);
  }

  pickingOf(key: string, make: () => HandShapes): HandShapes {
    return remembered(this.picking, key, make);
  }
}

function remembered(map: Map<string, HandShapes>, key: string, make: () => HandShapes): HandShapes {
  const known = map.get(key);
  if (known) return known;
  const made = make();
  if (map.size >= MOST_REMEMBERED) map.clear();
  map.set(key, made);
  return made;
}

/** What the shapes remember: lists by all they depend on, and the steps of the last version of a passage. */
export class ShapeMemory {
  readonly cache = new ShapeCache();
  readonly steps = new FoldMemory<number, StepShapes>();
}

/** Every shape of both hands, step by step. */
export function shapesOf(
  timeline: Timeline,
  intent: IntentTable,
  fingering: Fingering,
  settings: Settings,
  instrument: Instrument,
  strings: StringSet,
  memory: ShapeMemory,
): StepShapes[] {
  const { steps } = timeline;
  const nextStrokes = nextStrokeOf(timeline);
  const { cache } = memory;
  return fold<number, StepShapes>({
    keys: steps,
    beside: [intent, fingering.hands, nextStrokes],
    start: 0,
    same: (a, b) => a === b,
    memory: memory.steps,
    work: (lastThumb, i) => {
      const step = steps[i]!;
      const lastThumbString = thumbString(step.stroke) ?? lastThumb;
      const next = nextStrokes[i]!;
      const context: ShapeContext = {
        step,
        intents: intent[i]!,
        hand: fingering.hands[i]!,
        settings,
        strings,
        kind: instrument.kind,
        count: timeline.strings,
        nextStroke: next && { string: next.crossed[0]!, kind: next.kind },
        lastThumbString,
      };
      const shapes = {
        fretting: cache.frettingOf(frettingKey(context), () => frettingShapes(context)),
        picking: cache.pickingOf(pickingKey(context), () => pickingShapes(context)),
        context,
      };
      return [shapes, lastThumbString];
    },
  });
}

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

/** All that the fretting hand's shapes depend on, and no more: the fewer keys, the fewer lists to build. */
function frettingKey(context: ShapeContext): string {
  const { intents, hand, settings } = context;
  const { moveMs } = settings;
  const pressing = new Set(hand.presses.map((press) => press.finger));
  // A finger that presses is not asked how soon it must move, and only a finger that comes from the same fret can have rolled.
  const soon = [...hand.neededInMs]
    .map(([finger, ms]) => {
      if (pressing.has(finger)) return "";
      const hurry = Number(ms < moveMs.indexFlatten) + 2 * Number(ms < 2 * moveMs.release) + 4 * Number(ms < 2 * moveMs.spare);
      return hurry === 0 ? "" : `${finger}${hurry}`;
    })
    .sort()
    .join("");
  const rolled = hand.cameFrom.filter((from) => hand.presses.some((press) => press.finger === from.finger && press.fret === from.fret));
  const pressed = intents.map((_, s) => pressedFret(context, s + 1));
  return `${intents.map((x) => x[0]).join("")};${pressed};${hand.position};${places(hand.presses)};${places(hand.left)};${places(rolled)};${soon};${isSlapped(context)}`;
}

function places(presses: ShapeContext["hand"]["presses"]): string {
  return presses.map((p) => `${p.finger}:${p.fret}@${p.strings.join(",")}`).join("/");
}

function pickingKey(context: ShapeContext): string {
  const { step, intents, lastThumbString, nextStroke } = context;
  const by = step.sounding.map((n, s) => (n && step.begins[s] ? (n.by ?? "x") : "-")).join("");
  return [
    intents.map((x) => x[0]).join(""),
    step.stroke?.kind,
    step.stroke?.as,
    step.stroke?.crossed.join(","),
    by,
    lastThumbString,
    nextStroke?.string,
    nextStroke?.kind,
    isTapping(context),
    step.stroke?.accent,
  ].join(";");
}
