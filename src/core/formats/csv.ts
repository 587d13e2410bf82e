import type { PlanDocument, TouchedBy } from "../document/plan.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Passage } from "../passage/schema.ts";
import { countOf } from "../timeline/counts.ts";
import { CAUSE_WORDS } from "../words/causes.ts";
import { contactLabel } from "../words/contacts.ts";
import { tableOf } from "./table.ts";

const COLUMNS = [
  "bar",
  "at",
  "count",
  "ms",
  "length_ms",
  "string",
  "intent",
  "state",
  "fretting",
  "picking",
  "aid",
  "undamped_db",
  "stray_db",
  "causes",
  "fretting_hand",
  "picking_hand",
] as const;

/** The plan as a table: a row per step and string, RFC 4180, with a head row. */
export function writeCsv(passage: Passage, plan: PlanDocument): string {
  const rows = plan.steps.flatMap((step) => {
    const bar = passage.bars[step.bar - 1]!;
    return step.strings.map((string) => {
      const by = (hand: TouchedBy["hand"]) =>
        string.touchedBy
          .filter((touch) => touch.hand === hand)
          .map(contactLabel)
          .join("; ");
      return [
        step.bar,
        step.at,
        countOf(ticksOf(step.at), bar),
        step.ms,
        step.lengthMs,
        string.string,
        string.intent,
        string.state,
        by("fretting"),
        by("picking"),
        by("aid"),
        string.undampedDb ?? "",
        string.strayDb ?? "",
        string.causes.map((cause) => CAUSE_WORDS[cause]).join("; "),
        step.fretting,
        step.picking,
      ];
    });
  });
  return tableOf(COLUMNS, rows);
}
