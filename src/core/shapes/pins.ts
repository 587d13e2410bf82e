import { kindOf, type PlannedHand, partOf, SIDE } from "../hands/parts.ts";
import type { Posture } from "../hands/postures.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Pin } from "../passage/schema.ts";
import type { Step, Timeline } from "../timeline/types.ts";
import type { Possible } from "./shape-list.ts";
import type { Contact, HandShape, Refusal } from "./types.ts";

/**
 * Keeps the shapes that honour the player's pins. A pin that no shape can honour is left aside here and reported as an issue;
 * see `isUnmet`.
 */
export function pinnedShapes<P extends Posture>(all: Possible<P>, hand: PlannedHand, step: Step, timeline: Timeline, pins: readonly Pin[]): Possible<P> {
  const here = pins.filter((pin) => SIDE[pin.contact.hand] === hand && covers(pin, step, timeline));
  if (here.length === 0) return all;
  let shapes = all.shapes;
  for (const pin of here) {
    const kept = shapes.filter((shape) => honours(shape, pin));
    if (kept.length > 0) shapes = kept;
    // What comes with every shape for nothing can be left out of each.
    else if (pin.want === "ban" && comesFree(pin))
      shapes = shapes.map((shape) =>
        all.withOnly(
          shape,
          shape.contacts.filter((contact) => !matches(contact, pin)),
        ),
      );
  }
  const refusals = here.flatMap(({ want, string, contact }): Refusal[] => {
    const { finger } = contact;
    if (want === "demand") return [];
    return [{ string, ...kindOf(contact), ...(finger === undefined ? {} : { finger }), code: "banned", why: ["ruled-out"] }];
  });
  return { shapes, refusals: [...refusals, ...all.refusals], withOnly: (shape, contacts) => all.withOnly(shape, contacts) };
}

/** A contact that no written note or stroke asks for. */
function comesFree({ contact }: Pin): boolean {
  return ["treble-side", "bass-side", "rests", "spare", "thumb", "beside"].includes(partOf(contact).role);
}

/** Whether no shape of its hand can honour a pin at a step. */
export function isUnmet(pin: Pin, shapes: readonly HandShape[]): boolean {
  return !shapes.some((shape) => honours(shape, pin));
}

function honours(shape: HandShape, pin: Pin): boolean {
  return touches(shape, pin) === (pin.want === "demand");
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

function touches(shape: HandShape, pin: Pin): boolean {
  return shape.contacts.some((contact) => matches(contact, pin));
}

function matches(contact: Contact, pin: Pin): boolean {
  const { part, finger } = pin.contact;
  return contact.string === pin.string && contact.part === part && (finger === undefined || contact.finger === finger);
}
