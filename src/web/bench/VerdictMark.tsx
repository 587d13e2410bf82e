import { heardStrays, type Limit, type PlanDocument } from "../../core/verdict/document.ts";

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
  const strays = heardStrays(plan).length;
  return (
    <span className={`flex shrink-0 items-center gap-3 whitespace-nowrap ${pending ? "opacity-60" : ""}`}>
      {strays > 0 ? (
        <button type="button" className="btn btn-sm btn-error" onClick={onNextStray} title="To the next one (N)">
          {strays} stray ring{strays === 1 ? "" : "s"}
        </button>
      ) : (
        <span className="font-bold">Nothing rings astray</span>
      )}
      {plan.limits === undefined ? (
        <span className="quiet max-xl:hidden">limits …</span>
      ) : (
        <span className="max-xl:hidden" title={[plan.limits.hands, plan.limits.clean].map((limit) => limit?.says ?? "").join(" ")}>
          hands <b>{tempoOf(plan.limits.hands)}</b>, clean <b>{tempoOf(plan.limits.clean)}</b>
          {goalTempo !== null && <span className="max-2xl:hidden">, goal {goalTempo}</span>}
        </span>
      )}
      {plan.bottlenecks.length > 0 && <span className="font-bold">{plan.bottlenecks.length} rushed</span>}
      {plan.issues.length > 0 && <span className="font-bold">{plan.issues.length} not playable</span>}
    </span>
  );
}

/** A limit in a word: none at all, or 300 and more. */
function tempoOf(limit: Limit | null): string {
  if (limit === null) return "never";
  return limit.bar === undefined ? `${limit.tempo}+` : `${limit.tempo}`;
}
