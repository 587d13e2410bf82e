import type { PracticeSession } from "../practice/record.ts";
import { tableOf } from "./table.ts";

const COLUMNS = ["session", "passage", "drill", "kind", "goal", "tempo", "clean", "at", "judged_by", "note"] as const;

/** What was practised as a table: a row per try, moments as ISO 8601 in UTC; a session without a try has one row. */
export function writePracticeCsv(sessions: readonly PracticeSession[]): string {
  const rows = sessions.flatMap(({ id, title, startedAt, drills, tries, note }) => {
    if (tries.length === 0) return [[id, title, "", "", "", "", "", startedAt, "", note]];
    const known = new Map(drills.map((drill) => [drill.id, drill]));
    return tries.map(({ drill, tempo, clean, at, by }) => {
      const of = known.get(drill);
      return [id, title, of?.title ?? drill, of?.kind ?? "", of?.goal ?? "", tempo, clean ? "yes" : "no", at, by, note];
    });
  });
  return tableOf(COLUMNS, rows);
}
