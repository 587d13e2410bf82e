import type { ServerJob } from "../jobs/use-server-job.ts";
import { Running } from "../parts/Running.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf } from "../store/api.ts";

/** How far a job of the server is, with a way to stop it, or what went wrong. */
export function JobProgress({ job, says, onStop }: { job: ServerJob<unknown>; says: string; onStop(): void }) {
  if (job.state === "failed") return <Trouble {...troubleOf(job.error)} />;
  if (job.state !== "running") return null;
  const { progress } = job;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <span>{progress ? `${says}: ${progress.done} of ${progress.of}` : `${says} …`}</span>
      <Running progress={progress ?? { done: 0, of: 0 }} says={says} onStop={onStop} />
    </div>
  );
}
