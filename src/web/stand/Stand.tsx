import { X } from "lucide-react";
import { useEffect, useRef } from "react";
import type { PlanDocument, PlannedStep } from "../../core/document/plan.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { countOf } from "../../core/timeline/counts.ts";
import { HandSentences } from "../parts/HandSentences.tsx";
import { HandsPicture } from "../parts/HandsPicture.tsx";
import { useAwake } from "../parts/use-awake.ts";

/** Keys of page-turn pedals, and what a hand reaches. */
const NEXT = new Set(["PageDown", "ArrowRight", "ArrowDown", "Enter"]);
const BEFORE = new Set(["PageUp", "ArrowLeft", "ArrowUp", "Backspace"]);

/**
 * The plan on a music stand: the step that is played now and the one that comes, for both hands, legible from a metre
 * away. Follows the sound; a page-turn pedal goes on or back.
 */
export function Stand({
  passage,
  plan,
  index,
  heard,
  onStep,
  onListen,
  onClose,
}: {
  passage: Passage;
  plan: PlanDocument;
  /** The selected step. */
  index: number;
  /** The step that is heard, which goes before. */
  heard: number | null;
  onStep(index: number): void;
  onListen(): void;
  onClose(): void;
}) {
  const ref = useRef<HTMLDialogElement>(null);
  const now = Math.min(heard ?? index, plan.steps.length - 1);
  const step = plan.steps[now];
  const next = plan.steps[now + 1];
  useEffect(() => {
    const dialog = ref.current;
    if (dialog && !dialog.open) dialog.showModal();
    dialog?.focus();
  }, []);
  useAwake();

  const go = (by: number) => {
    const to = now + by;
    if (to >= 0 && to < plan.steps.length) onStep(to);
  };
  return (
    <dialog
      ref={ref}
      tabIndex={-1}
      className="m-0 h-full max-h-none w-full max-w-none bg-base-100 text-base-content"
      aria-label={`${passage.title} on the stand`}
      onClose={onClose}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (NEXT.has(event.key)) go(1);
        else if (BEFORE.has(event.key)) go(-1);
        else if (event.key === " ") onListen();
        else if (event.key === "Home") onStep(0);
        else return;
        event.preventDefault();
      }}
    >
      <div className="flex h-full flex-col gap-4 p-4 sm:p-6">
        <header className="flex items-center gap-6 text-2xl">
          <b className="mr-auto">{passage.title}</b>
          <span className="quiet hidden text-lg sm:inline">Space listens · pedal or arrows turn · Esc leaves</span>
          <button type="button" className="btn btn-ghost" onClick={() => ref.current?.close()}>
            <X aria-hidden /> Leave the stand
          </button>
        </header>
        {step ? (
          <div className="grid min-h-0 flex-1 content-start gap-5 overflow-auto lg:grid-cols-[2fr_1fr] lg:gap-8">
            {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what may scroll must be reachable by keys */}
            <section aria-label="Now" aria-live="polite" tabIndex={0} className="flex flex-col gap-3 lg:min-h-0 lg:gap-4 lg:overflow-auto">
              <h2 className="text-4xl font-bold tabular-nums sm:text-6xl">{placeWords(passage, step)}</h2>
              <HandsPicture step={step} className="w-full max-w-5xl" />
              <HandSentences step={step} isFirst={now === 0} atGlance className="gap-4 text-2xl leading-snug sm:text-5xl" />
              {step.strings.some((s) => s.state === "stray") && (
                <p className="text-3xl font-bold" style={{ color: "var(--stray)" }}>
                  String {step.strings.flatMap((s) => (s.state === "stray" ? [s.string] : [])).join(" and ")} rings astray.
                </p>
              )}
            </section>
            <section
              aria-label="Next"
              className="flex flex-col gap-3 border-base-300 max-lg:border-t max-lg:pt-4 lg:min-h-0 lg:gap-4 lg:overflow-auto lg:border-l lg:pl-8"
            >
              {next ? (
                <>
                  <h2 className="quiet text-2xl font-bold tabular-nums sm:text-4xl">then {placeWords(passage, next)}</h2>
                  <HandsPicture step={next} className="w-full max-w-xl" />
                  <HandSentences step={next} isFirst={false} atGlance className="gap-3 text-xl leading-snug sm:text-3xl" />
                </>
              ) : (
                <p className="quiet text-4xl">the end</p>
              )}
            </section>
          </div>
        ) : (
          <p className="text-3xl">Nothing is written yet.</p>
        )}
      </div>
    </dialog>
  );
}

function placeWords(passage: Passage, step: PlannedStep): string {
  const bar = passage.bars[step.bar - 1];
  return `bar ${step.bar}, ${bar ? countOf(ticksOf(step.at), bar) : step.at}`;
}
