import type { PlannedStep } from "../../core/document/plan.ts";
import { glanceOf } from "../../core/words/actions.ts";

const HANDS = [
  { hand: "fretting", border: "", first: "Fretting hand: off the strings.", on: "Fretting hand: as before." },
  { hand: "picking", border: "border-double", first: "Picking hand: waits.", on: "Picking hand: as before." },
] as const;

/**
 * What either hand does at a step, each beside its colour and kind of line; where nothing changes, that it goes on. At a glance it
 * leaves out what the picture beside it shows.
 */
export function HandSentences({
  step,
  isFirst,
  atGlance = false,
  className = "",
}: {
  step: PlannedStep;
  isFirst: boolean;
  atGlance?: boolean;
  className?: string;
}) {
  return (
    <div className={`flex flex-col ${className}`}>
      {HANDS.map(({ hand, border, first, on }) => (
        <p key={hand} className={`border-l-[0.35em] pl-[0.7em] ${border}`} style={{ borderColor: `var(--${hand})` }} data-testid={`${hand}-sentence`}>
          {(atGlance ? glanceOf(step.actions, hand) : step[hand]) || (isFirst ? first : on)}
        </p>
      ))}
    </div>
  );
}
