import { useEffect, useState } from "react";
import type { Passage } from "../../core/passage/schema.ts";
import type { HandFigures } from "../jobs/jobs.ts";
import { useJob } from "../jobs/use-job.ts";

/** Waited for before the hands are asked, in ms: arrows come in a row. */
const PAUSE_MS = 200;

/** What a change of the music does, told before it is made: what is known of it, then what the hands make of it. */
export function ToldBefore({ passage, bars, told }: { passage: Passage; bars: Passage["bars"]; told: readonly string[] }) {
  const { progress, failed, run, stop } = useJob();
  const [figures, setFigures] = useState<readonly HandFigures[] | null>(null);
  useEffect(() => {
    setFigures(null);
    stop();
    const waiting = setTimeout(() => run((jobs) => jobs.handFigures([passage, { ...passage, bars }]) as Promise<HandFigures[]>, setFigures), PAUSE_MS);
    return () => clearTimeout(waiting);
  }, [passage, bars, run, stop]);
  return (
    <ul className="mt-1 space-y-1">
      {told.map((says) => (
        <li key={says}>{says}</li>
      ))}
      <li>{failed ? `What the hands make of it could not be worked out: ${failed}` : figures ? handWords(figures) : progress ? "Asking the hands …" : ""}</li>
    </ul>
  );
}

/** What changes for the hands, in the whole passage. */
function handWords([before, then]: readonly HandFigures[]): string {
  if (!before || !then) return "";
  const said: string[] = [];
  if (before.strays !== then.strays) said.push(`stray rings ${before.strays} now, ${then.strays} then`);
  if (before.rushed !== then.rushed) said.push(`moves without time ${before.rushed} now, ${then.rushed} then`);
  if (before.gestures !== then.gestures) said.push(`changes of the hands a bar ${before.gestures} now, ${then.gestures} then`);
  return said.length === 0 ? "The hands do the same." : `${said.join("; ")}.`.replace(/^./, (letter) => letter.toUpperCase());
}
