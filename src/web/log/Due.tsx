import { addDays, endOfDay, format } from "date-fns";
import { Link } from "react-router";
import type { Standing } from "../../api/wire.ts";
import { dueBy } from "../../core/practice/progress.ts";
import { titleOf } from "../parts/title-of.ts";

/** So many days ahead it is said what comes. */
const AHEAD = 7;

/** What is due today, passage by passage, and what comes in the days after. */
export function Due({ standings, today }: { standings: readonly Standing[]; today: Date }) {
  const tonight = endOfDay(today).getTime();
  const due = standings.map((standing) => ({ standing, drills: dueBy(standing.drills, tonight) })).filter(({ drills }) => drills.length > 0);
  const coming = Array.from({ length: AHEAD }, (_, i) => {
    const day = addDays(endOfDay(today), i + 1);
    const many = standings.reduce(
      (sum, { drills }) => sum + drills.filter((one) => one.due <= day.getTime() && one.due > addDays(day, -1).getTime()).length,
      0,
    );
    return { day, many };
  }).filter(({ many }) => many > 0);
  return (
    <section aria-label="Due today">
      <h2 className="mb-2 text-xl font-bold">Due today</h2>
      {due.length === 0 && <p className="text-lg">Nothing is due today.</p>}
      <ul className="divide-y divide-base-300">
        {due.map(({ standing, drills }) => (
          <li key={standing.passage ?? standing.figure} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <b className="text-lg max-sm:w-full">{titleOf(standing)}</b>
            <span className="quiet min-w-60 flex-1">{drills.map(({ title }) => title).join(" · ")}</span>
            <Link
              to={standing.passage === null ? "/practice" : `/drills/${standing.passage}`}
              className="btn btn-sm"
              aria-label={`Practise ${titleOf(standing)}`}
            >
              Practise
            </Link>
          </li>
        ))}
      </ul>
      {coming.length > 0 && (
        <p className="quiet mt-2">Coming: {coming.map(({ day, many }) => `${format(day, "EEEE")} ${many} drill${many === 1 ? "" : "s"}`).join(", ")}.</p>
      )}
    </section>
  );
}
