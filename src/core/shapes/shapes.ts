import type { StringSet } from "../acoustics/modal.ts";
import type { Fingering } from "../fingering/fingering.ts";
import type { IntentTable } from "../intent/intent.ts";
import type { Instrument, Pin } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Timeline } from "../timeline/types.ts";
import type { HandShapes } from "./contacts.ts";
import { isSlapped, type ShapeContext } from "./context.ts";
import { frettingShapes } from "./fretting.ts";
import { pickingShapes } from "./picking.ts";
import { pinnedShapes } from "./pins.ts";

/** What both hands can do during one step. Shared between steps in equal surroundings. */
export interface StepShapes {
  fretting: HandShapes;
  picking: HandShapes;
  context: ShapeContext;
}

/** Remembers shapes by what they depend on, so that an edit rebuilds only what it touches. */
export class ShapeCache {
  private readonly fretting = new Map<string, HandShapes>();
  private readonly picking = new Map<string, HandShapes>();
  private base = "";

  /** Forgets everything when the instrument or the player changed. */
  setBase(base: string): void {
    if (base === this.base && this.fretting.size < 50000) return;
    this.base = base;
    this.fretting.clear();
    this.picking.clear();
  }

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
  map.set(key, made);
  return made;
}

/** Every shape of both hands, step by step. */
export function shapesOf(
  timeline: Timeline,
  intent: IntentTable,
  fingering: Fingering,
  settings: Settings,
  instrument: Instrument,
  strings: StringSet,
  pins: readonly Pin[],
  cache: ShapeCache,
): StepShapes[] {
  cache.setBase(JSON.stringify([instrument, settings]));
  let lastThumbString = 0;
  const nextStrokes = nextStrokeOf(timeline);
  return timeline.steps.map((step, i) => {
    const { stroke } = step;
    if (stroke && stroke.as === "play") {
      const byThumb = stroke.crossed.filter((s) => (stroke.kind === "p" ? s > 3 || stroke.crossed.length === 1 : s > 3));
      if (byThumb.length > 0) lastThumbString = Math.max(...byThumb);
    }
    const context: ShapeContext = {
      step,
      intents: intent[i]!,
      hand: fingering.hands[i]!,
      settings,
      strings,
      kind: instrument.kind,
      count: timeline.strings,
      nextStroke: nextStrokes[i]!,
      lastThumbString,
    };
    return {
      fretting: pinnedShapes(
        cache.frettingOf(frettingKey(context), () => frettingShapes(context)),
        "fretting",
        step,
        timeline,
        pins,
      ),
      picking: pinnedShapes(
        cache.pickingOf(pickingKey(context), () => pickingShapes(context)),
        "picking",
        step,
        timeline,
        pins,
      ),
      context,
    };
  });
}

/** Per step: the string that the next stroke after it sets out from. */
function nextStrokeOf(timeline: Timeline): ShapeContext["nextStroke"][] {
  const found: ShapeContext["nextStroke"][] = new Array(timeline.steps.length);
  let next: ShapeContext["nextStroke"] = null;
  for (let i = timeline.steps.length - 1; i >= 0; i--) {
    found[i] = next;
    const { stroke } = timeline.steps[i]!;
    if (stroke && stroke.crossed.length > 0 && stroke.kind !== "none") next = { string: stroke.crossed[0]!, kind: stroke.kind };
  }
  return found;
}

function frettingKey(context: ShapeContext): string {
  const { step, intents, hand, settings } = context;
  const { moveMs } = settings;
  const soon = [...hand.neededInMs]
    .map(([finger, ms]) => `${finger}${Number(ms < moveMs.indexFlatten)}${Number(ms < 2 * moveMs.release)}${Number(ms < 2 * moveMs.spare)}`)
    .sort();
  const sounding = step.sounding.map((n) => (n ? `${n.fret}${n.tone[0]}` : "-"));
  return [
    intents.map((x) => x[0]).join(""),
    sounding,
    hand.position,
    places(hand.presses),
    places(hand.left),
    places(hand.cameFrom),
    soon,
    isSlapped(context),
  ].join(";");
}

function places(presses: ShapeContext["hand"]["presses"]): string {
  return presses.map((p) => `${p.finger}:${p.fret}@${p.strings.join(",")}`).join("/");
}

function pickingKey({ step, intents, lastThumbString, nextStroke }: ShapeContext): string {
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
  ].join(";");
}
