import { TICKS_PER_WHOLE } from "../../music/ticks.ts";
import type { Rule } from "../../passage/schema.ts";
import type { Draft } from "../draft.ts";
import type { RuleReport } from "../report.ts";

/** Applies one kind of rule to bars of a draft and says what it did. Strokes in `kept` are there on purpose. */
export type RuleFor<K extends Rule["kind"]> = (
  draft: Draft,
  rule: Extract<Rule, { kind: K }>,
  bars: readonly number[],
  kept: ReadonlySet<string>,
) => RuleReport;

export const EIGHTH = TICKS_PER_WHOLE / 8;

export function report(changed: number, says: string, none = "Nothing to change here."): RuleReport {
  return { changed, says: changed > 0 ? says : none, clashes: [] };
}

export function times(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}
