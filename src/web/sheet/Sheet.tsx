import { Download, Printer } from "lucide-react";
import { useMemo, useState } from "react";
import { LEGEND_HEIGHT, legend, PAPERS, type Paper, sheetOf, sheetSvg } from "../../core/formats/sheet/sheet.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { Drawing } from "../parts/Drawing.tsx";
import { RadioQuestion } from "../parts/RadioQuestion.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { usePlan } from "../planner/use-plan.ts";

const ON_PAPER = "mb-4 break-inside-avoid [&>svg]:h-auto [&>svg]:max-w-full";
const OPTIONS = (Object.keys(PAPERS) as Paper[]).map((value) => ({ value, says: PAPERS[value].says }));

/** A printable page of the plan for the music stand, black on white; printing and saving as SVG. */
export function Sheet({ passage }: { passage: Passage }) {
  const { plan, of } = usePlan(passage);
  const [paper, setPaper] = useState<Paper>("a4");
  const systems = useMemo(() => (plan && of === passage ? sheetOf(passage, plan, paper) : null), [plan, of, passage, paper]);
  if (!plan || !systems) return <Waiting says="Drawing the sheet" />;
  const drawing = () => URL.createObjectURL(new Blob([sheetSvg(passage, plan, paper)], { type: "image/svg+xml" }));
  return (
    <div className={`sheet-${paper} h-full overflow-auto bg-base-200 p-4 print:bg-white print:p-0`}>
      <div className="mx-auto mb-4 flex max-w-3xl flex-wrap items-end gap-4 print:hidden">
        <RadioQuestion name="paper" asks="Paper" value={paper} options={OPTIONS} onChoose={(value) => setPaper(value)} />
        <button type="button" className="btn btn-primary ml-auto" onClick={() => print()}>
          <Printer size={18} aria-hidden /> Print
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            const link = document.createElement("a");
            link.href = drawing();
            link.download = `${passage.title.replace(/[\\/:*?"<>|]+/g, " ").trim() || "passage"}.svg`;
            link.click();
            setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
          }}
        >
          <Download size={18} aria-hidden /> Save as SVG
        </button>
      </div>
      <article
        className="mx-auto bg-white p-3 text-black sm:p-8 shadow print:p-0 print:shadow-none"
        style={{ width: PAPERS[paper].widthPx + 64, maxWidth: "100%" }}
        aria-label={`Sheet of ${passage.title}`}
      >
        <header className="mb-3 flex items-baseline justify-between">
          <h2 className="text-2xl font-bold">{passage.title}</h2>
          <span>
            {passage.tempo} bpm{plan.ceilingTempo ? `, clean and in time to ${plan.ceilingTempo}` : ""}
          </span>
        </header>
        {systems.map((system, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: systems have no other name
          <Drawing key={i} svg={system.svg} label={`Line ${i + 1}`} className={ON_PAPER} />
        ))}
        <Drawing
          svg={`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 680 ${LEGEND_HEIGHT}" width="680" height="${LEGEND_HEIGHT}">${legend()}</svg>`}
          label="What the signs mean"
          className={ON_PAPER}
        />
      </article>
    </div>
  );
}
