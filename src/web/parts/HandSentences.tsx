import type { PlannedStep } from "../../core/verdict/document.ts";

/** What either hand does at a step, each beside its colour and kind of line; where nothing changes, that it goes on. */
export function HandSentences({ step, isFirst, className = "" }: { step: PlannedStep; isFirst: boolean; className?: string }) {
  return (
    <div className={`flex flex-col ${className}`}>
      <p className="border-l-[0.35em] pl-[0.7em]" style={{ borderColor: "var(--fretting)" }} data-testid="fretting-sentence">
        {step.fretting || (isFirst ? "Fretting hand: off the strings." : "Fretting hand: as before.")}
      </p>
      <p className="border-l-[0.35em] border-double pl-[0.7em]" style={{ borderColor: "var(--picking)" }} data-testid="picking-sentence">
        {step.picking || (isFirst ? "Picking hand: waits." : "Picking hand: as before.")}
      </p>
    </div>
  );
}
