import type { TouchedBy, WhyNot } from "../document/plan.ts";
import { HANDS, kindOf } from "../hands/parts.ts";
import { silenced, stateAfter, stateHandedOn } from "../plan/costs.ts";
import { type Cost, type PlanPath, planOf } from "../plan/planner.ts";
import type { Problem, ProblemStep } from "../plan/problem.ts";
import type { StepShapes } from "../shapes/shapes.ts";
import { bit, type Contact, type HandShape, type Refusal, type Why } from "../shapes/types.ts";
import { whyWords } from "../words/refusals.ts";

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
  const keyOf = ({ hand, part, finger }: Refusal | Contact) => `${hand}${part}${finger ?? ""}`;
  const add = (refusal: Refusal) => {
    const key = keyOf(refusal);
    if (found.has(key)) return;
    const { finger, code, why } = refusal;
    found.set(key, { ...kindOf(refusal), ...(finger === undefined ? {} : { finger }), code, reason: whyWords(why) });
  };
  // What one way of holding the hand refuses another may have: then it is possible.
  const had = new Set(HANDS.flatMap((side) => contactsOn(problem.steps[at]![side], string).map(keyOf)));
  for (const refusal of [...shapes.fretting.refusals, ...shapes.picking.refusals]) if (refusal.string === string && !had.has(keyOf(refusal))) add(refusal);
  let freely: Window | null = null;
  for (const side of HANDS)
    for (const contact of contactsOn(problem.steps[at]![side], string)) {
      if (found.has(keyOf(contact)) || isUsed(contact)) continue;
      // Of a string that rings no contact holds it, whatever lies there.
      if (!rings && used.some((t) => t.part !== "press")) {
        add({ ...contact, code: "not-needed", why: ["not-needed"] });
        continue;
      }
      freely ??= planWindow(problem, at, null);
      add({ ...contact, ...priceOf(problem, at, side, contact, freely) });
    }
  return [...found.values()];
}

function contactsOn(shapes: readonly HandShape[], string: number): Contact[] {
  return shapes.flatMap((shape) => shape.contacts.filter((c) => c.string === string));
}

function priceOf(problem: Problem, at: number, side: "fretting" | "picking", contact: Contact, freely: Window | null): Pick<Refusal, "code" | "why"> {
  const has = (shape: HandShape) => shape.contacts.some((c) => c.string === contact.string && c.part === contact.part && c.finger === contact.finger);
  const step = problem.steps[at]!;
  const having = step[side].filter(has);
  const silences = step.struck | step.carried;
  if ((silences & bit(contact.string)) !== 0 && having.every((shape) => (shape.deadens & bit(contact.string)) === 0 && contact.narrow))
    return { code: "chimes", why: ["chimes"] };
  const forced = planWindow(problem, at, { ...step, [side]: having });
  if (forced === null || freely === null) return { code: "no-time", why: ["no-time"] };
  if (forced.cost.harm > freely.cost.harm) return { code: "would-choke", why: ["loses-palm"] };
  if (forced.cost.rushed > freely.cost.rushed) return { code: "no-time", why: ["too-late"] };
  if (forced.cost.stray > freely.cost.stray) return { code: "costlier", why: whatRings(forced.rings, freely.rings) };
  return { code: "costlier", why: whatWork(forced.cost, freely.cost) };
}

/** Which strings would ring that do not ring now. */
function whatRings(rings: ReadonlySet<number>, before: ReadonlySet<number>): Why {
  const ascending = (strings: Iterable<number>) => [...strings].sort((a, b) => a - b);
  const more = ascending(rings).filter((string) => !before.has(string));
  return more.length > 0 ? ["would-ring", ...more] : ["would-ring-on", ...ascending(rings)];
}

/** What it would cost the hands. */
function whatWork(forced: Cost, freely: Cost): Why {
  const more = forced.changes - freely.changes;
  if (more > 0) return ["more-changes", more];
  return forced.effort > freely.effort ? ["harder"] : ["no-better"];
}

/** The best plan of the steps around one: what it costs, and which strings ring astray in it. */
interface Window {
  cost: Cost;
  rings: ReadonlySet<number>;
}

/** With another version of that step, if there is one; null when no plan exists. */
function planWindow(problem: Problem, at: number, instead: ProblemStep | null): Window | null {
  const from = Math.max(0, at - WINDOW);
  const steps = problem.steps.slice(from, at + WINDOW + 1).map((step, i) => (from + i === at && instead ? instead : step));
  const path = planOf({ ...problem, steps });
  return path && { cost: path.cost, rings: ringingIn(steps, path) };
}

/** Strings that ring astray somewhere along a plan. */
function ringingIn(steps: readonly ProblemStep[], { chosen }: PlanPath): Set<number> {
  const rings = new Set<number>();
  let states: readonly number[] = steps[0]?.strings.map(() => 0) ?? [];
  steps.forEach((step, i) => {
    const mask = silenced(step, step.fretting[chosen[i]!.fretting]!, step.picking[chosen[i]!.picking]!);
    states = states.map((before, s) => {
      const stakes = step.strings[s]!;
      if ((mask & bit(s + 1)) !== 0) return 0;
      const state = stateAfter(stakes, before);
      if (stakes.cost[state]! > 0) rings.add(s + 1);
      return stateHandedOn(stakes, state);
    });
  });
  return rings;
}
