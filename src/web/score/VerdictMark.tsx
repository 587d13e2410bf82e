import { heardStrays, type Limit, type PlanDocument } from "../../core/document/plan.ts";
import { limitWords } from "../../core/words/limits.ts";

export interface VerdictMarkProps {
  plan: PlanDocument | null;
  pending: boolean;
  failed: string | null;
  goalTempo: number | null;
  /** The tempo at which the search for what stays clean is, when it takes long. */
  searching?: number | null;
  onNextStray(): void;
  /** To what gives out first beyond a limit. */
  onLimit?: (limit: Limit) => void;
}

/** How many stray rings are left; pressing it goes to the next one. */
export function VerdictMark({ plan, pending, failed, goalTempo, searching, onNextStray, onLimit }: VerdictMarkProps) {
  if (failed) return <span className="font-bold">The plan failed: {failed}. Undo the last change.</span>;
  if (!plan) return <span className="quiet">planning …</span>;
  const strays = heardStrays(plan).length;
  const { hands, clean } = plan.limits;
  return (
    <span className={`flex shrink-0 items-center gap-3 whitespace-nowrap ${pending ? "opacity-60" : ""}`}>
      {strays > 0 ? (
        <button type="button" className="btn btn-sm btn-error" onClick={onNextStray} title="To the next one (N)">
          {strays} stray ring{strays === 1 ? "" : "s"}
        </button>
      ) : (
        <span className="font-bold">Nothing rings astray</span>
      )}
      <span className="flex items-baseline gap-1 max-xl:hidden">
        <LimitMark name="hands" limit={hands} onLimit={onLimit} />
        {clean === undefined ? <span className="quiet">clean … {searching}</span> : <LimitMark name="clean" limit={clean} onLimit={onLimit} />}
        {goalTempo !== null && <span className="max-2xl:hidden">goal {goalTempo}</span>}
      </span>
      {plan.bottlenecks.length > 0 && <span className="font-bold">{plan.bottlenecks.length} rushed</span>}
      {plan.issues.length > 0 && <span className="font-bold">{plan.issues.length} not playable</span>}
    </span>
  );
}

/** Up to which tempo the hands keep up, or all is clean; pressed, it goes to what gives out first. */
function LimitMark({ name, limit, onLimit }: { name: string; limit: Limit | null; onLimit: ((limit: Limit) => void) | undefined }) {
  const tempo = (
    <>
      {name} <b>{limitWords(limit)}</b>
    </>
  );
  if (limit?.bar === undefined || !onLimit) return <span title={limit?.says}>{tempo}</span>;
  return (
    <button type="button" className="btn btn-ghost btn-sm px-1.5 text-base font-normal" title={limit.says} onClick={() => onLimit(limit)}>
      {tempo}
    </button>
  );
}
