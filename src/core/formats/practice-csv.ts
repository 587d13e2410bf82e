import type { PracticeSession } from "../practice/record.ts";
import { wrongIn } from "../practice/takes.ts";
import { tableOf } from "./table.ts";

const COLUMNS = ["session", "passage", "drill", "kind", "goal", "tempo", "clean", "at", "judged_by", "note"] as const;

/** What was practised as a table: a row per try and per take, moments as ISO 8601 in UTC; a session without any has one row. */
export function writePracticeCsv(sessions: readonly PracticeSession[]): string {
  const rows = sessions.flatMap(({ id, title, startedAt, drills, tries, takes, note }) => {
    if (tries.length + takes.length === 0) return [[id, title, "", "", "", "", "", startedAt, "", note]];
    const known = new Map(drills.map((drill) => [drill.id, drill]));
    const tried = tries.map(({ drill, tempo, clean, at, by }) => {
      const of = known.get(drill);
      return [id, title, of?.title ?? drill, of?.kind ?? "", of?.goal ?? "", tempo, clean ? "yes" : "no", at, by, note];
    });
    const taken = takes.map((take) => {
      const clean = wrongIn(take).length === 0 ? "yes" : "no";
      return [id, title, "", "take", take.written, take.played, clean, take.at, "microphone", take.says];
    });
    return [...tried, ...taken];
  });
  return tableOf(COLUMNS, rows);
}
