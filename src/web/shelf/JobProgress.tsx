import type { ServerJob } from "../jobs/use-server-job.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf } from "../store/api.ts";

/** How far a job of the server is, with a way to stop it, or what went wrong. */
export function JobProgress({ job, says, onStop }: { job: ServerJob<unknown>; says: string; onStop(): void }) {
  if (job.state === "failed") return <Trouble {...troubleOf(job.error)} />;
  if (job.state !== "running") return null;
  const { progress } = job;
  return (
    <div role="status" className="flex flex-wrap items-center gap-3">
      <span>{progress ? `${says}: ${progress.done} of ${progress.of}` : `${says} …`}</span>
      <progress className="progress w-40" value={progress?.done} max={Math.max(1, progress?.of ?? 1)} aria-label={says} />
      <button type="button" className="btn btn-sm" onClick={onStop}>
        Stop
      </button>
    </div>
  );
}
