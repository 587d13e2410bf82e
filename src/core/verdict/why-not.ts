import { kindOf } from "../hands/parts.ts";
import { type Cost, planOf } from "../plan/planner.ts";
import type { Problem, ProblemStep } from "../plan/problem.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import { bit, type Contact, type Shape } from "../shapes/types.ts";
import type { TouchedBy, WhyNot } from "./document.ts";

/** Steps on either side that are planned again to see what a contact would cost. */
const WINDOW = 6;

/**
 * Why no contact helps a string at a step: every refusal once; then, for contacts that could be
 * had, what taking them would have cost, found by planning the surroundings again with the
 * contact demanded.
 */
export function whyNotOf(shapes: StepShapes, problem: Problem, at: number, string: number, used: readonly TouchedBy[], rings: boolean): WhyNot[] {
  const found = new Map<string, WhyNot>();
  const isUsed = (c: Contact) => used.some((t) => t.hand === c.hand && t.part === c.part && t.finger === c.finger);
  const add = (why: WhyNot) => {
    const key = `${why.hand}${why.part}${why.finger ?? ""}`;
    if (found.has(key)) return;
    const { finger, code, reason } = why;
    found.set(key, { ...kindOf(why), ...(finger === undefined ? {} : { finger }), code, reason });
  };
  for (const refusal of [...shapes.fretting.refusals, ...shapes.picking.refusals]) if (refusal.string === string) add(refusal);
  let freely: Cost | null = null;
  for (const side of ["fretting", "picking"] as const)
    for (const contact of contactsOn(problem.steps[at]![side], string)) {
      const key = `${contact.hand}${contact.part}${contact.finger ?? ""}`;
      if (found.has(key) || isUsed(contact)) continue;
      // Of a string that rings no contact holds it, whatever lies there.
      if (!rings && used.some((t) => t.part !== "press")) {
        add({ ...contact, code: "not-needed", reason: "Possible, and not needed: the string is held." });
        continue;
      }
      freely ??= costOfWindow(problem, at, null);
      add({ ...contact, ...priceOf(problem, at, side, contact, freely) });
    }
  return [...found.values()];
}

function contactsOn(shapes: readonly Shape[], string: number): Contact[] {
  return shapes.flatMap((shape) => shape.contacts.filter((c) => c.string === string));
}

function priceOf(problem: Problem, at: number, side: "fretting" | "picking", contact: Contact, freely: Cost | null): Pick<WhyNot, "code" | "reason"> {
  const has = (shape: Shape) => shape.contacts.some((c) => c.string === contact.string && c.part === contact.part && c.finger === contact.finger);
  const step = problem.steps[at]!;
  const having = step[side].filter(has);
  const silences = step.struck | step.carried;
  if ((silences & bit(contact.string)) !== 0 && having.every((shape) => (shape.deadens & bit(contact.string)) === 0 && contact.narrow))
    return { code: "chimes", reason: "A lone finger lies over a node there: the string would chime instead of falling silent." };
  const forced = costOfWindow(problem, at, { ...step, [side]: having });
  if (forced === null || freely === null) return { code: "no-time", reason: "The hand cannot get there and back in time." };
  if (forced.harm > freely.harm) return { code: "would-choke", reason: "A note that should be palm-muted would lose its palm." };
  if (forced.rushed > freely.rushed) return { code: "no-time", reason: "The hand would come too late for it." };
  if (forced.stray > freely.stray) return { code: "costlier", reason: "Another ring, louder or longer, would take its place." };
  return { code: "costlier", reason: "Possible, and more work than what the plan does." };
}

/** Optimal cost of the steps around one, with another version of that step; null when no plan exists. */
function costOfWindow(problem: Problem, at: number, instead: ProblemStep | null): Cost | null {
  const from = Math.max(0, at - WINDOW);
  const steps = problem.steps.slice(from, at + WINDOW + 1).map((step, i) => (from + i === at && instead ? instead : step));
  return planOf({ ...problem, steps })?.cost ?? null;
}
