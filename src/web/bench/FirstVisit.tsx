import { useEffect, useState } from "react";
import type { PlanDocument } from "../../core/document/plan.ts";
import { heardStrays } from "../../core/document/plan.ts";

const KEY = "rest-hand:been-here";
/** Whoever does something else meanwhile is not led any longer. */
const LONG_ENOUGH_MS = 90_000;

/** On the first visit, one line that leads to the first stray ring and what takes it away; then never again. */
export function FirstVisit({ plan, atStray, onNextStray }: { plan: PlanDocument | null; atStray: boolean; onNextStray(): void }) {
  const [isOver, setOver] = useState(() => localStorage.getItem(KEY) !== null);
  const strays = plan ? heardStrays(plan).length : null;
  const [hadStrays, setHadStrays] = useState(false);
  useEffect(() => {
    if (strays) setHadStrays(true);
  }, [strays]);
  const isDone = isOver || (hadStrays && strays === 0);
  useEffect(() => {
    if (isDone) {
      localStorage.setItem(KEY, "yes");
      setOver(true);
      return;
    }
    const timer = setTimeout(() => setOver(true), LONG_ENOUGH_MS);
    return () => clearTimeout(timer);
  }, [isDone]);
  if (isDone || !strays) return null;
  // The keys go on in the score: this button is gone then.
  const goThere = () => {
    onNextStray();
    document.querySelector<HTMLElement>("[role=application]")?.focus();
  };
  return (
    <p role="status" className="border-b border-base-300 bg-base-200 px-5 py-2 text-lg" data-testid="first-visit">
      {atStray ? (
        "The wave rings and nobody asked for it. Space lets you hear it; below stands why, and what takes it away: Apply."
      ) : (
        <>
          Something rings here that should not.{" "}
          <button type="button" className="link font-bold" onClick={goThere}>
            Go to it
          </button>{" "}
          (N)
        </>
      )}
    </p>
  );
}
