import { ticksOf } from "../music/ticks.ts";
import type { Hand, Pin } from "../passage/schema.ts";
import type { Step, Timeline } from "../timeline/types.ts";
import type { HandShapes } from "./contacts.ts";
import type { Contact, Shape } from "./types.ts";

/**
 * Keeps the shapes that honour the player's pins. A demand that no shape can meet is left
 * aside here and told as an issue; see `unmetPins`.
 */
export function pinnedShapes(all: HandShapes, hand: Hand, step: Step, timeline: Timeline, pins: readonly Pin[]): HandShapes {
  const here = pins.filter((pin) => pin.contact.hand === hand && covers(pin, step, timeline));
  if (here.length === 0) return all;
  let shapes = all.shapes;
  for (const pin of here) {
    const kept = shapes.filter((shape) => touches(shape, pin) === (pin.want === "demand"));
    if (kept.length > 0) shapes = kept;
  }
  const banned = here.filter((pin) => pin.want === "ban");
  const refusals = banned.map((pin) => ({
    string: pin.string,
    hand,
    part: pin.contact.part,
    ...(pin.contact.finger === undefined ? {} : { finger: pin.contact.finger }),
    code: "banned" as const,
    reason: "You ruled this contact out here.",
  }));
  return { shapes, refusals: [...refusals, ...all.refusals] };
}

/** Pins whose demand no shape of the hand can meet at a step. */
export function isUnmet(pin: Pin, shapes: readonly Shape[]): boolean {
  return pin.want === "demand" && shapes.every((shape) => !touches(shape, pin));
}

export function covers(pin: Pin, step: Step, timeline: Timeline): boolean {
  const from = tickOf(pin.from, timeline);
  const to = tickOf(pin.to, timeline);
  return step.tick >= from && step.tick < to;
}

function tickOf(place: Pin["from"], timeline: Timeline): number {
  const span = timeline.bars[place.bar - 1];
  return span ? span.start + ticksOf(place.at) - span.offset : timeline.end;
}

function touches(shape: Shape, pin: Pin): boolean {
  return shape.contacts.some((contact) => matches(contact, pin));
}

function matches(contact: Contact, pin: Pin): boolean {
  const { part, finger } = pin.contact;
  return contact.string === pin.string && contact.part === part && (finger === undefined || contact.finger === finger);
}
