import type { StringSet } from "../acoustics/modal.ts";
import type { HandState } from "../fingering/fingering.ts";
import type { Intent } from "../intent/intent.ts";
import type { InstrumentKind, StrokeKind } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import type { Step } from "../timeline/types.ts";

/** All that decides which shapes the hands can take during one step. */
export interface ShapeContext {
  step: Step;
  intents: readonly Intent[];
  hand: HandState;
  settings: Settings;
  strings: StringSet;
  kind: InstrumentKind;
  count: number;
  /** The string the next stroke sets out from, and who makes it; null when none follows. */
  nextStroke: { string: number; kind: StrokeKind } | null;
  /** String the thumb played last, for its return; 0 if none. */
  lastThumbString: number;
}

/** Whether a string is meant to be heard now, so that nothing may choke it. */
export function isWanted(intent: Intent): boolean {
  return intent === "ring" || intent === "free" || intent === "muffled";
}

/** Fret at which a string is pressed now; 0 when it is open. */
export function pressedFret(context: ShapeContext, string: number): number {
  const note = context.step.sounding[string - 1];
  return note && note.tone !== "ghost" ? note.pressedFret : 0;
}

/** A fretting-hand touch acts only nearer the bridge than the pressed fret. */
export function isLive(context: ShapeContext, string: number, fret: number): boolean {
  return fret > pressedFret(context, string);
}

/** A finger of the picking hand holds a tapped note on the neck. */
export function isTapping({ step }: ShapeContext): boolean {
  return step.sounding.some((note) => note?.from === "tap");
}

/** The fretting hand slaps across the strings: a dead stroke without the picking hand. */
export function isSlapped(context: ShapeContext): boolean {
  const { stroke } = context.step;
  return stroke !== null && stroke.as !== "play" && stroke.kind === "none";
}
