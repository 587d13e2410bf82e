import type { StepShapes } from "../shapes/shapes.ts";
import type { Contact, Refusal } from "../shapes/types.ts";
import type { WhyNot } from "./document.ts";

/** Why no contact helps a string: every refusal once, then what was possible and not chosen. */
export function whyNotOf(shapes: StepShapes, string: number, stray: boolean): WhyNot[] {
  const found = new Map<string, WhyNot>();
  const add = (why: Pick<Refusal, "hand" | "part" | "finger" | "code" | "reason">) => {
    const key = `${why.hand}${why.part}${why.finger ?? ""}`;
    if (found.has(key)) return;
    const { hand, part, finger, code, reason } = why;
    found.set(key, { hand, part, ...(finger === undefined ? {} : { finger }), code, reason });
  };
  for (const side of [shapes.fretting, shapes.picking]) {
    for (const refusal of side.refusals) if (refusal.string === string) add(refusal);
    for (const shape of side.shapes)
      for (const contact of shape.contacts) if (contact.string === string) add(notChosen(contact, stray, (shape.stops & (1 << (string - 1))) === 0));
  }
  return [...found.values()];
}

function notChosen(contact: Contact, stray: boolean, chimes: boolean): WhyNot {
  const { hand, part, finger } = contact;
  const base = { hand, part, ...(finger === undefined ? {} : { finger }) };
  if (chimes) return { ...base, code: "chimes", reason: "A lone finger lies over a node there: the string would chime instead of falling silent." };
  if (stray) return { ...base, code: "no-time", reason: "The hand is needed elsewhere and cannot get there and back in time." };
  return { ...base, code: "costlier", reason: "Possible, and more work than what the plan does." };
}
