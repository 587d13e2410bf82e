import type { PlanDocument } from "../../core/document/plan.ts";
import type { Passage, Treatment } from "../../core/passage/schema.ts";
import { FIGURES } from "./figures.ts";

interface Counted {
  treatment: Treatment | null;
  name: string;
  passage: Passage;
}

/** The figures of every version; those that differ from what is written stand out. */
export function FiguresTable({ versions, plans }: { versions: readonly Counted[]; plans: readonly (PlanDocument | null)[] }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls sideways, by keys as well
    <section className="overflow-x-auto" tabIndex={0} aria-label="Figures of all versions">
      <table className="table table-sm w-auto text-base" data-testid="figures">
        <thead>
          <tr className="text-base-content">
            <th scope="col" />
            {FIGURES.map(({ title }) => (
              <th key={title} scope="col" className="text-right font-normal whitespace-nowrap">
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {versions.map((version, i) => (
            <tr key={version.treatment?.id ?? "main"}>
              <th scope="row" className="whitespace-nowrap">
                {i + 1} {version.name}
              </th>
              {FIGURES.map(({ title, of }) => {
                const [plan, main] = [plans[i], plans[0]];
                const figure = plan ? of(version.passage, plan) : undefined;
                const written = main ? of(versions[0]!.passage, main) : undefined;
                return (
                  <td key={title} className={`text-right tabular-nums ${figure !== written ? "font-bold" : "quiet"}`}>
                    {figure ?? "…"}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
