import type { PlanDocument, PlannedString } from "../../core/document/plan.ts";

/*
 * What the yardstick counts, read from plan documents and nothing else, so that every version of the planner can be judged.
 */

export interface Counts {
  passages: number;
  bars: number;
  steps: number;
  /** Quiet strings that a hand held at the step before and that both hands leave bare. */
  bare: number;
  /** Stray rings of `LOUD_DB` and more over the thresholds of commit e0eb02e. */
  loud: number;
  /** Contacts that were not there at the step before; presses are none. */
  contacts: number;
  /** Changes of a hand's posture that are gestures: nothing that comes with a press or a stroke. */
  gestures: number;
  /** Words that say what the hands do. */
  words: number;
}

const LOUD_DB = 10;

/** Audible thresholds of commit e0eb02e in dB; what another planner hears over other ones is counted over these. */
export const OLD_AUDIBLE_DB: Readonly<Record<string, number>> = { clean: -28, edge: -33, high: -45 };

/** Counts of one plan. `overOld` is how far its own threshold lies over the old one, in dB. */
export function countsOf(plan: PlanDocument, bars: number, overOld: number): Counts {
  let [bare, contacts, words] = [0, 0, 0];
  plan.steps.forEach((step, i) => {
    const before = plan.steps[i - 1]?.strings;
    step.strings.forEach((string, s) => {
      const was = before?.[s];
      if (string.intent === "quiet" && string.touchedBy.length === 0 && was && was.touchedBy.length > 0) bare++;
      const held = new Set(was ? contactsOf(was) : []);
      contacts += contactsOf(string).filter((contact) => !held.has(contact)).length;
    });
    words += wordsIn(step.fretting) + wordsIn(step.picking);
  });
  const loud = plan.strays.filter(({ db }) => db + overOld >= LOUD_DB).length;
  return { passages: 1, bars, steps: plan.steps.length, bare, loud, contacts, gestures: plan.cost.changes, words };
}

export function added(a: Counts, b: Counts): Counts {
  return Object.fromEntries(Object.keys(a).map((key) => [key, a[key as keyof Counts] + b[key as keyof Counts]])) as unknown as Counts;
}

export const NOTHING: Counts = { passages: 0, bars: 0, steps: 0, bare: 0, loud: 0, contacts: 0, gestures: 0, words: 0 };

function contactsOf({ touchedBy }: PlannedString): string[] {
  return touchedBy.filter(({ part }) => part !== "press").map(({ hand, part, finger }) => `${hand} ${part} ${finger ?? ""}`);
}

function wordsIn(sentence: string): number {
  return sentence.split(/\s+/).filter((word) => word !== "").length;
}
