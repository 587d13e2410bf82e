import type { PlanDocument } from "../../core/verdict/document.ts";

export interface VerdictMarkProps {
  plan: PlanDocument | null;
  pending: boolean;
  failed: string | null;
  goalTempo: number | null;
  onNextStray(): void;
}

/** How many stray rings are left; pressing it goes to the next one. */
export function VerdictMark({ plan, pending, failed, goalTempo, onNextStray }: VerdictMarkProps) {
  if (failed) return <span className="font-bold">The plan failed: {failed}. Undo the last change.</span>;
  if (!plan) return <span className="quiet">planning …</span>;
  return (
    <span className={`flex shrink-0 items-center gap-3 whitespace-nowrap ${pending ? "opacity-60" : ""}`}>
      {plan.strays.length > 0 ? (
        <button type="button" className="btn btn-sm btn-error" onClick={onNextStray} title="To the next one (N)">
          {plan.strays.length} stray ring{plan.strays.length === 1 ? "" : "s"}
        </button>
      ) : (
        <span className="font-bold">Nothing rings astray</span>
      )}
      {plan.ceilingTempo === undefined ? (
        <span className="quiet max-xl:hidden">ceiling …</span>
      ) : (
        plan.ceilingTempo !== null && (
          <span className="max-xl:hidden" title="The highest tempo at which nothing rings astray and no move is rushed">
            ceiling <b>{plan.ceilingTempo}</b>
            {goalTempo !== null && ` of ${goalTempo}`}
          </span>
        )
      )}
      {plan.bottlenecks.length > 0 && <span className="font-bold">{plan.bottlenecks.length} rushed</span>}
      {plan.issues.length > 0 && <span className="font-bold">{plan.issues.length} not playable</span>}
    </span>
  );
}
