import type { DrillPlan } from "../../core/drills/types.ts";

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"] as const;

/** The drills of a week on paper, with boxes to tick and room for the tempo reached; it is seen in print alone. */
export function PracticePage({ title, plan }: { title: string; plan: DrillPlan }) {
  return (
    <article className="hidden text-black print:block" aria-label={`Practice page of ${title}`}>
      <h1 className="mb-1 text-2xl font-bold">{title}</h1>
      <p className="mb-4">{plan.minutes} minutes a day. Write the highest clean tempo into the box.</p>
      <table className="w-full border-collapse">
        <thead>
          <tr>
            <th scope="col" className="text-left">
              Drill
            </th>
            {DAYS.map((day) => (
              <th key={day} scope="col" className="w-14 px-1 font-normal">
                {day}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {plan.drills.map((drill) => (
            <tr key={drill.id} className="break-inside-avoid border-t border-black align-top">
              <th scope="row" className="py-2 pr-3 text-left font-normal">
                <b>{drill.title}</b>, {drill.minutes} min, {drill.tempo.start} to {drill.tempo.goal}
                <br />
                {drill.does} <i>{drill.listensFor}</i>
              </th>
              {DAYS.map((day) => (
                <td key={day} className="px-1 py-2">
                  <span className="block h-10 w-full border border-black" />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-4 text-sm">Pain, numbness or tingling: stop, rest, and ask a doctor if it lasts.</p>
    </article>
  );
}
