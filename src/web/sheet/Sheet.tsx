import { Download, Printer } from "lucide-react";
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import { legendSvg } from "../../core/formats/sheet/legend.ts";
import { PAPERS, type Paper, sheetOf, sheetSvg } from "../../core/formats/sheet/sheet.ts";
import type { System } from "../../core/formats/sheet/systems.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { limitsWords } from "../../core/words/limits.ts";
import { useLook } from "../look/look.tsx";
import { Drawing } from "../parts/Drawing.tsx";
import { download, fileName } from "../parts/download.ts";
import { RadioQuestion } from "../parts/RadioQuestion.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { usePlan } from "../planner/use-plan.ts";

const ON_PAPER = "mb-4 break-inside-avoid [&>svg]:h-auto [&>svg]:max-w-full";
const OPTIONS = (Object.keys(PAPERS) as Paper[]).map((value) => ({ value, says: PAPERS[value].says }));

/** A printable page of the plan for the music stand, black on white; printing and saving as SVG. */
export function Sheet({ passage }: { passage: Passage }) {
  const { plan, of } = usePlan(passage);
  const { look } = useLook();
  const [paper, setPaper] = useState<Paper>("a4");
  const { ref, widthPx } = useRoom();
  const paperPx = PAPERS[paper].widthPx;
  const systems = useMemo(() => (plan && of === passage ? sheetOf(passage, plan, paperPx, look.frets) : null), [plan, of, passage, paperPx, look]);
  // A narrow screen has lines of its own; paper always has the paper's.
  const narrow = useMemo(() => {
    const roomPx = Math.max(LEAST_ROOM, widthPx);
    return systems && plan && widthPx > 0 && roomPx < paperPx ? sheetOf(passage, plan, roomPx, look.frets) : null;
  }, [systems, plan, passage, widthPx, paperPx, look]);
  if (!plan || !systems) return <Waiting says="Drawing the sheet" />;
  const drawing = () => new Blob([sheetSvg(passage, plan, paper, look.frets)], { type: "image/svg+xml" });
  return (
    <div className={`sheet-${paper} h-full overflow-auto bg-base-200 p-4 print:bg-white print:p-0`}>
      <div className="mx-auto mb-4 flex max-w-3xl flex-wrap items-end gap-4 print:hidden">
        <RadioQuestion name="paper" asks="Paper" value={paper} options={OPTIONS} onChoose={(value) => setPaper(value)} />
        <button type="button" className="btn btn-primary ml-auto" onClick={() => print()}>
          <Printer size={18} aria-hidden /> Print
        </button>
        <button type="button" className="btn" onClick={() => download(drawing(), `${fileName(passage.title)}.svg`)}>
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
            {passage.tempo} bpm{`, ${limitsWords(plan.limits)}`}
          </span>
        </header>
        <div ref={ref}>
          <Lines systems={systems} widthPx={paperPx} className={narrow ? "hidden print:block" : ""} />
          {narrow && <Lines systems={narrow} widthPx={Math.max(LEAST_ROOM, widthPx)} className="print:hidden" />}
        </div>
      </article>
    </div>
  );
}

/** Narrower than this no line of music can be read. */
const LEAST_ROOM = 300;

/** Lines of music with what the signs mean under them. */
function Lines({ systems, widthPx, className }: { systems: readonly System[]; widthPx: number; className: string }) {
  return (
    <div className={className}>
      {systems.map((system, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: systems have no other name
        <Drawing key={i} svg={system.svg} label={`Line ${i + 1}`} className={ON_PAPER} />
      ))}
      <Drawing svg={legendSvg(widthPx)} label="What the signs mean" className={ON_PAPER} />
    </div>
  );
}

/** How wide there is room for lines on this screen; 0 until that is known. */
function useRoom() {
  const ref = useRef<HTMLDivElement>(null);
  const [widthPx, setWidth] = useState(0);
  useLayoutEffect(() => {
    const measure = () => {
      const wide = ref.current?.clientWidth ?? 0;
      if (wide > 0) setWidth(wide);
    };
    measure();
    addEventListener("resize", measure);
    return () => removeEventListener("resize", measure);
  });
  return { ref, widthPx };
}
